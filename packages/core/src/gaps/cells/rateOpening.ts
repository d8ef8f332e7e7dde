import { log } from '../../exact/exactMath.ts';
import { compileForest } from '../../trees/forest.ts';
import { CALIBRATION, FIRST_TREES, TREES } from './gapTrees.ts';
import { STROKE_FEATURES } from '../proposals/strokeFeatures.ts';
import { RIVAL_FEATURES } from './rivalFeatures.ts';

/** What is known of all openings between two cells together; lengths in px. */
export interface OpeningFacts {
  /** Sum of the openings' widths. */
  readonly open: number;
  /** Border between the cells that is inked. */
  readonly inked: number;
  /** Share of the open width that touches hatching, 0..1. */
  readonly texture: number;
  /** Mean of the cuts' features, and of what is known of their rivals, weighted by their widths. */
  readonly strokeFeatures: ArrayLike<number>;
  /** Of the smaller cell. */
  readonly areaPx: number;
  readonly radiusPx: number;
  /** Sum of the widths of all openings of it. */
  readonly allOpen: number;
  /** How many cells it has openings to. */
  readonly neighbours: number;
  /** Area of the larger cell. */
  readonly otherAreaPx: number;
  /** Inked border of the smaller cell to all others. */
  readonly wallsPx: number;
}

/**
 * What an opening is rated by. What decides is how much of the common border is inked, whether a stroke
 * ends at the gap and how, and what the smaller cell is like: a sliver, a bay, a shape.
 */
export const OPENING_FEATURES = [
  'base',
  'narrow',
  'inkedShare',
  'area',
  'texture',
  'width',
  'compact',
  'radius',
  'otherOpen',
  'neighbours',
  'otherArea',
  'limit',
  'inked',
  'walled',
  ...STROKE_FEATURES,
  ...RIVAL_FEATURES,
] as const;

/** Where the features begin, and the rivals behind them. */
const FIRST_STROKE_FEATURE = OPENING_FEATURES.length - STROKE_FEATURES.length - RIVAL_FEATURES.length;

/** @param features are written over. @returns `features`. */
export function featuresOf(
  facts: OpeningFacts,
  lineWidthPx: number,
  limitPx: number,
  features = new Float64Array(OPENING_FEATURES.length),
): Float64Array {
  const { open, inked, areaPx, allOpen, strokeFeatures } = facts;
  const r = Math.max(0.5, facts.radiusPx);
  const soft = 0.3 * lineWidthPx;
  const lineArea = lineWidthPx * lineWidthPx;
  features[0] = 1;
  features[1] = log(open / (2 * r));
  features[2] = log((open + soft) / (open + inked + soft));
  features[3] = log(Math.max(1, areaPx) / lineArea);
  features[4] = facts.texture;
  features[5] = log(open / lineWidthPx);
  features[6] = log(Math.max(1, areaPx) / (r * r));
  features[7] = log(r / lineWidthPx);
  features[8] = log((allOpen + open) / (2 * open));
  features[9] = log(facts.neighbours);
  features[10] = log(Math.max(1, facts.otherAreaPx) / lineArea);
  features[11] = limitPx / lineWidthPx;
  features[12] = log((inked + soft) / lineWidthPx);
  features[13] = log((facts.wallsPx + soft) / (facts.wallsPx + allOpen + soft));
  for (let k = 0; k < strokeFeatures.length; k++) features[FIRST_STROKE_FEATURE + k] = strokeFeatures[k]!;
  return features;
}

/** What openings are rated by at first, and once it is known how all others were. */
export const FIRST_FOREST = compileForest(FIRST_TREES);
export const OWN_FOREST = compileForest(TREES);
/** From this score on an opening stays closed at first, so that others can be seen beside it. */
export const FIRST_BOUNDS_SCORE = -1.27;

/**
 * From this confidence on a closure bounds regions until someone rules otherwise. A wrong one costs a click, a missing
 * one a leak; of those between .22 and this, on generated drawings, about three in four are wrong.
 */
export const BOUNDS_FROM = 0.4;
/** From this confidence on a closure need not be looked at. */
export const SURE_FROM = 0.7;

/** The confidence at a score: the share of closures found right there, straight in between. */
export function confidenceOf(score: number): number {
  return Math.round(1000 * interpolate(CALIBRATION, score)) / 1000;
}

/** The score at a confidence. */
export function scoreAt(confidence: number): number {
  return interpolate(
    CALIBRATION.map(([score, value]) => [value, score] as const),
    confidence,
  );
}

function interpolate(knots: readonly (readonly [number, number])[], at: number): number {
  const next = knots.findIndex(([x]) => x > at);
  if (next === 0) return knots[0]![1];
  if (next < 0) return knots.at(-1)![1];
  const [[x0, y0], [x1, y1]] = [knots[next - 1]!, knots[next]!];
  return y0 + ((y1 - y0) * (at - x0)) / (x1 - x0);
}

/** The score at a confidence of {@link BOUNDS_FROM}. */
export const BOUNDS_SCORE = Math.round(1e6 * scoreAt(BOUNDS_FROM)) / 1e6;
