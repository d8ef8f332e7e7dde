import Flatbush from 'flatbush';
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

/** What rivals are looked for in. */
interface Rivals {
  /** `[x, y]` of both ends of each cut. */
  readonly ends: Float64Array;
  /** Ends by where they lie. */
  readonly index: Flatbush;
  readonly pairOf: readonly number[];
  /** 1 for chords of open outlines: they are no rivals of gaps. */
  readonly isOutline: Uint8Array;
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
  const features = new Float64Array(COUNT * cuts.length);
  if (cuts.length === 0) return features;
  const ends = new Float64Array(4 * cuts.length);
  const index = new Flatbush(2 * cuts.length);
  for (let cut = 0; cut < cuts.length; cut++) {
    const { from, to } = cuts[cut]!;
    ends.set([...from, ...to], 4 * cut);
    index.add(...from);
    index.add(...to);
  }
  index.finish();
  const isOutline = Uint8Array.from(cuts, ({ kind }) => (kind === 'outline' ? 1 : 0));
  const rivals = { ends, index, pairOf, isOutline, scoreOfPair, reach: SAME_END * lineWidthPx };
  for (let cut = 0; cut < cuts.length; cut++) featuresOfCut(rivals, cuts, cut, features);
  return features;
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

/** The best rated other cut at an end, -1 for none; of those rated the same, the first. */
function rivalAt(rivals: Rivals, end: number): number {
  const { ends, index, pairOf, isOutline, reach } = rivals;
  const x = ends[2 * end]!;
  const y = ends[2 * end + 1]!;
  const own = pairOf[end >> 1];
  let best = NO_RIVAL;
  let found = -1;
  index.search(x - reach, y - reach, x + reach, y + reach, (other) => {
    const cut = other >> 1;
    const dx = ends[2 * other]! - x;
    const dy = ends[2 * other + 1]! - y;
    if (pairOf[cut] === own || isOutline[cut] === 1 || dx * dx + dy * dy > reach * reach) return false;
    const score = scoreOf(rivals, cut);
    if (score > best || (score === best && cut < found)) {
      best = score;
      found = cut;
    }
    return false;
  });
  return found;
}
