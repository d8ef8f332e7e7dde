import { describe, expect, test } from '@jest/globals';
import { NO_GAPS_PREP } from '../../model/PageDocument.ts';
import { surveyPage } from '../../survey/surveyPage.ts';
import { inkGridOf } from '../../tests/inkGrid.ts';
import { roomWithGap, strokes } from '../../tests/textGrid.ts';
import type { GreyRaster } from '../../raster/GreyRaster.ts';
import { chooseCuts } from './chooseCuts.ts';
import type { Cut } from '../../model/Cut.ts';
import type { Proposal } from './Proposal.ts';
import { NO_STROKE_FEATURES } from './strokeFeatures.ts';
import { followInk } from '../../skeleton/followInk.ts';
import { findNecks } from './findNecks.ts';
import { findTexture } from '../hatching/findTexture.ts';
import { paperDistances } from '../../skeleton/InkGrid.ts';
import { pixelsOfCut, placeCut } from './placeCut.ts';
import { isClear, proposeFromEnds } from './proposeFromEnds.ts';
import { thinInk } from '../../skeleton/thinInk.ts';
import { findLooseEnds, pruneSpurs } from '../../skeleton/traceStrokes.ts';
import { countNeighbours, weighEnds } from './weighEnds.ts';

function endsOf(art: GreyRaster, lineWidth: number) {
  const grid = inkGridOf(art);
  const ends = findLooseEnds(grid, pruneSpurs(grid, thinInk(grid), lineWidth), lineWidth);
  return { grid, ends, strokes: Array.from(ends.x, (_, end) => followInk(grid, ends, end, lineWidth)) };
}
const proposal = (x0: number, y0: number, x1: number, y1: number, more: Partial<Proposal> = {}): Proposal => ({
  x0,
  y0,
  x1,
  y1,
  kind: 'ends',
  ends: [-1, -1],
  towards: null,
  cost: Math.round(Math.hypot(x1 - x0, y1 - y0) * 256),
  ...more,
});
const asCut = (one: Proposal): Cut => ({
  from: [one.x0, one.y0],
  to: [one.x1, one.y1],
  curve: null,
  widthPx: Math.hypot(one.x1 - one.x0, one.y1 - one.y0),
  kind: one.kind,
  strokeFeatures: NO_STROKE_FEATURES,
});

describe('loose ends', () => {
  test('of one stroke are two, at its tips, looking outwards', () => {
    const { ends } = endsOf(strokes(200, 80, 8, [[40, 40, 160, 40]]), 8);
    const order = ends.x[0]! < ends.x[1]! ? [0, 1] : [1, 0];
    expect(ends.count).toBe(2);
    const [left, right] = order as [number, number];
    expect(Math.abs(ends.x[left]! - 40)).toBeLessThanOrEqual(2);
    expect(Math.abs(ends.x[right]! - 160)).toBeLessThanOrEqual(2);
    expect(ends.dx[left]!).toBeLessThan(-0.98);
    expect(ends.dx[right]!).toBeGreaterThan(0.98);
    expect(Math.abs(ends.radius[left]! - 4)).toBeLessThanOrEqual(1);
  });

  test('are none on a closed outline, whatever its corners', () => {
    expect(endsOf(roomWithGap(0, 8), 8).ends.count).toBe(0);
  });

  test('are two at a gap', () => {
    expect(endsOf(roomWithGap(14, 8), 8).ends.count).toBe(2);
  });

  test('of a short spur on a line do not count', () => {
    const art = strokes(200, 80, 8, [
      [20, 40, 180, 40],
      [100, 40, 100, 48],
    ]);
    expect(endsOf(art, 8).ends.count).toBe(2);
  });

  test('weigh less on short, thin and lonely strokes and in hatching', () => {
    const columns = (count: number, more: object) => ({
      x: Float64Array.from({ length: count }, (_, k) => k * 10),
      y: new Float64Array(count),
      dx: new Float64Array(count),
      dy: new Float64Array(count).fill(1),
      radius: new Float64Array(count).fill(3),
      length: new Float64Array(count).fill(100),
      web: new Float64Array(count).fill(1000),
      ...more,
    });
    const weight = (more: object, inTexture = 0, count = 1): number => {
      const ends = columns(count, more);
      return weighEnds(ends, countNeighbours(ends, 6), new Uint8Array(count).fill(inTexture), 6)[0]!;
    };
    expect(weight({})).toBe(1);
    expect(weight({ length: Float64Array.of(6) })).toBeCloseTo(0.2, 5);
    expect(weight({ radius: Float64Array.of(1) })).toBeLessThan(0.3);
    expect(weight({ web: Float64Array.of(20) })).toBeLessThan(0.2);
    expect(weight({}, 1)).toBeCloseTo(0.1, 5);
    expect(weight({}, 0, 4)).toBeLessThan(0.4);
  });
});

