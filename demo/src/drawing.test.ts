import { describe, expect, test } from '@jest/globals';
import { brushStroke, dryStreaks } from './brush.ts';
import { DEMO_CAST, DEMO_PARTS } from './castOfDemo.ts';
import { Drawing, type Inking } from './Drawing.ts';
import { between, curve, ellipse, line, makeRandom, place, rectangle } from './geometry.ts';

describe('the pens', () => {
  test('random numbers are the same every time, and spread', () => {
    const [one, two] = [makeRandom(7), makeRandom(7)];
    const values = Array.from({ length: 500 }, one);
    expect(values).toEqual(Array.from({ length: 500 }, two));
    expect(Math.min(...values)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...values)).toBeLessThan(1);
    expect(Math.abs(values.reduce((sum, v) => sum + v) / 500 - 0.5)).toBeLessThan(0.05);
  });

  test('curves go through their points, closely spaced', () => {
    const points = [
      [0, 0],
      [40, 30],
      [90, 10],
      [120, 80],
    ] as const;
    const dense = curve(points);
    for (const [x, y] of points) expect(dense.some(([px, py]) => Math.hypot(px - x, py - y) < 1e-9)).toBe(true);
    for (let k = 1; k < dense.length; k++)
      expect(Math.hypot(dense[k]![0] - dense[k - 1]![0], dense[k]![1] - dense[k - 1]![1])).toBeLessThan(12);
  });

  test('straight lines are straight, closed ones come round', () => {
    const dense = line(
      [
        [0, 0],
        [30, 40],
      ],
      10,
    );
    expect(dense).toHaveLength(6);
    for (const [x, y] of dense) expect(x * 40 - y * 30).toBeCloseTo(0, 9);
    expect(
      line(
        [
          [0, 0],
          [10, 0],
          [10, 10],
        ],
        5,
        true,
      ),
    ).toHaveLength(2 + 2 + 3);
  });

  test('ellipses, rectangles and frames are where they are put', () => {
    for (const [x, y] of ellipse(10, 20, 30, 15)) expect(((x - 10) / 30) ** 2 + ((y - 20) / 15) ** 2).toBeCloseTo(1, 9);
    expect(rectangle(1, 2, 3, 4)).toEqual([
      [1, 2],
      [4, 2],
      [4, 6],
      [1, 6],
    ]);
    expect(place({ x: 10, y: 20, scale: 2, mirror: true }, [[3, 4]])).toEqual([[4, 28]]);
    expect(between([0, 0], [10, 20], 0.25)).toEqual([2.5, 5]);
  });

  test('a brush stroke is as wide as it is told, and thins where it tapers', () => {
    const numbers = (path: string): [number, number][] =>
      (path.match(/-?[\d.]+/g) ?? [])
        .map(Number)
        .reduce<[number, number][]>(
          (all, v, k) => (k % 2 === 0 ? [...all, [v, 0]] : ((all[all.length - 1]![1] = v), all)),
          [],
        );
    const spread = (path: string, from: number, to: number): number => {
      const ys = numbers(path)
        .filter(([x]) => x >= from && x <= to)
        .map(([, y]) => y);
      return Math.max(...ys) - Math.min(...ys);
    };
    const straight = line(
      [
        [0, 50],
        [200, 50],
      ],
      5,
    );
    const even = brushStroke(straight, { width: 10, weight: 0, wobble: 0 });
    expect(spread(even, 50, 150)).toBeCloseTo(10, 0);
    const tapered = brushStroke(straight, { width: 10, weight: 0, wobble: 0, taper: [0, 0.5] });
    expect(spread(tapered, 190, 200)).toBeLessThan(spread(tapered, 20, 60) * 0.6);
    expect(brushStroke([[1, 1]], { width: 5 })).toBe('');
  });

  test('a dry brush is rough at its edges, and parts where it is long', () => {
    const stroke = line([[0, 50], [300, 50]], 5); // prettier-ignore
    const smooth = brushStroke(stroke, { width: 10, weight: 0, wobble: 0, seed: 3 });
    const rough = brushStroke(stroke, { width: 10, weight: 0, wobble: 0, seed: 3, ragged: 0.2 });
    const ys = (path: string): Set<string> => new Set([...path.matchAll(/ (-?[\d.]+)/g)].map(([, y]) => y!));
    expect(ys(smooth).size).toBe(2);
    expect(ys(rough).size).toBeGreaterThan(10);
    expect(dryStreaks(stroke, 10, 7).length).toBeGreaterThan(0);
    expect(dryStreaks(stroke, 60, 7)).toEqual([]);
  });
});

