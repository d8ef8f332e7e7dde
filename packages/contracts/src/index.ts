export * from './edits.ts';
export * from './handoffs.ts';
export * from './jobs.ts';
export * from './problems.ts';
export * from './scanner.ts';
export * from './desk.ts';
