/** Inner nodes of a tree of three levels, and its leaves. */
const NODES = 7;
const LEAVES = 8;

/** Trees of three levels, one after the other; a tree's nodes are numbered from 1, those below node n are 2 n and 2 n + 1. */
export interface Forest {
  /** What each node asks about: node n of tree t is at `8 t + n`. */
  readonly term: Uint8Array;
  /** With so much or more it goes right. */
  readonly from: Float64Array;
  /** Of each leaf, 8 a tree. */
  readonly worth: Float64Array;
}

/** @param trees rows of 7 terms, 7 thresholds and 8 leaves: below a threshold it goes left. */
export function plantForest(trees: readonly (readonly number[])[]): Forest {
  const term = new Uint8Array(LEAVES * trees.length);
  const from = new Float64Array(LEAVES * trees.length);
  const worth = new Float64Array(LEAVES * trees.length);
  for (const [tree, row] of trees.entries()) {
    for (let node = 0; node < NODES; node++) {
      term[LEAVES * tree + node + 1] = row[node]!;
      from[LEAVES * tree + node + 1] = row[NODES + node]!;
    }
    for (let leaf = 0; leaf < LEAVES; leaf++) worth[LEAVES * tree + leaf] = row[2 * NODES + leaf]!;
  }
  return { term, from, worth };
}

/** The score of terms: a sum over trees (gradient boosting, Friedman 2001). */
export function rate({ term, from, worth }: Forest, terms: ArrayLike<number>): number {
  let score = 0;
  for (let root = 0; root < worth.length; root += LEAVES) {
    let at = 1;
    // Which way it goes cannot be foreseen: a number is added, nothing is branched on.
    at = 2 * at + isMore(terms[term[root + at]!]!, from[root + at]!);
    at = 2 * at + isMore(terms[term[root + at]!]!, from[root + at]!);
    at = 2 * at + isMore(terms[term[root + at]!]!, from[root + at]!);
    score += worth[root + at - LEAVES]!;
  }
  return Math.round(score * 1e6) / 1e6;
}

/** 1 for so much or more, else 0. */
function isMore(value: number, from: number): number {
  return ((value >= from) as unknown as number) | 0;
}
