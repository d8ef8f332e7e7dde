import { exp, log } from '../../exact/exactMath.ts';
import { STROKE_FEATURES } from '../proposals/strokeFeatures.ts';
import { BOUNDS_SCORE, confidenceOf, scoreAt, type OpeningFacts } from './rateOpening.ts';
import { RIVAL_FEATURES } from './rivalFeatures.ts';

/**
 * What the chord across an open outline is rated by; the shape is the smaller of what it would part.
 *
 * - base: 1
 * - width: of the chord, in line widths, as a logarithm
 * - filled: area of the shape by the square of the chord, as a logarithm: a strip along the chord has little
 * - compact: area of the shape by the square of its largest circle's radius, as a logarithm
 * - walled: how much of the shape's border is ink, as a logarithm
 * - other: area of what lies before the chord by that of the shape, as a logarithm
 * - end, secondEnd: how much the strokes at both sides say that a line stops
 * - converging, slant: whether the strokes run towards each other; how unlike each other they leave the chord
 * - together: how far they run the same way
 * - parallel, around: ends beside them that look the same way, and any ends
 * - onePiece: 1 where their ink hangs together
 * - rival: confidence of the best other closure at one of its ends
 */
export const OUTLINE_FEATURES = [
  'base',
  'width',
  'filled',
  'compact',
  'walled',
  'other',
  'end',
  'secondEnd',
  'converging',
  'slant',
  'together',
  'parallel',
  'around',
  'onePiece',
  'rival',
] as const;

/**
 * Fitted on generated drawings by `node --import tsx bench/src/gaps/fitOutlines.ts`, which writes what to put here, while
 * lines that run off the page were still proposed: they taught it to keep strokes apart that merely stand side by side.
 */
export const OUTLINE_WEIGHTS: readonly number[] = [
  -2.437, 1.512, 1.244, -0.02, 1.529, -0.173, -0.413, 0.725, 1.478, -1.63, -1.201, 0.057, 0.289, 1.328, -1.003,
];

const FIRST_RIVAL = STROKE_FEATURES.length;
const at = (feature: (typeof STROKE_FEATURES)[number]): number => STROKE_FEATURES.indexOf(feature);
const [END, SECOND_END, AIM, STRAIGHTEST, FACING, PARALLEL, AROUND, ONE_PIECE] = [
  at('end'),
  at('secondEnd'),
  at('aim'),
  at('straightest'),
  at('facing'),
  at('parallel'),
  at('around'),
  at('onePiece'),
];
const RIVAL = FIRST_RIVAL + RIVAL_FEATURES.indexOf('rival');

/** @param facts of the chord: `open` is its length, and `strokeFeatures` those of its ends and rivals. */
export function outlineFeaturesOf(facts: OpeningFacts, lineWidthPx: number): Float64Array {
  const { open, areaPx, strokeFeatures: of } = facts;
  const r = Math.max(0.5, facts.radiusPx);
  const area = Math.max(1, areaPx);
  const aim = of[AIM]!;
  const straightest = of[STRAIGHTEST]!;
  return Float64Array.of(
    1,
    log(open / lineWidthPx),
    Math.max(-4, Math.min(3, log(area / (open * open)))),
    log(area / (r * r)),
    log((facts.wallsPx + lineWidthPx) / (facts.wallsPx + open + facts.allOpen + lineWidthPx)),
    Math.min(4, log(Math.max(1, facts.otherAreaPx) / area)),
    of[END]!,
    of[SECOND_END]!,
    (aim + straightest) / 2,
    straightest - aim,
    -of[FACING]!,
    of[PARALLEL]!,
    of[AROUND]!,
    of[ONE_PIECE]!,
    confidenceOf(of[RIVAL]!),
  );
}

/** The score of an open outline's chord, on the scale of all closures. @param boundsScore from which on those bound. */
export function rateOutline(features: Float64Array, boundsScore: number, weights = OUTLINE_WEIGHTS): number {
  let sum = 0;
  for (let k = 0; k < features.length; k++) sum += features[k]! * weights[k]!;
  const confidence = 1 / (1 + exp(-sum));
  return Math.round(1e6 * (scoreAt(confidence) + boundsScore - BOUNDS_SCORE)) / 1e6;
}
