/** Inner nodes of a tree of three levels, and its leaves. */
const NODES = 7;
const LEAVES = 8;

/** Trees of three levels, one after the other; a tree's nodes are numbered from 1, those below node n are 2 n and 2 n + 1. */
export interface Forest {
  /** What each node asks about: node n of tree t is at `8 t + n`. */
  readonly feature: Uint8Array;
  /** With so much or more it goes right. */
  readonly from: Float64Array;
  /** Of each leaf, 8 a tree. */
  readonly leafValue: Float64Array;
}

/** @param trees rows of 7 features, 7 thresholds and 8 leaves: below a threshold it goes left. */
export function compileForest(trees: readonly (readonly number[])[]): Forest {
  const feature = new Uint8Array(LEAVES * trees.length);
  const from = new Float64Array(LEAVES * trees.length);
  const leafValue = new Float64Array(LEAVES * trees.length);
  for (const [tree, row] of trees.entries()) {
    for (let node = 0; node < NODES; node++) {
      feature[LEAVES * tree + node + 1] = row[node]!;
      from[LEAVES * tree + node + 1] = row[NODES + node]!;
    }
    for (let leaf = 0; leaf < LEAVES; leaf++) leafValue[LEAVES * tree + leaf] = row[2 * NODES + leaf]!;
  }
  return { feature, from, leafValue };
}

/** The score of features: a sum over trees (gradient boosting, Friedman 2001). */
export function rate({ feature, from, leafValue }: Forest, features: ArrayLike<number>): number {
  let score = 0;
  for (let root = 0; root < leafValue.length; root += LEAVES) {
    let at = 1;
    // Which way it goes cannot be foreseen: a number is added, nothing is branched on.
    at = 2 * at + isMore(features[feature[root + at]!]!, from[root + at]!);
    at = 2 * at + isMore(features[feature[root + at]!]!, from[root + at]!);
    at = 2 * at + isMore(features[feature[root + at]!]!, from[root + at]!);
    score += leafValue[root + at - LEAVES]!;
  }
  return Math.round(score * 1e6) / 1e6;
}

/** 1 for so much or more, else 0. */
function isMore(value: number, from: number): number {
  return ((value >= from) as unknown as number) | 0;
}