describe('a drawing', () => {
  const numbers = new Map([
    ['sky', 0],
    ['coat', 1],
  ]);
  const make = (closeGaps = false): Drawing => new Drawing(100, 80, (part) => numbers.get(part) ?? -1, closeGaps);

  test('keeps ink and intended flats side by side, later shapes in front', () => {
    const d = make();
    d.shape('sky', rectangle(10, 10, 50, 50));
    d.shape('coat', rectangle(30, 30, 50, 40), { outline: false });
    const flats = d.flatsSvg(1, 'sky');
    expect(flats.match(/<path/g)).toHaveLength(2);
    expect(d.inkSvg(2)).toMatch(/width="200" height="160" viewBox="0 0 100 80"/);
    // The second shape hides the first in the ink too, but draws no line.
    expect(d.inkSvg(1).match(/fill="#fff"/g)!.length).toBeGreaterThanOrEqual(3);
  });

  test('records the gaps it leaves, and draws them shut when asked', () => {
    const [open, shut] = [make(), make(true)];
    for (const d of [open, shut])
      d.shape('coat', line(rectangle(10, 10, 60, 50), 4, true), { gap: { at: 0.3, widthPx: 9 } });
    expect(open.gaps).toEqual(shut.gaps);
    expect(open.gaps[0]!.widthPx).toBe(9);
    expect(open.inkSvg(1)).not.toBe(shut.inkSvg(1));
    expect(open.flatsSvg(1, 'sky')).toBe(shut.flatsSvg(1, 'sky'));
  });
});

test('a shape that runs out into the paper is drawn across its opening only where all is drawn shut', () => {
  const make = (closeGaps: boolean, inking?: Inking): Drawing => new Drawing(100, 80, () => 1, closeGaps, inking);
  const side = line([[20, 70], [20, 20], [70, 20], [70, 70]], 4); // prettier-ignore
  const [open, shut, dry] = [make(false), make(true), make(false, { nib: 2, weight: 0, wobble: 0, dry: true })];
  for (const d of [open, shut, dry]) d.openShape('coat', side);
  expect(open.flatsSvg(1, 'coat')).toBe(shut.flatsSvg(1, 'coat'));
  expect(shut.inkSvg(1).length).toBeGreaterThan(open.inkSvg(1).length);
  // Paper between the bristles is drawn over the ink.
  expect(dry.inkSvg(1).match(/fill="#fff"/g)!.length).toBeGreaterThan(open.inkSvg(1).match(/fill="#fff"/g)!.length);
});

test('the cast has parts with ids of their own, keys of their own, and a colour in every scene', () => {
  expect(new Set(DEMO_PARTS.map((part) => part.id)).size).toBe(DEMO_PARTS.length);
  const slots = DEMO_PARTS.flatMap((part) => (part.slot === null ? [] : [part.slot]));
  expect(new Set(slots).size).toBe(slots.length);
  for (const { lamplight, night } of DEMO_PARTS)
    for (const colour of [lamplight, night]) expect(colour).toMatch(/^#[0-9a-f]{6}$/);
  expect(DEMO_CAST.flatMap((group) => group.parts).length).toBe(DEMO_PARTS.length);
});
