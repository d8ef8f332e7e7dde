export * from './scanSheet.ts';
