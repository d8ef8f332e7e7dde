import { log } from '../exact/exactMath.ts';
import { plantForest } from './forest.ts';
import { CALIBRATION, FIRST_TREES, TREES } from './gapTrees.ts';
import { SIGNS } from './gapSigns.ts';
import { RIVAL_SIGNS } from './rivalSigns.ts';

/** What is known of all openings between two cells together; lengths in px. */
export interface OpeningFacts {
  /** Sum of the openings' widths. */
  readonly open: number;
  /** Border between the cells that is inked. */
  readonly inked: number;
  /** Share of the open width that touches hatching, 0..1. */
  readonly texture: number;
  /** Mean of the cuts' signs, and of what is known of their rivals, weighted by their widths. */
  readonly signs: ArrayLike<number>;
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
export const TERMS = [
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
  ...SIGNS,
  ...RIVAL_SIGNS,
] as const;

/** Where the signs begin, and the rivals behind them. */
const FIRST_SIGN = TERMS.length - SIGNS.length - RIVAL_SIGNS.length;

/** @param terms are written over. @returns `terms`. */
export function termsOf(
  facts: OpeningFacts,
  lineWidthPx: number,
  limitPx: number,
  terms = new Float64Array(TERMS.length),
): Float64Array {
  const { open, inked, areaPx, allOpen, signs } = facts;
  const r = Math.max(0.5, facts.radiusPx);
  const soft = 0.3 * lineWidthPx;
  const lineArea = lineWidthPx * lineWidthPx;
  terms[0] = 1;
  terms[1] = log(open / (2 * r));
  terms[2] = log((open + soft) / (open + inked + soft));
  terms[3] = log(Math.max(1, areaPx) / lineArea);
  terms[4] = facts.texture;
  terms[5] = log(open / lineWidthPx);
  terms[6] = log(Math.max(1, areaPx) / (r * r));
  terms[7] = log(r / lineWidthPx);
  terms[8] = log((allOpen + open) / (2 * open));
  terms[9] = log(facts.neighbours);
  terms[10] = log(Math.max(1, facts.otherAreaPx) / lineArea);
  terms[11] = limitPx / lineWidthPx;
  terms[12] = log((inked + soft) / lineWidthPx);
  terms[13] = log((facts.wallsPx + soft) / (facts.wallsPx + allOpen + soft));
  for (let k = 0; k < signs.length; k++) terms[FIRST_SIGN + k] = signs[k]!;
  return terms;
}

/** What openings are rated by at first, and once it is known how all others were. */
export const FIRST_FOREST = plantForest(FIRST_TREES);
export const OWN_FOREST = plantForest(TREES);
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

function scoreAt(confidence: number): number {
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
