/** Inner nodes of a tree of three levels, and its leaves. */
const NODES = 7;
const LEAVES = 8;
const ALL_LEAVES = 255;
/** The leaves that remain of a tree when a node's question is answered by "so much or more": those on its left are out. */
const RIGHT_OF = Uint8Array.from(
  [
    [0, 4],
    [0, 2],
    [4, 2],
    [0, 1],
    [2, 1],
    [4, 1],
    [6, 1],
  ],
  ([first, count]) => ALL_LEAVES & ~(((1 << count!) - 1) << first!),
);
/** The first leaf that remains. */
const FIRST_LEAF = Uint8Array.from({ length: ALL_LEAVES + 1 }, (_, leaves) => {
  let leaf = 0;
  while (leaf < LEAVES && (leaves & (1 << leaf)) === 0) leaf++;
  return leaf;
});

/**
 * Trees whose questions are put in order of what they ask about: a term answers those up to its value, one after the
 * other, and none beyond (Lucchese and others 2015). That costs no branch that cannot be foreseen.
 */
export interface Forest {
  /** Questions about term t: `first[t] .. first[t + 1] - 1`, by value. */
  readonly first: Int32Array;
  readonly from: Float64Array;
  readonly tree: Uint16Array;
  /** The leaves of the tree that remain when the term has that value or more. */
  readonly remain: Uint8Array;
  readonly worth: Float64Array;
  /** The leaves that remain of each tree, while terms are rated. */
  readonly leaves: Uint8Array;
}

/** @param trees rows of 7 terms, 7 thresholds and 8 leaves: below a threshold it goes left. */
export function plantForest(trees: readonly (readonly number[])[]): Forest {
  const questions = trees
    .flatMap((row, tree) =>
      Array.from(RIGHT_OF, (remain, node) => ({ term: row[node]!, from: row[NODES + node]!, tree, remain })),
    )
    .sort((a, b) => a.term - b.term || a.from - b.from || a.tree - b.tree);
  const first = new Int32Array(questions.reduce((most, { term }) => Math.max(most, term), -1) + 2);
  for (const { term } of questions) first[term + 1] = first[term + 1]! + 1;
  for (let term = 0; term + 1 < first.length; term++) first[term + 1] = first[term + 1]! + first[term]!;
  return {
    first,
    from: Float64Array.from(questions, ({ from }) => from),
    tree: Uint16Array.from(questions, ({ tree }) => tree),
    remain: Uint8Array.from(questions, ({ remain }) => remain),
    worth: Float64Array.from(trees.flatMap((row) => row.slice(2 * NODES))),
    leaves: new Uint8Array(trees.length),
  };
}

/** The score of terms: a sum over trees (gradient boosting, Friedman 2001). */
export function rate({ first, from, tree, remain, worth, leaves }: Forest, terms: ArrayLike<number>): number {
  leaves.fill(ALL_LEAVES);
  for (let term = 0; term + 1 < first.length; term++) {
    const value = terms[term]!;
    const end = first[term + 1]!;
    for (let k = first[term]!; k < end && value >= from[k]!; k++) leaves[tree[k]!] = leaves[tree[k]!]! & remain[k]!;
  }
  let score = 0;
  for (let k = 0; k < leaves.length; k++) score += worth[LEAVES * k + FIRST_LEAF[leaves[k]!]!]!;
  return Math.round(score * 1e6) / 1e6;
}
