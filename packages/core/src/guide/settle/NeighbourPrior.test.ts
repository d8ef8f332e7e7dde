import { describe, expect, test } from '@jest/globals';
import { NeighbourPrior, type Surroundings } from './NeighbourPrior.ts';

describe('what the regions around say', () => {
  // Four regions that all hear each other more or less; five parts in two groups.
  const around = [0, 1, 2, 3].map((region) => {
    const regions = Int32Array.from([0, 1, 2, 3].filter((other) => other !== region));
    return {
      regions,
      presence: Float64Array.from(regions, (other) => 0.2 + 0.1 * other + 0.05 * region),
      likeness: Float64Array.from(regions, (other) => 0.1 + 0.1 * other),
    };
  });
  const surroundings: Surroundings = { groupOf: Int32Array.of(0, 0, 0, 1, 1), around };

  /** How likely all regions are what they are. */
  const all = (own: Int32Array): number => {
    const prior = new NeighbourPrior(surroundings, own);
    return own.reduce((sum, part, region) => {
      prior.evaluateAt(region);
      return sum + prior.logPrior[part]!;
    }, 0);
  };

  test('is more for a part that is near, some for one of its group, least for any other', () => {
    const prior = new NeighbourPrior(surroundings, Int32Array.of(4, 1, 1, 1));
    prior.evaluateAt(0);
    const [other, near, sameGroup] = [prior.logPrior[3]!, prior.logPrior[1]!, prior.logPrior[2]!];
    expect(near).toBeGreaterThan(sameGroup);
    expect(sameGroup).toBeGreaterThan(other);
  });

  test('changes by as much as is said of a single change', () => {
    for (const [region, part] of [
      [0, 1],
      [1, 3],
      [2, 4],
      [3, 0],
      [3, 3],
    ] as const) {
      const own = Int32Array.of(1, 0, 3, 3);
      const changed = own.slice();
      changed[region] = part;
      expect(new NeighbourPrior(surroundings, own).gainOf(region, part)).toBeCloseTo(all(changed) - all(own), 9);
      expect([...own]).toEqual([1, 0, 3, 3]);
    }
  });

  test('is heard by those that have a region around them', () => {
    const lonely = { ...surroundings, around: [undefined, around[1], undefined, undefined] };
    const prior = new NeighbourPrior(lonely, Int32Array.of(0, 0, 0, 0));
    expect([0, 1, 2].map((region) => prior.dependentsOf(region))).toEqual([[1], [], [1]]);
  });
});
