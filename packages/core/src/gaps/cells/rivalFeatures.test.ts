import { describe, expect, test } from '@jest/globals';
import type { Cut } from '../../model/Cut.ts';
import { NO_STROKE_FEATURES } from '../proposals/strokeFeatures.ts';
import { RIVAL_FEATURES, rivalFeatures } from './rivalFeatures.ts';

const LINE_WIDTH = 6;

function cut(from: readonly [number, number], to: readonly [number, number]): Cut {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  return {
    from,
    to,
    curve: null,
    widthPx: Math.sqrt(dx * dx + dy * dy) - 1,
    kind: 'ends',
    strokeFeatures: NO_STROKE_FEATURES,
  };
}

/** The features of each cut by name; every cut is a pair of its own unless told. */
function featuresOf(
  cuts: readonly Cut[],
  scores: readonly number[],
  pairOf: readonly number[] = [...cuts.keys()],
): Record<string, number>[] {
  const strokeFeatures = rivalFeatures(cuts, pairOf, Float64Array.from(scores), LINE_WIDTH);
  return cuts.map((_, k) =>
    Object.fromEntries(RIVAL_FEATURES.map((name, j) => [name, strokeFeatures[RIVAL_FEATURES.length * k + j]!])),
  );
}

describe('rivals of a cut', () => {
  const own = cut([100, 100], [140, 100]);

  test('are what stops at the same end, the best first', () => {
    const atOneEnd = [cut([100, 102], [100, 112]), cut([97, 100], [80, 100])];
    const atTheOther = cut([139, 101], [139, 140]);
    const [first] = featuresOf([own, ...atOneEnd, atTheOther], [1, 2, 4, 3]);
    expect(first).toMatchObject({ first: 1, rival: 4, secondRival: 3 });
  });

  test('lie within one and a half line widths, wherever the page is cut into squares', () => {
    for (let shift = 0; shift < 9; shift++) {
      const at = ([x, y]: readonly [number, number]): [number, number] => [x + shift, y + shift];
      const moved = (one: Cut): Cut => cut(at(one.from), at(one.to));
      const near = moved(cut([100, 109], [100, 130]));
      const far = moved(cut([100, 110], [100, 130]));
      expect(featuresOf([moved(own), near], [1, 2])[0]!['rival']).toBe(2);
      expect(featuresOf([moved(own), far], [1, 2])[0]!['rival']).toBe(-6);
    }
  });

  test('are none of the same pair of cells', () => {
    const twin = cut([101, 101], [141, 101]);
    expect(featuresOf([own, twin], [5], [0, 0])[0]).toEqual({ first: 5, rival: -6, secondRival: -6, wider: 0 });
  });

  test('say how much wider it is', () => {
    const narrow = cut([100, 103], [100, 110]);
    const [first, second] = featuresOf([own, narrow], [1, 2]);
    expect(first!['wider']).toBeCloseTo(Math.log(39 / 6), 9);
    expect(second!['wider']).toBeCloseTo(-Math.log(39 / 6), 9);
  });

  test('that were not rated, or poorly, are none', () => {
    const other = cut([100, 103], [100, 110]);
    for (const score of [NaN, -9, -6])
      expect(featuresOf([own, other], [1, score])[0]).toEqual({ first: 1, rival: -6, secondRival: -6, wider: 0 });
  });
});
