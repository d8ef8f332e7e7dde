import { log } from '../../exact/exactMath.ts';
import type { Cut } from '../../model/Cut.ts';

/**
 * What is known of a cut once all have been rated: a stroke that stops at one gap does not stop at another one as well.
 *
 * - first: how it was rated itself
 * - rival, secondRival: the best rated other cut at the one end, and at the other; the higher first
 * - wider: its width by that of the rival, as a logarithm; 0 without one
 */
export const RIVAL_FEATURES = ['first', 'rival', 'secondRival', 'wider'] as const;
const COUNT = RIVAL_FEATURES.length;
/** What was rated lower is no rival. */
const NO_RIVAL = -6;
/** Cuts have an end in common within so many line widths. */
const SAME_END = 1.5;
/** More than a page has squares in a column. */
const SQUARES = 1 << 20;

/** What rivals are looked for in. */
interface Rivals {
  /** `[x, y]` of both ends of each cut. */
  readonly ends: Float64Array;
  /** Ends by the square they lie in. */
  readonly squares: ReadonlyMap<number, readonly number[]>;
  readonly pairOf: readonly number[];
  readonly scoreOfPair: Float64Array;
  readonly reach: number;
}

/**
 * The features of every cut, a row of {@link RIVAL_FEATURES} each.
 *
 * @param pairOf of each cut the pair of cells it parts: those of one pair are no rivals.
 * @param scoreOfPair how each pair was rated, NaN where it was not.
 */
export function rivalFeatures(
  cuts: readonly Cut[],
  pairOf: readonly number[],
  scoreOfPair: Float64Array,
  lineWidthPx: number,
): Float64Array {
  const reach = SAME_END * lineWidthPx;
  const ends = new Float64Array(4 * cuts.length);
  const squares = new Map<number, number[]>();
  for (let cut = 0; cut < cuts.length; cut++) {
    const { from, to } = cuts[cut]!;
    addEnd(ends, squares, 2 * cut, from[0], from[1], reach);
    addEnd(ends, squares, 2 * cut + 1, to[0], to[1], reach);
  }
  const rivals = { ends, squares, pairOf, scoreOfPair, reach };
  const features = new Float64Array(COUNT * cuts.length);
  for (let cut = 0; cut < cuts.length; cut++) featuresOfCut(rivals, cuts, cut, features);
  return features;
}

function addEnd(
  ends: Float64Array,
  squares: Map<number, number[]>,
  end: number,
  x: number,
  y: number,
  reach: number,
): void {
  ends[2 * end] = x;
  ends[2 * end + 1] = y;
  const square = Math.floor(x / reach) * SQUARES + Math.floor(y / reach);
  const there = squares.get(square);
  if (there === undefined) squares.set(square, [end]);
  else there.push(end);
}

/** @param features its row is set. */
function featuresOfCut(rivals: Rivals, cuts: readonly Cut[], cut: number, features: Float64Array): void {
  const one = rivalAt(rivals, 2 * cut);
  const two = rivalAt(rivals, 2 * cut + 1);
  const [oneScore, twoScore] = [scoreOf(rivals, one), scoreOf(rivals, two)];
  const rival = oneScore >= twoScore ? one : two;
  const at = COUNT * cut;
  features[at] = scoreOf(rivals, cut);
  features[at + 1] = Math.max(oneScore, twoScore);
  features[at + 2] = Math.min(oneScore, twoScore);
  features[at + 3] = rival < 0 ? 0 : log(cuts[cut]!.widthPx / cuts[rival]!.widthPx);
}

/** @param cut -1 for none. */
function scoreOf({ pairOf, scoreOfPair }: Rivals, cut: number): number {
  if (cut < 0) return NO_RIVAL;
  const score = scoreOfPair[pairOf[cut]!]!;
  return score > NO_RIVAL ? score : NO_RIVAL;
}

/** The best rated other cut at an end, -1 for none. */
function rivalAt(rivals: Rivals, end: number): number {
  const { ends, squares, pairOf, reach } = rivals;
  const x = ends[2 * end]!;
  const y = ends[2 * end + 1]!;
  const own = pairOf[end >> 1];
  const left = Math.floor(x / reach) - 1;
  const top = Math.floor(y / reach) - 1;
  let best = NO_RIVAL;
  let found = -1;
  for (let square = 0; square < 9; square++) {
    const there = squares.get((left + (square % 3)) * SQUARES + top + Math.floor(square / 3));
    if (there === undefined) continue;
    for (let k = 0; k < there.length; k++) {
      const other = there[k]!;
      const cut = other >> 1;
      const dx = ends[2 * other]! - x;
      const dy = ends[2 * other + 1]! - y;
      if (pairOf[cut] === own || dx * dx + dy * dy > reach * reach) continue;
      const score = scoreOf(rivals, cut);
      if (score <= best) continue;
      best = score;
      found = cut;
    }
  }
  return found;
}
