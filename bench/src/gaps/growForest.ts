import { makeRandom } from '@jumble/demo';
import type { Sample } from '../fitLogistic.ts';

export interface GrowOptions {
  readonly trees: number;
  /** Share of each tree that is taken over. */
  readonly rate: number;
  /** Fewest samples in a leaf. */
  readonly leastInLeaf: number;
  /** Each tree sees such a share of the samples and of the features, drawn anew (Friedman 2002). @default all */
  readonly sees?: number;
}

/** Thresholds tried for each feature, at quantiles. */
const THRESHOLDS = 32;
const DEPTH = 3;
/** Holds the leaves of few samples back. */
const RIDGE = 1;

/**
 * Boosts trees of three levels by the logistic loss (Friedman 2001, with the second-order leaves of
 * Chen and Guestrin 2016). The first feature is constant: its tree holds the overall share.
 *
 * @returns rows of 7 features, 7 thresholds and 8 leaves, for `compileForest`.
 */
export function growForest(
  samples: readonly Sample[],
  { trees, rate, leastInLeaf, sees = 1 }: GrowOptions,
): number[][] {
  const count = samples.length;
  const termCount = samples[0]!.features.length;
  const thresholds = Array.from({ length: termCount }, (_, feature) => {
    const values = samples.map(({ features }) => features[feature]!).sort((a, b) => a - b);
    const cuts = new Set<number>();
    for (let k = 1; k < THRESHOLDS; k++) cuts.add(rounded(values[Math.floor((k * count) / THRESHOLDS)]!));
    return [...cuts].sort((a, b) => a - b);
  });
  /** For each feature and sample how many thresholds it reaches. */
  const bins = thresholds.map((steps, feature) =>
    Uint8Array.from(samples, ({ features }) => steps.filter((from) => features[feature]! >= from).length),
  );
  const total = samples.reduce((sum, { weight }) => sum + weight, 0);
  const positive = samples.reduce((sum, { weight, right }) => sum + (right ? weight : 0), 0);
  const base = rounded(Math.log(positive / (total - positive)));
  const score = new Float64Array(count).fill(base);
  const gradient = new Float64Array(count);
  const curvature = new Float64Array(count);
  const random = makeRandom(1);
  const seesTerm = new Uint8Array(termCount);
  const seesSample = new Uint8Array(count);
  const draw = (seen: Uint8Array): void => {
    for (let k = 0; k < seen.length; k++) seen[k] = random() < sees ? 1 : 0;
  };
  const forest = [[...Array<number>(14).fill(0), ...Array<number>(8).fill(base)]];

  const bestSplit = (members: Int32Array): { feature: number; bin: number } | null => {
    const slopes = Float64Array.from(members, (k) => gradient[k]!);
    const bends = Float64Array.from(members, (k) => curvature[k]!);
    const [g, h] = [sumOf(slopes), sumOf(bends)];
    let best = 1e-3;
    let split: { feature: number; bin: number } | null = null;
    for (let feature = 1; feature < termCount; feature++) {
      if (seesTerm[feature] === 0) continue;
      const size = thresholds[feature]!.length + 1;
      const found = bestBin(bins[feature]!, members, slopes, bends, g, h, size, leastInLeaf);
      if (found.gain <= best) continue;
      best = found.gain;
      split = { feature, bin: found.bin };
    }
    return split;
  };

  for (let n = 0; n < trees; n++) {
    samples.forEach(({ right, weight }, k) => {
      const p = 1 / (1 + Math.exp(-score[k]!));
      gradient[k] = weight * ((right ? 1 : 0) - p);
      curvature[k] = weight * p * (1 - p);
    });
    draw(seesTerm);
    draw(seesSample);
    const tree = Array<number>(22).fill(0);
    const grow = (node: number, level: number, members: Int32Array): void => {
      if (level === DEPTH) {
        const seen = members.filter((k) => seesSample[k] === 1);
        const g = sumOf(Float64Array.from(seen, (k) => gradient[k]!));
        const h = sumOf(Float64Array.from(seen, (k) => curvature[k]!));
        const worth = rounded((rate * g) / (h + RIDGE));
        tree[14 + node - 7] = worth;
        for (const k of members) score[k]! += worth;
        return;
      }
      const split = members.length < 2 * leastInLeaf ? null : bestSplit(members.filter((k) => seesSample[k] === 1));
      // Without a split all go right: the constant feature reaches any threshold of 0.
      const { feature, from, bin } =
        split === null
          ? { feature: 0, from: 0, bin: -1 }
          : { feature: split.feature, from: thresholds[split.feature]![split.bin]!, bin: split.bin };
      tree[node] = feature;
      tree[7 + node] = from;
      const goesLeft = (k: number): boolean => split !== null && bins[feature]![k]! <= bin;
      grow(2 * node + 1, level + 1, members.filter(goesLeft));
      grow(
        2 * node + 2,
        level + 1,
        members.filter((k) => !goesLeft(k)),
      );
    };
    grow(0, 0, Int32Array.from(samples.keys()));
    forest.push(tree);
  }
  return forest;
}

function sumOf(values: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < values.length; k++) sum += values[k]!;
  return sum;
}

/** The bin of a feature behind which samples part best, and what is gained by it. */
function bestBin(
  bins: Uint8Array,
  members: Int32Array,
  slopes: Float64Array,
  bends: Float64Array,
  g: number,
  h: number,
  size: number,
  leastInLeaf: number,
): { gain: number; bin: number } {
  const [gs, hs, inBin] = [new Float64Array(size), new Float64Array(size), new Int32Array(size)];
  for (let k = 0; k < members.length; k++) {
    const bin = bins[members[k]!]!;
    gs[bin]! += slopes[k]!;
    hs[bin]! += bends[k]!;
    inBin[bin]!++;
  }
  let [left, leftH, below] = [0, 0, 0];
  let best = { gain: 0, bin: 0 };
  for (let bin = 0; bin + 1 < size; bin++) {
    left += gs[bin]!;
    leftH += hs[bin]!;
    below += inBin[bin]!;
    if (below < leastInLeaf || members.length - below < leastInLeaf) continue;
    const gain =
      (left * left) / (leftH + RIDGE) + ((g - left) * (g - left)) / (h - leftH + RIDGE) - (g * g) / (h + RIDGE);
    if (gain > best.gain) best = { gain, bin };
  }
  return best;
}

/** Four digits are enough, and shorter to keep. */
function rounded(value: number): number {
  return Math.round(value * 1e4) / 1e4;
}
