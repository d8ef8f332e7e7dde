import { describe, expect, test } from '@jest/globals';
import {
  BLOCK,
  LINE,
  placePoints,
  spansOf,
  TEXTURE,
  THIN_INK,
  WIDTH_STEPS,
  type BorderPoints,
} from './findBorderPoints.ts';
import { cellsOfBorder, keyOfBorder, retallyBorders, tallyBorders, wallsOf } from './tallyBorders.ts';

/** Points between neighbouring px of a strip. @param ink and width steps of each, in turn. */
function pointsOf(pixels: number, ink: readonly number[], steps: readonly number[], row = 0): BorderPoints {
  const count = pixels - 1;
  const turn = (values: readonly number[]): Uint8Array =>
    Uint8Array.from({ length: count }, (_, k) => values[k % values.length]!);
  const one = Int32Array.from({ length: count }, (_, k) => k);
  const two = Int32Array.from({ length: count }, (_, k) => k + 1);
  return {
    count,
    rowStride: 2,
    one,
    two,
    spans: spansOf(one, two, count),
    ink: turn(ink),
    steps: turn(steps),
    row: turn([row]),
    hasTexture: true,
    cellOne: new Int32Array(count),
    cellTwo: new Int32Array(count),
  };
}

describe('inked borders', () => {
  test('are added up by pairs of cells, the lower first, with what ink it is and how wide', () => {
    const points = pointsOf(5, [LINE, THIN_INK, TEXTURE, TEXTURE], [8, 4, 2, 6], 3);
    placePoints(points, Int32Array.of(7, 2, 7, 2, 2));
    const borders = tallyBorders(points);
    expect([...borders.keys()].map(cellsOfBorder)).toEqual([
      [2, 2],
      [2, 7],
    ]);
    // Thin ink within a cell is known too, its lines are not.
    expect(borders.get(keyOfBorder(2, 2))).toMatchObject({ px: 2, texturePx: 2, thinPx: 0 });
    // Points of one row of two stand for the other: each counts twice.
    expect(borders.get(keyOfBorder(2, 7))).toEqual({
      px: 6,
      thinPx: 2,
      texturePx: 2,
      widths: (2 * (8 + 4 + 2)) / WIDTH_STEPS,
      squares: (2 * (64 + 16 + 4)) / (WIDTH_STEPS * WIDTH_STEPS),
      narrowest: 2 / WIDTH_STEPS,
      rows: 18,
    });
  });

  test('are the walls of a cell, all together, but for hatching and what lies within it', () => {
    const points = pointsOf(6, [LINE, THIN_INK, TEXTURE, LINE, THIN_INK], [8]);
    placePoints(points, Int32Array.of(0, 1, 0, 1, 2, 2));
    expect([...wallsOf(tallyBorders(points), 4)]).toEqual([4, 6, 2, 0]);
  });

  test('of more pairs than are counted at a time come out whole', () => {
    const pixels = 6000;
    const points = pointsOf(pixels, [LINE], [8]);
    // Every pair twice, far apart.
    placePoints(
      points,
      Int32Array.from({ length: pixels }, (_, k) => k % 3000),
    );
    const borders = tallyBorders(points);
    expect(borders.size).toBe(3000);
    expect(borders.get(keyOfBorder(17, 18))!.px).toBe(4);
    expect(borders.get(keyOfBorder(0, 2999))!.px).toBe(2);
  });

  test('are the same where only those of divided cells are added up anew', () => {
    const pixels = 9 * BLOCK;
    const points = pointsOf(pixels, [LINE, TEXTURE, THIN_INK], [8, 5, 3, 7, 2]);
    // Cells 3 and 4 lie in the middle alone, the others all over.
    const middle = [4 * BLOCK + 100, 5 * BLOCK - 100] as const;
    const before = Int32Array.from({ length: pixels }, (_, k) =>
      k >= middle[0] && k < middle[1] ? 3 + (k & 1) : [0, 1, 2, 5, 6, 7, 8][((k * k) >> 3) % 7]!,
    );
    placePoints(points, before);
    const borders = tallyBorders(points);
    const sorted = (all: typeof borders) => [...all].sort(([a], [b]) => a - b);
    // Cell 3 falls apart in 3 and 9.
    const touched = Uint8Array.from({ length: 9 }, (_, cell) => (cell === 3 ? 1 : 0));
    const isNew = Uint8Array.from({ length: 10 }, (_, cell) => (cell === 3 || cell === 9 ? 1 : 0));
    const after = before.map((cell, k) => (cell === 3 && k > 4.5 * BLOCK ? 9 : cell));
    const kept = { touched, ofCell: Int32Array.from({ length: 9 }, (_, cell) => cell), pixels: middle };
    placePoints(points, after, kept);
    const partly = retallyBorders(borders, kept, isNew, points);
    placePoints(points, after);
    expect(sorted(partly)).toEqual(sorted(tallyBorders(points)));

    // The cell that was 8 is called 10 then: it is all over the page.
    const ofCell = Int32Array.from({ length: 10 }, (_, cell) => (cell === 8 ? 10 : cell));
    const moved = { touched: new Uint8Array(10), ofCell, pixels: [0, pixels] as const };
    const renamed = after.map((cell) => (cell === 8 ? 10 : cell));
    placePoints(points, renamed, moved);
    const again = retallyBorders(partly, moved, new Uint8Array(11), points);
    expect(sorted(again)).toEqual(sorted(tallyBorders(points)));
    expect(again.get(keyOfBorder(0, 10))).toEqual(borders.get(keyOfBorder(0, 8)));
  });
});
