export * from './castOfDemo.ts';
export * from './renderPage.ts';
export type { DeliberateGap } from './Drawing.ts';
export * from './seed.ts';
export * from './truthFills.ts';