describe('texture', () => {
  const family = (count: number): GreyRaster =>
    strokes(
      300,
      200,
      5,
      Array.from({ length: count }, (_, k) => [60 + k * 16, 50, 60 + k * 16, 150] as const),
    );

  test('is three parallel strokes or more', () => {
    const many = endsOf(family(6), 5);
    expect([...findTexture(many.grid, many.strokes, [], 5).inTexture].every((one) => one === 1)).toBe(true);
    const two = endsOf(family(2), 5);
    expect([...findTexture(two.grid, two.strokes, [], 5).inTexture].every((one) => one === 0)).toBe(true);
  });

  test('is not strokes that cross or turn away', () => {
    const art = strokes(300, 200, 5, [
      [40, 50, 140, 60],
      [60, 90, 120, 170],
      [180, 40, 170, 160],
      [220, 120, 280, 60],
    ]);
    const { grid, strokes: lines } = endsOf(art, 5);
    expect([...findTexture(grid, lines, [], 5).inTexture].every((one) => one === 0)).toBe(true);
  });
});

describe('proposals', () => {
  test('at a gap join the two ends, over paper alone', () => {
    const { grid, ends } = endsOf(roomWithGap(14), 6);
    const found = proposeFromEnds(grid, { ...ends, weight: new Float64Array(ends.count).fill(1) }, 80, 6);
    const [best] = found.filter((one) => one.kind === 'ends');
    expect(Math.abs(Math.hypot(best!.x1 - best!.x0, best!.y1 - best!.y0) - 15)).toBeLessThanOrEqual(3);
    for (const one of found) {
      if (one.kind === 'ends') expect(isClear(grid, one.x0, one.y0, one.x1, one.y1)).toBe(true);
    }
  });

  test('never go through ink, nor beyond the limit', () => {
    // A wall stands between the two ends.
    const { grid, ends } = endsOf(
      strokes(200, 120, 6, [
        [20, 60, 80, 60],
        [120, 60, 180, 60],
        [100, 20, 100, 100],
      ]),
      6,
    );
    const weight = new Float64Array(ends.count).fill(1);
    const found = proposeFromEnds(grid, { ...ends, weight }, 60, 6);
    expect(found.some((one) => one.kind === 'ends' && Math.abs(one.x0 - one.x1) > 30)).toBe(false);
    expect(found.filter((one) => one.kind === 'line').length).toBeGreaterThanOrEqual(2);
    for (const one of proposeFromEnds(grid, { ...ends, weight }, 10, 6)) {
      expect(Math.hypot(one.x1 - one.x0, one.y1 - one.y0)).toBeLessThanOrEqual(12);
    }
  });

  test('at a narrow place between two wide ones name a neck there, and none in an even corridor', () => {
    const rooms = strokes(240, 160, 6, [
      [20, 20, 220, 20],
      [220, 20, 220, 140],
      [220, 140, 20, 140],
      [20, 140, 20, 20],
      [120, 20, 120, 68],
      [120, 92, 120, 140],
    ]);
    const grid = inkGridOf(rooms);
    const necks = findNecks(paperDistances(grid.ink, 240, 160), 60);
    expect(
      necks.some((one) => Math.abs((one.x0 + one.x1) / 2 - 120) <= 4 && Math.abs((one.y0 + one.y1) / 2 - 80) <= 4),
    ).toBe(true);
    const corridor = inkGridOf(
      strokes(240, 100, 6, [
        [10, 30, 230, 30],
        [10, 70, 230, 70],
      ]),
    );
    const inside = findNecks(paperDistances(corridor.ink, 240, 100), 60).filter(
      (one) => Math.abs((one.y0 + one.y1) / 2 - 50) < 8,
    );
    expect(inside.filter((one) => (one.x0 + one.x1) / 2 > 40 && (one.x0 + one.x1) / 2 < 200)).toEqual([]);
  });
});

