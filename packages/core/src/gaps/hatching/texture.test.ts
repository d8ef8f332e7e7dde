import { describe, expect, test } from '@jest/globals';
import { DEFAULT_PREP, NO_GAPS_PREP } from '../../model/PageDocument.ts';
import { surveyPage } from '../../survey/surveyPage.ts';
import type { GreyRaster } from '../../raster/GreyRaster.ts';
import { inkGridOf } from '../../tests/inkGrid.ts';
import { type Line, ROOM, strokes } from '../../tests/textGrid.ts';
import { followInk } from '../../skeleton/followInk.ts';
import { thinInk } from '../../skeleton/thinInk.ts';
import { traceBranches } from '../../skeleton/traceBranches.ts';
import { findLooseEnds, pruneSpurs } from '../../skeleton/traceStrokes.ts';

const upright = (from: number, count: number, top: number, bottom: number): Line[] =>
  Array.from({ length: count }, (_, k) => [from + 14 * k, top, from + 14 * k, bottom]);
const level = (from: number, count: number, left: number, right: number): Line[] =>
  Array.from({ length: count }, (_, k) => [left, from + 14 * k, right, from + 14 * k]);

describe('a stroke', () => {
  test('is followed across what it crosses, and not along it', () => {
    const art = strokes(300, 200, 5, [
      [30, 100, 250, 100],
      [150, 20, 150, 180],
    ]);
    const grid = inkGridOf(art);
    const ends = findLooseEnds(grid, pruneSpurs(grid, thinInk(grid), 5), 5);
    const leftmost = [...ends.x.keys()].reduce((best, k) => (ends.x[k]! < ends.x[best]! ? k : best), 0);
    const stroke = followInk(grid, ends, leftmost, 5);
    expect(stroke.x.at(-1)!).toBeGreaterThan(100);
    expect([...stroke.y].every((y) => Math.abs(y - 100) <= 2)).toBe(true);
    // Over the crossing it is as wide as before.
    const crossing = [...stroke.x].findIndex((x) => x >= 150);
    expect(stroke.radius[crossing]).toBeCloseTo(2.5, 0);
    expect(stroke.radius[5]).toBeGreaterThan(1);
  });

  test('ends at an outline that it meets', () => {
    const art = strokes(300, 200, 5, [
      [30, 100, 150, 100],
      [150, 20, 150, 180],
    ]);
    const grid = inkGridOf(art);
    const ends = findLooseEnds(grid, pruneSpurs(grid, thinInk(grid), 5), 5);
    const leftmost = [...ends.x.keys()].reduce((best, k) => (ends.x[k]! < ends.x[best]! ? k : best), 0);
    expect(followInk(grid, ends, leftmost, 5).x.at(-1)!).toBeLessThan(156);
  });
});

describe('the spaces of hatching', () => {
  const regionsOf = (lines: Line[], drawn: string[] = []): number =>
    surveyPage(strokes(440, 360, 5, lines), DEFAULT_PREP, { drawn }).regions.count;

  test('are no regions where strokes cross', () => {
    const lines = [...ROOM, ...upright(140, 10, 110, 260), ...level(125, 9, 125, 285)];
    expect(surveyPage(strokes(440, 360, 5, lines), NO_GAPS_PREP).regions.count).toBeGreaterThan(60);
    expect(regionsOf(lines)).toBe(2);
  });

  test('are found the same whichever page was read before', () => {
    const [one, two] = [
      [...ROOM, ...upright(140, 8, 110, 200)],
      [...ROOM, ...level(120, 9, 110, 250)],
    ].map((lines) => strokes(440, 360, 5, lines)) as [GreyRaster, GreyRaster];
    const found = ({ regions, closures, graph }: ReturnType<typeof surveyPage>): unknown => [
      [...regions.areaPx],
      closures.map(({ key, confidence }) => [key, confidence]),
      graph.cuts.map(({ strokeFeatures }) => strokeFeatures),
    ];
    const first = found(surveyPage(one, DEFAULT_PREP));
    expect(found(surveyPage(two, DEFAULT_PREP))).not.toEqual(first);
    expect(found(surveyPage(one, DEFAULT_PREP))).toEqual(first);
  });

  test('are no regions where strokes run on over an outline, which still parts what it parts', () => {
    // Outside, and the room: its empty part beside the strokes is as large as a region, and has them for itself.
    expect(regionsOf([...ROOM, ...upright(57, 17, 20, 335)])).toBe(2);
  });

  test('stay on their side of an outline that runs through the hatching', () => {
    // A wall across the room, thicker than the strokes, which cross over it.
    const wall: Line[] = [-2, 0, 2].map((shift): Line => [40, 180 + shift, 400, 180 + shift]);
    const lines = [...ROOM, ...wall, ...upright(150, 9, 120, 240), ...level(130, 8, 138, 275)];
    const { field, regions, width } = surveyPage(strokes(440, 360, 5, lines), DEFAULT_PREP);
    const at = (x: number, y: number): number => regions.ofCell[field[y * width + x]!]!;
    expect(regions.count).toBe(3);
    expect([at(157, 138), at(157, 208)]).toEqual([at(60, 60), at(60, 300)]);
    expect(at(60, 60)).not.toBe(at(60, 300));
  });

  test('are regions where the lines end on outlines: planks, and bars', () => {
    expect(regionsOf([...ROOM, ...upright(120, 14, 40, 320)])).toBe(16);
  });
});

