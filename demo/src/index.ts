export * from './castOfDemo.ts';
export * from './renderPage.ts';
export { Drawing, type DeliberateGap } from './Drawing.ts';
export { balloon, letter } from './lettering.ts';
export { curve, ellipse, line, makeRandom, place, rectangle, type Frame, type Point } from './geometry.ts';
export * from './seed.ts';
export * from './truthFills.ts';
