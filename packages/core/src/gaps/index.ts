// For benchmarks and fitting: the steps of gap finding one by one.
export * from './cells/mergeCells.ts';
export type { Scoring } from './cells/mergeComponent.ts';
export * from '../trees/forest.ts';
export * from './cells/rateOpening.ts';
export * from './cells/rateOutline.ts';
export * from './spaces/absorbTexture.ts';
export * from './spaces/rateTexture.ts';
