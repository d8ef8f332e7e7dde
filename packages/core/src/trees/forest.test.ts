import { describe, expect, test } from '@jest/globals';
import { seeded } from '../tests/textGrid.ts';
import { compileForest, rate } from './forest.ts';
import { TREES } from '../gaps/cells/gapTrees.ts';

describe('a forest', () => {
  /** Right at the root where the second feature is 2 or more; then by the third. */
  const tree = [1, 2, 2, 0, 0, 0, 0, 2, 5, 7, 0, 0, 0, 0, -9, -1, -9, -2, -9, 3, -9, 4];

  test('asks its questions from the root to a leaf, and adds its trees up', () => {
    const one = compileForest([tree]);
    expect(rate(one, [1, 1.9, 4.9])).toBe(-1);
    expect(rate(one, [1, 1.9, 5])).toBe(-2);
    expect(rate(one, [1, 2, 6.9])).toBe(3);
    expect(rate(one, [1, 2, 7])).toBe(4);
    expect(rate(compileForest([tree, tree]), [1, 2, 7])).toBe(8);
  });

  /** From the root to a leaf, question by question. */
  const walk = (trees: readonly (readonly number[])[], features: readonly number[]): number => {
    let score = 0;
    for (const row of trees) {
      let at = 0;
      while (at < 7) at = 2 * at + (features[row[at]!]! < row[7 + at]! ? 1 : 2);
      score += row[14 + at - 7]!;
    }
    return Math.round(score * 1e6) / 1e6;
  };

  test('rates as a walk through every tree does, to the last bit', () => {
    const random = seeded(3);
    const grown = compileForest(TREES);
    const asked = TREES.flatMap((row) => row.slice(0, 7).map((feature, node) => [feature, row[7 + node]!] as const));
    const features = Array.from({ length: Math.max(...asked.map(([feature]) => feature)) + 1 }, () => 0);
    features[0] = 1;
    for (let k = 0; k < 2000; k++) {
      // Values that are asked about, and some between them.
      const [feature, from] = asked[Math.floor(random() * asked.length)]!;
      if (feature > 0) features[feature] = from + (random() < 0.5 ? 0 : random() - 0.5);
      expect(rate(grown, features)).toBe(walk(TREES, features));
    }
  });
});