/** Several drawings on one sheet. */
function together(...sheets: readonly GreyRaster[]): GreyRaster {
  const data = sheets[0]!.data.map((value, at) => Math.min(value, ...sheets.slice(1).map((one) => one.data[at]!)));
  return { ...sheets[0]!, data: data as Uint8Array<ArrayBuffer> };
}

/** Upright strokes that are flicked from top to bottom: 6 px wide there, 2 px here. */
function flicked(lines: readonly Line[]): GreyRaster {
  const data = new Uint8Array(440 * 360).fill(255);
  for (const [x, top, , bottom] of lines) {
    for (let y = top; y < bottom; y++) {
      const half = 3 - (2 * (y - top)) / (bottom - top);
      for (let px = x - 3; px <= x + 3; px++) {
        const covered = Math.max(0, Math.min(1, half + 0.5 - Math.abs(px - x)));
        data[y * 440 + px] = Math.min(data[y * 440 + px]!, Math.round(255 * (1 - covered)));
      }
    }
  }
  return { width: 440, height: 360, data };
}

describe('strokes between two lines', () => {
  // With a shelf across.
  const room = strokes(440, 360, 6, [...ROOM, [40, 200, 400, 200]]);
  const count = (art: GreyRaster): number => surveyPage(art, DEFAULT_PREP).regions.count;

  test('are traced where they are thin, with how they thin out', () => {
    const art = together(room, flicked([[200, 200, 200, 320]]), strokes(440, 360, 6, [[300, 40, 300, 320]]));
    const grid = inkGridOf(art);
    const found = traceBranches(grid, pruneSpurs(grid, thinInk(grid), 6), 2);
    expect(found).toHaveLength(1);
    const [stroke] = found;
    expect([...stroke!.x].every((x) => Math.abs(x - 200) <= 1)).toBe(true);
    expect(stroke!.length).toBeGreaterThan(100);
    expect(Math.max(stroke!.taper, 1 / stroke!.taper)).toBeGreaterThan(1.3);
    expect(traceBranches(grid, pruneSpurs(grid, thinInk(grid), 6), 5).length).toBeGreaterThan(1);
  });

  test('are hatching where several thin out the same way, though none has a loose end', () => {
    const uprights = upright(150, 8, 200, 320);
    const hatched = together(room, flicked(uprights));
    expect(surveyPage(hatched, NO_GAPS_PREP).regions.count).toBe(11);
    // What is left and right of the hatching is as large as a region; its spaces are none.
    expect(count(hatched)).toBeLessThanOrEqual(5);
    // About as wide as the outlines, and at one end as at the other, they are bars.
    expect(count(together(room, strokes(440, 360, 5, uprights)))).toBe(11);
  });

  test('are hatching beside strokes of the same kind that have loose ends', () => {
    // Four stop short of the floor, the next four reach it.
    const open = flicked(upright(150, 4, 200, 275));
    const shut = strokes(440, 360, 3, upright(206, 4, 200, 320));
    expect(surveyPage(together(room, open, shut), NO_GAPS_PREP).regions.count).toBe(7);
    expect(count(together(room, open, shut))).toBeLessThanOrEqual(4);
  });
});

test('the lines of a page are measured without its hatching', () => {
  const thicket = strokes(440, 360, 3, [...upright(70, 22, 60, 300), ...level(70, 16, 60, 390)]);
  const page = together(strokes(440, 360, 8, ROOM), thicket);
  expect(surveyPage(page, NO_GAPS_PREP).lineWidthPx.median).toBeLessThan(4);
  const { lineWidthPx, maxGapPx, regions } = surveyPage(page, DEFAULT_PREP);
  expect(lineWidthPx.median).toBeGreaterThan(6);
  expect(maxGapPx).toBeGreaterThan(0);
  expect(regions.count).toBe(2);
});

describe('strokes between two lines', () => {
  /** Rungs between a thin line on the left, so long, and a thick one. */
  const branchesBeside = (lengthPx: number) => {
    const rungs: Line[] = Array.from({ length: 6 }, (_, k) => [40, 60 + 15 * k, 76, 64 + 15 * k]);
    const thin = strokes(200, 700, 4, [[40, 20, 40, 20 + lengthPx], ...rungs]);
    const thick = strokes(200, 700, 9, [[76, 20, 76, 680]]);
    const art = { ...thin, data: thin.data.map((grey, at) => Math.min(grey, thick.data[at]!)) };
    const grid = inkGridOf(art);
    const found = traceBranches(grid, pruneSpurs(grid, thinInk(grid), 6), 0.4 * 6);
    const upright = found.filter(({ x, y }) => Math.abs(y.at(-1)! - y[0]!) > Math.abs(x.at(-1)! - x[0]!));
    return { rungs: found.length - upright.length, upright: upright.length };
  };

  test('are found by both of their ends; a short line they run onto may be one too', () => {
    const { rungs, upright } = branchesBeside(130);
    expect(rungs).toBe(6);
    expect(upright).toBeGreaterThan(3);
  });

  test('are none of a long thin line that they run onto, as a frame may be', () => {
    // Another stroke far down makes the rest of the frame a piece between junctions as well.
    expect(branchesBeside(660).rungs).toBe(6);
    const rungs: Line[] = [60, 75, 90, 105, 600].map((y) => [40, y, 76, y + 4]);
    const thin = strokes(200, 700, 4, [[40, 20, 40, 680], ...rungs]);
    const grid = inkGridOf(thin);
    const found = traceBranches(grid, pruneSpurs(grid, thinInk(grid), 6), 0.4 * 6);
    expect(found.filter(({ x }) => x.every((one) => one < 45))).toEqual([]);
  });
});
