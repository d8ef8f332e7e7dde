// For benchmarks and fitting: the steps of gap finding one by one.
export * from './mergeCells.ts';
export type { Scoring } from './mergePart.ts';
export * from './forest.ts';
export * from './rateOpening.ts';
export * from './absorbTexture.ts';
export * from './rateTexture.ts';
