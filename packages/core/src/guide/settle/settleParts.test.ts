import { describe, expect, test } from '@jest/globals';
import { entriesByRegion, type Cover } from '../unmix/coverOf.ts';
import { regionsAround, type RegionPlaces, type RegionsAround } from './regionsAround.ts';
import { SLACK } from './GuideLayout.ts';
import type { Surroundings } from './NeighbourPrior.ts';
import { settleParts, type SettledParts } from './settleParts.ts';

const places = (at: readonly (readonly [points: number[], areaPx: number, known: number])[]): RegionPlaces => ({
  points: at.map(([points]) => points),
  areaPx: at.map(([, areaPx]) => areaPx),
  known: Uint8Array.from(at, ([, , known]) => known),
});

describe('the regions around one', () => {
  test('are those within reach, across the borders of the grid they are looked up in', () => {
    const around = regionsAround(
      places([
        [[99, 99], 50, 0],
        [[101, 101], 50, 1],
        [[99, 160], 50, 1],
        [[350, 99], 50, 1],
        [[5, 5], 50, 1],
        [[], 50, 1],
      ]),
      100,
      () => true,
    );
    expect([...around[0]!.regions].sort()).toEqual([1, 2]);
    expect([...around[1]!.regions].sort()).toEqual([0, 2]);
    expect(around[3]!.regions.length).toBe(0);
    expect(around[5]).toBeUndefined();
  });

  test('say more the nearer they are, when they are known, and of their like when they are as large', () => {
    const around = regionsAround(
      places([
        [[100, 100], 50, 0],
        [[110, 100], 50, 1],
        [[150, 100], 50, 1],
        [[100, 110], 5000, 1],
        [[100, 90], 50, 0],
      ]),
      100,
      (region) => region === 0,
    );
    const of = (values: Float64Array) => new Map(Array.from(around[0]!.regions, (one, k) => [one, values[k]!]));
    const [presence, likeness] = [of(around[0]!.presence), of(around[0]!.likeness)];
    expect(presence.get(1)!).toBeCloseTo(0.81, 9);
    expect(presence.get(2)!).toBeCloseTo(0.25, 9);
    expect(presence.get(3)!).toBeCloseTo(0.81, 9);
    expect(likeness.get(3)!).toBeCloseTo(0.081, 9);
    expect(presence.get(4)!).toBeCloseTo(0.7 * 0.81, 9);
    expect(around[1]).toBeUndefined();
  });

  test('count by the point of theirs that comes nearest', () => {
    const around = regionsAround(
      places([
        [[100, 100], 50, 0],
        [[900, 900, 120, 100, 180, 100], 9000, 1],
      ]),
      100,
      () => true,
    );
    expect([...around[0]!.regions]).toEqual([1]);
    expect(around[0]!.presence[0]).toBeCloseTo(0.64, 9);
  });

  test('are the nearest ones where there are many', () => {
    const crowd = Array.from({ length: 60 }, (_, k) => [[100 + k, 100], 50, 1] as [number[], number, number]);
    const around = regionsAround(places([[[100, 101], 50, 0], ...crowd]), 100, (region) => region === 0);
    expect([...around[0]!.regions].sort((a, b) => a - b)).toEqual(Array.from({ length: 32 }, (_, k) => k + 1));
  });
});

const withEntries = (cover: Omit<Cover, 'byRegion'>, regions: number): Cover => ({
  ...cover,
  byRegion: entriesByRegion(cover, regions),
});