describe('choosing', () => {
  const onPage = { place: asCut };

  test('takes the cheaper of two that cross, and both where they only meet', () => {
    const long = proposal(0, 50, 100, 50);
    const short = proposal(50, 30, 50, 60);
    expect(chooseCuts([long, short], 4, onPage)).toEqual([asCut(short)]);
    const beside = proposal(100, 50, 140, 90);
    expect(chooseCuts([long, beside], 4, onPage)).toHaveLength(2);
  });

  test('does not take the same gap twice, nor use an end again for a much longer cut', () => {
    const first = proposal(0, 0, 20, 0, { ends: [1, 2] });
    const twin = proposal(1, 1, 21, 1, { ends: [3, -1], kind: 'line' });
    const far = proposal(0, 0, 0, 90, { ends: [1, 4] });
    const near = proposal(0, 0, 0, 30, { ends: [1, 4] });
    expect(chooseCuts([first, twin], 4, onPage)).toHaveLength(1);
    expect(chooseCuts([first, far], 4, onPage)).toHaveLength(1);
    expect(chooseCuts([first, near], 4, onPage)).toHaveLength(2);
  });

  test('gives way to the next when a cut does not hold on the page', () => {
    const better = proposal(0, 0, 20, 0);
    const worse = proposal(0, 1, 20, 1, { cost: 99_999 });
    const chosen = chooseCuts([worse, better], 4, { place: (one) => (one === better ? null : asCut(one)) });
    expect(chosen).toEqual([asCut(worse)]);
  });

  test('agrees with looking at every pair, on random cuts', () => {
    let state = 11;
    const random = (): number => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296;
    const cuts = Array.from({ length: 150 }, () => {
      const [x, y] = [random() * 300, random() * 300];
      return proposal(x, y, x + random() * 60 - 30, y + random() * 60 - 30);
    });
    const side = (a: Proposal, x: number, y: number): number => (a.x1 - a.x0) * (y - a.y0) - (a.y1 - a.y0) * (x - a.x0);
    const parts = (a: Proposal, b: Proposal): boolean => side(a, b.x0, b.y0) * side(a, b.x1, b.y1) < 0;
    const near = (x0: number, y0: number, x1: number, y1: number): boolean => Math.hypot(x0 - x1, y0 - y1) <= 1.2 * 3;
    const doubles = (a: Proposal, b: Proposal): boolean =>
      (near(a.x0, a.y0, b.x0, b.y0) && near(a.x1, a.y1, b.x1, b.y1)) ||
      (near(a.x0, a.y0, b.x1, b.y1) && near(a.x1, a.y1, b.x0, b.y0));
    const expected: Proposal[] = [];
    for (const one of [...cuts].sort((a, b) => a.cost - b.cost)) {
      if (!expected.some((other) => (parts(one, other) && parts(other, one)) || doubles(one, other)))
        expected.push(one);
    }
    expect(expected.length).toBeGreaterThan(30);
    expect(expected.length).toBeLessThan(cuts.length);
    expect(chooseCuts(cuts, 3, onPage)).toEqual(expected.map(asCut));
  });
});

describe('placing', () => {
  const room = surveyPage(roomWithGap(14), NO_GAPS_PREP);
  const put = (one: Proposal, factor = 1): Cut | null => placeCut(one, factor, room.inkAlpha, 300, 300, 200);

  test('runs from ink to ink, and measures the paper between', () => {
    const cut = put(proposal(240, 143, 240, 157))!;
    expect(Math.abs(cut.widthPx - 14)).toBeLessThanOrEqual(1.5);
    for (const [x, y] of [cut.from, cut.to]) expect(room.inkAlpha[y * 300 + x]).toBeGreaterThanOrEqual(128);
    const pixels: number[] = [];
    pixelsOfCut(cut, room.inkAlpha, 300, (at) => pixels.push(at));
    expect(pixels.length).toBeGreaterThanOrEqual(12);
    expect(pixels.every((at) => room.inkAlpha[at]! < 128)).toBe(true);
  });

  test('finds the same gap from a grid of half the size', () => {
    const cut = put(proposal(120, 72, 120, 78), 2)!;
    expect(Math.abs(cut.widthPx - 14)).toBeLessThanOrEqual(1.5);
  });

  test('gives none where there is no paper, or none between two pieces of ink', () => {
    expect(put(proposal(61, 100, 59, 102))).toBeNull();
    expect(put(proposal(148, 150, 152, 150))).toBeNull();
  });
});
