import { log } from '../exact/exactMath.ts';
import type { Cut } from './Cut.ts';

/**
 * What is known of a cut once all have been rated: a stroke that stops at one gap does not stop at another one as well.
 *
 * - first: how it was rated itself
 * - rival, secondRival: the best rated other cut at the one end, and at the other; the higher first
 * - wider: its width by that of the rival, as a logarithm; 0 without one
 */
export const RIVAL_SIGNS = ['first', 'rival', 'secondRival', 'wider'] as const;
const COUNT = RIVAL_SIGNS.length;
/** What was rated lower is no rival. */
const NO_RIVAL = -6;
/** Cuts have an end in common within so many line widths. */
const SAME_END = 1.5;
/** More than a page has squares in a column. */
const SQUARES = 1 << 20;

interface Rival {
  readonly score: number;
  /** -1 for none. */
  readonly cut: number;
}

/**
 * The signs of every cut, a row of {@link RIVAL_SIGNS} each.
 *
 * @param pairOf of each cut the pair of cells it parts: those of one pair are no rivals.
 * @param scoreOfPair how each pair was rated, NaN where it was not.
 */
export function rivalSigns(
  cuts: readonly Cut[],
  pairOf: readonly number[],
  scoreOfPair: Float64Array,
  lineWidthPx: number,
): Float64Array {
  const reach = SAME_END * lineWidthPx;
  // Of each cut both ends, by the square they lie in.
  const ends = cuts.flatMap(({ from, to }) => [from, to]);
  const squares = new Map<number, number[]>();
  ends.forEach(([x, y], end) => {
    const square = Math.floor(x / reach) * SQUARES + Math.floor(y / reach);
    const there = squares.get(square);
    if (there === undefined) squares.set(square, [end]);
    else there.push(end);
  });
  const scoreOf = (cut: number): number => {
    const score = scoreOfPair[pairOf[cut]!]!;
    return score > NO_RIVAL ? score : NO_RIVAL;
  };
  const rivalAt = (end: number): Rival => {
    const [x, y] = ends[end]!;
    const own = pairOf[end >> 1];
    const [left, top] = [Math.floor(x / reach) - 1, Math.floor(y / reach) - 1];
    let best: Rival = { score: NO_RIVAL, cut: -1 };
    for (let square = 0; square < 9; square++) {
      const there = squares.get((left + (square % 3)) * SQUARES + top + Math.floor(square / 3));
      for (const other of there ?? []) {
        const cut = other >> 1;
        const [dx, dy] = [ends[other]![0] - x, ends[other]![1] - y];
        if (pairOf[cut] === own || dx * dx + dy * dy > reach * reach || scoreOf(cut) <= best.score) continue;
        best = { score: scoreOf(cut), cut };
      }
    }
    return best;
  };
  const signs = new Float64Array(COUNT * cuts.length);
  cuts.forEach(({ widthPx }, cut) => {
    const [one, two] = [rivalAt(2 * cut), rivalAt(2 * cut + 1)];
    const [rival, second] = one.score >= two.score ? [one, two] : [two, one];
    const wider = rival.cut < 0 ? 0 : log(widthPx / cuts[rival.cut]!.widthPx);
    signs.set([scoreOf(cut), rival.score, second.score, wider], COUNT * cut);
  });
  return signs;
}