describe('the part of a region that hardly shows', () => {
  // A key of some px: a share of each region 1, the rest region 0, nothing blurred.
  const shown = (grey: number, share: number, surroundings: Surroundings, start = 0, px = 1) =>
    settleParts(
      { width: px, height: 1, rgb: new Uint8Array(3 * px).fill(grey) },
      {
        cover: withEntries(
          {
            row: Int32Array.from({ length: px + 1 }, (_, k) => 2 * k),
            region: Int32Array.from({ length: 2 * px }, (_, k) => k % 2),
            share: Float64Array.from({ length: 2 * px }, (_, k) => (k % 2 === 0 ? 1 - share : share)),
            trust: new Float64Array(px).fill(1),
            inked: new Float64Array(2 * px),
          },
          2,
        ),
        kernel: Float64Array.of(1),
        footprints: [
          undefined,
          { at: Int32Array.from({ length: px }, (_, k) => k), weight: new Float64Array(px).fill(share) },
        ],
      },
      // Black, white, and a white that is almost the same.
      Float64Array.of(0, 0, 0, 250, 250, 250, 254, 254, 254),
      Int32Array.of(0, start),
      surroundings,
    );
  const heard = (region: number): RegionsAround => ({
    regions: Int32Array.of(region),
    presence: Float64Array.of(0.8),
    likeness: Float64Array.of(0.8),
  });
  const alone: Surroundings = { groupOf: Int32Array.of(0, 1, 2), around: [undefined, undefined] };
  const beside = (part: number): Surroundings => ({
    groupOf: Int32Array.of(0, 1, 2),
    around: [undefined, heard(part)],
  });

  test('is the one with which the key comes out best', () => {
    expect([...shown(125, 0.5, alone).part]).toEqual([0, 1]);
    expect([...shown(0, 0.5, alone, 1).part]).toEqual([0, 0]);
    expect(shown(125, 0.5, alone).margin[1]!).toBeGreaterThanOrEqual(0);
  });

  test('is the one its neighbours have where the key leaves two open, and the key’s where it says so', () => {
    const white = { ...alone, around: [undefined, heard(2)] };
    const own = settleParts(
      { width: 1, height: 1, rgb: Uint8Array.of(12, 12, 12) },
      {
        cover: withEntries(
          {
            row: Int32Array.of(0, 3),
            region: Int32Array.of(0, 1, 2),
            share: Float64Array.of(0.95, 0.05, 0),
            trust: Float64Array.of(1),
            inked: new Float64Array(3),
          },
          3,
        ),
        kernel: Float64Array.of(1),
        footprints: [undefined, { at: Int32Array.of(0), weight: Float64Array.of(0.05) }, undefined],
      },
      Float64Array.of(0, 0, 0, 250, 250, 250, 254, 254, 254),
      Int32Array.of(0, 1, 2),
      { ...white, around: [...white.around, undefined] },
    );
    expect(own.part[1]).toBe(2);
    // Half of ten px in plain white is not black, whatever is around it; a single one may be off.
    expect(shown(125, 0.5, beside(0), 1, 10).part[1]).not.toBe(0);
    expect(shown(125, 0.5, beside(0), 1).part[1]).toBe(0);
  });
});

