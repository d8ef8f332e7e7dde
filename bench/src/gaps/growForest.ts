import type { Sample } from '../fitLogistic.ts';

export interface GrowOptions {
  readonly trees: number;
  /** Share of each tree that is taken over. */
  readonly rate: number;
  /** Fewest samples in a leaf. */
  readonly leastInLeaf: number;
}

/** Thresholds tried for each term, at quantiles. */
const THRESHOLDS = 32;
const DEPTH = 3;
/** Holds the leaves of few samples back. */
const RIDGE = 1;

/**
 * Boosts trees of three levels by the logistic loss (Friedman 2001, with the second-order leaves of
 * Chen and Guestrin 2016). The first term is constant: its tree holds the overall share.
 *
 * @returns rows of 7 terms, 7 thresholds and 8 leaves, for `plantForest`.
 */
export function growForest(samples: readonly Sample[], { trees, rate, leastInLeaf }: GrowOptions): number[][] {
  const count = samples.length;
  const termCount = samples[0]!.terms.length;
  const thresholds = Array.from({ length: termCount }, (_, term) => {
    const values = samples.map(({ terms }) => terms[term]!).sort((a, b) => a - b);
    const cuts = new Set<number>();
    for (let k = 1; k < THRESHOLDS; k++) cuts.add(rounded(values[Math.floor((k * count) / THRESHOLDS)]!));
    return [...cuts].sort((a, b) => a - b);
  });
  /** For each sample and term how many thresholds it reaches. */
  const bins = samples.map(({ terms }) =>
    Uint8Array.from(terms, (value, term) => thresholds[term]!.filter((from) => value >= from).length),
  );
  const total = samples.reduce((sum, { weight }) => sum + weight, 0);
  const positive = samples.reduce((sum, { weight, right }) => sum + (right ? weight : 0), 0);
  const base = rounded(Math.log(positive / (total - positive)));
  const score = new Float64Array(count).fill(base);
  const gradient = new Float64Array(count);
  const curvature = new Float64Array(count);
  const forest = [[...Array<number>(14).fill(0), ...Array<number>(8).fill(base)]];

  const bestSplit = (members: readonly number[]): { term: number; bin: number } | null => {
    let [g, h] = [0, 0];
    for (const k of members) {
      g += gradient[k]!;
      h += curvature[k]!;
    }
    let best = 1e-3;
    let split: { term: number; bin: number } | null = null;
    for (let term = 1; term < termCount; term++) {
      const size = thresholds[term]!.length + 1;
      const [gs, hs, inBin] = [new Float64Array(size), new Float64Array(size), new Int32Array(size)];
      for (const k of members) {
        const bin = bins[k]![term]!;
        gs[bin]! += gradient[k]!;
        hs[bin]! += curvature[k]!;
        inBin[bin]!++;
      }
      let [left, leftH, below] = [0, 0, 0];
      for (let bin = 0; bin + 1 < size; bin++) {
        left += gs[bin]!;
        leftH += hs[bin]!;
        below += inBin[bin]!;
        if (below < leastInLeaf || members.length - below < leastInLeaf) continue;
        const gain =
          (left * left) / (leftH + RIDGE) + ((g - left) * (g - left)) / (h - leftH + RIDGE) - (g * g) / (h + RIDGE);
        if (gain > best) {
          best = gain;
          split = { term, bin };
        }
      }
    }
    return split;
  };

  for (let n = 0; n < trees; n++) {
    samples.forEach(({ right, weight }, k) => {
      const p = 1 / (1 + Math.exp(-score[k]!));
      gradient[k] = weight * ((right ? 1 : 0) - p);
      curvature[k] = weight * p * (1 - p);
    });
    const tree = Array<number>(22).fill(0);
    const grow = (node: number, level: number, members: readonly number[]): void => {
      if (level === DEPTH) {
        const g = members.reduce((sum, k) => sum + gradient[k]!, 0);
        const h = members.reduce((sum, k) => sum + curvature[k]!, 0);
        const worth = rounded((rate * g) / (h + RIDGE));
        tree[14 + node - 7] = worth;
        for (const k of members) score[k]! += worth;
        return;
      }
      const split = members.length < 2 * leastInLeaf ? null : bestSplit(members);
      // Without a split all go right: the constant term reaches any threshold of 0.
      const { term, from, bin } =
        split === null
          ? { term: 0, from: 0, bin: -1 }
          : { term: split.term, from: thresholds[split.term]![split.bin]!, bin: split.bin };
      tree[node] = term;
      tree[7 + node] = from;
      const goesLeft = (k: number): boolean => split !== null && bins[k]![term]! <= bin;
      grow(2 * node + 1, level + 1, members.filter(goesLeft));
      grow(
        2 * node + 2,
        level + 1,
        members.filter((k) => !goesLeft(k)),
      );
    };
    grow(0, 0, Array.from(samples.keys()));
    forest.push(tree);
  }
  return forest;
}

/** Four digits are enough, and shorter to keep. */
function rounded(value: number): number {
  return Math.round(value * 1e4) / 1e4;
}
