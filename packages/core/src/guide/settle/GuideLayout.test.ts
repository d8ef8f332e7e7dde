import { describe, expect, test } from '@jest/globals';
import { entriesByRegion } from '../unmix/coverOf.ts';
import { GuideLayout } from './GuideLayout.ts';

/**
 * Two regions side by side, with a line between them that is all the first one's: px 0 to 3 are its paper, px 4 and 5
 * lie half under its line, px 6 to 9 are the other's. Parts: black, grey, white.
 */
function layoutOf(greyOfPx: readonly number[], part = Int32Array.of(1, 2), mayMix = true): GuideLayout {
  const width = greyOfPx.length;
  const first = [0, 1, 2, 3, 4, 5];
  const entries = greyOfPx.flatMap((_, x) =>
    x < 4
      ? [{ x, region: 0, share: 1, inked: 0 }]
      : x < 6
        ? [
            { x, region: 0, share: 0.6, inked: 0.6 },
            { x, region: 1, share: 0.4, inked: 0 },
          ]
        : [{ x, region: 1, share: 1, inked: 0 }],
  );
  const row = Int32Array.from({ length: width + 1 }, (_, x) => entries.filter((one) => one.x < x).length);
  const region = Int32Array.from(entries, (one) => one.region);
  return new GuideLayout(
    { width, height: 1, rgb: Uint8Array.from(greyOfPx.flatMap((v) => [v, v, v])) },
    {
      cover: {
        row,
        region,
        byRegion: entriesByRegion({ row, region }, 2),
        share: Float64Array.from(entries, ({ share }) => share),
        inked: Float64Array.from(entries, ({ inked }) => inked),
        trust: new Float64Array(width).fill(1),
      },
      kernel: Float64Array.of(1),
      footprints: [
        { at: Int32Array.from(first), weight: Float64Array.from(first, (x) => (x < 4 ? 1 : 0.6)) },
        undefined,
      ],
    },
    Float64Array.of(0, 0, 0, 100, 100, 100, 200, 200, 200),
    part,
    { groupOf: Int32Array.of(0, 1, 2), around: [undefined, undefined] },
    mayMix,
  );
}

describe('a key laid out', () => {
  const own = [100, 100, 100, 100, 140, 140, 200, 200, 200, 200];
  const beyond = [100, 100, 100, 100, 200, 200, 200, 200, 200, 200];

  test('says which part a region may be, and how far what is beyond its lines reaches under them', () => {
    const [inside] = layoutOf(own).choices(0);
    expect(inside).toMatchObject({ part: 1 });
    expect(inside!.mixing).toBeCloseTo(0, 2);
    const [outside] = layoutOf(beyond).choices(0);
    expect(outside).toMatchObject({ part: 1 });
    expect(outside!.mixing).toBeGreaterThan(0.9);
    // It is dearer, but less than if the line had to be the region's own.
    expect(outside!.cost).toBeGreaterThan(inside!.cost);
    expect(outside!.cost - inside!.cost).toBeLessThan(2.5);
  });

  test('gives nothing away where nobody asks what is under the lines', () => {
    const layout = layoutOf(beyond, Int32Array.of(0, 2), false);
    const choices = layout.choices(0);
    expect(choices[0]).toMatchObject({ part: 1, mixing: 0 });
    expect(choices[0]!.cost).toBeGreaterThan(layoutOf(beyond).choices(0)[0]!.cost);
    layout.note();
    expect(layout.choose(0, choices[0]!)).toBeLessThan(0);
    expect([...layout.own]).toEqual([1, 2]);
    layout.goBack();
    expect([...layout.own]).toEqual([0, 2]);
    expect(layout.choices(0)).toEqual(choices);
  });

  test('becomes less likely by as much as it becomes likelier on the way back', () => {
    const layout = layoutOf(own);
    const away = layout.force(0, 0);
    expect(away).toBeGreaterThan(1);
    expect([...layout.own]).toEqual([0, 2]);
    expect(layout.force(0, 1) + away).toBeCloseTo(0, 1);
    expect([...layout.own]).toEqual([1, 2]);
  });

  test('is as it was when what was tried is taken back', () => {
    const layout = layoutOf(beyond);
    layout.choose(0, layout.choices(0)[0]!);
    const before = layout.choices(0);
    layout.note();
    layout.force(0, 2);
    layout.force(0, 0);
    expect(layout.changed()).toEqual([0]);
    layout.goBack();
    expect([...layout.own]).toEqual([1, 2]);
    expect(layout.changed()).toEqual([]);
    layout.choices(0).forEach(({ part, mixing, cost }, k) => {
      expect(part).toBe(before[k]!.part);
      expect(mixing).toBeCloseTo(before[k]!.mixing, 6);
      expect(cost).toBeCloseTo(before[k]!.cost, 6);
    });
  });

  test('finds dearer for a group what is farther from the key', () => {
    const cost = layoutOf(own).costOfGroup([0]);
    expect(cost[1]!).toBeLessThan(cost[0]!);
    expect(cost[1]!).toBeLessThan(cost[2]!);
  });

  test('knows who shares a px with whom', () => {
    expect(layoutOf(own).lines.beside(0)).toEqual([1]);
    expect(layoutOf(own).lines.beside(1)).toEqual([0]);
  });
});