describe('stripes that go in turn', () => {
  const [LIGHT, DARK, BETWEEN] = [1, 2, 3];
  const count = 10;
  const width = count + 4;
  // Each stripe is a px wide, and the key blurs them; at both ends lies black that is known.
  const truth = Array.from({ length: width }, (_, x) => (x < 2 || x >= width - 2 ? 0 : x % 2 === 0 ? LIGHT : DARK));
  const grey = [0, 190, 110, 150];
  const rgb = Float64Array.from(grey.flatMap((v) => [v, v, v]));
  const kernel = Float64Array.of(0.53, 0.235);
  const blurred = (x: number): number =>
    [-1, 0, 1].reduce((sum, d) => {
      const at = Math.max(0, Math.min(width - 1, x + d));
      return sum + kernel[Math.abs(d)]! * grey[truth[at]!]!;
    }, 0);
  const guide = {
    width,
    height: 1,
    rgb: Uint8Array.from({ length: width * 3 }, (_, k) => Math.round(blurred(Math.floor(k / 3)))),
  };
  const isStripe = (x: number): boolean => truth[x] !== 0;
  const unmixed = {
    cover: withEntries(
      {
        row: Int32Array.from({ length: width + 1 }, (_, k) => k),
        region: Int32Array.from({ length: width }, (_, k) => k),
        share: new Float64Array(width).fill(1),
        trust: new Float64Array(width).fill(1),
        inked: new Float64Array(width),
      },
      width,
    ),
    kernel,
    footprints: truth.map((_, x) =>
      isStripe(x)
        ? { at: Int32Array.of(x, x - 1, x + 1), weight: Float64Array.of(kernel[0]!, kernel[1]!, kernel[1]!) }
        : undefined,
    ),
  };
  const around = truth.map((_, x) => {
    if (!isStripe(x)) return undefined;
    const regions = Int32Array.from([x - 2, x - 1, x + 1, x + 2].filter(isStripe));
    return {
      regions,
      presence: new Float64Array(regions.length).fill(0.5),
      likeness: new Float64Array(regions.length).fill(0.05),
    };
  });
  // Light and dark are of one figure, what lies between of another.
  const surroundings: Surroundings = { groupOf: Int32Array.of(0, 1, 1, 2), around };
  const start = Int32Array.from(truth, (part) => (part === 0 ? 0 : BETWEEN));

  test('are not what they look like from afar', () => {
    expect([...settleParts(guide, unmixed, rgb, start, surroundings).part]).toEqual(truth);
  });

  test('hold each other fast while only one at a time may change', () => {
    const { part } = settleParts(guide, unmixed, rgb, start, surroundings, { effort: 'some' });
    expect([...part].filter((one) => one === BETWEEN).length).toBeGreaterThan(count / 2);
  });

  test('are not doubted by themselves where they held firmly before', () => {
    const oneOff = Int32Array.from(truth, (part, x) => (x === 5 ? BETWEEN : part));
    const settled = (firmly: number): SettledParts =>
      settleParts(guide, unmixed, rgb, oneOff, surroundings, {
        effort: 'glance',
        held: new Float64Array(width).fill(firmly),
      });
    expect([...settled(0).part]).toEqual(truth);
    const held = settled(SLACK);
    expect([...held.part]).toEqual([...oneOff]);
    expect(held.margin[5]).toBe(SLACK);
  });
});

describe('a shape and what it holds', () => {
  // Four px that mix both: the true parts are 1 and 2, thought to be 3 and 4.
  const weights = [
    [0.6, 0.5, 0.4, 0.1],
    [0.1, 0.4, 0.5, 0.6],
  ] as const;
  const width = 4;
  const cover = withEntries(
    {
      row: Int32Array.from({ length: width + 1 }, (_, k) => 3 * k),
      region: Int32Array.from({ length: 3 * width }, (_, k) => k % 3),
      share: Float64Array.from({ length: 3 * width }, (_, k) => {
        const [a, b] = weights.map((list) => list[Math.floor(k / 3)]!) as [number, number];
        return [1 - a - b, a, b][k % 3]!;
      }),
      trust: new Float64Array(width).fill(1),
      inked: new Float64Array(3 * width),
    },
    3,
  );
  const at = Int32Array.from({ length: width }, (_, x) => x);
  const footprints = [undefined, ...weights.map((weight) => ({ at, weight: Float64Array.from(weight) }))];

  test.each([[[0, 170, 40, 30, 180, 190]], [[0, 80, 60, 180, 210, 0]], [[0, 140, 40, 240, 140, 60]]])(
    'become together what neither becomes as long as the other stays: greys %j',
    (grey) => {
      const shown = at.map((x) => Math.round(weights[0][x]! * grey[1]! + weights[1][x]! * grey[2]!));
      const { part } = settleParts(
        { width, height: 1, rgb: Uint8Array.from([...shown].flatMap((v) => [v, v, v])) },
        { cover, kernel: Float64Array.of(1), footprints },
        Float64Array.from(grey.flatMap((v) => [v, v, v])),
        Int32Array.of(0, 3, 4),
        { groupOf: Int32Array.from(grey, (_, k) => k), around: [undefined, undefined, undefined] },
      );
      expect([...part]).toEqual([0, 1, 2]);
    },
  );
});
