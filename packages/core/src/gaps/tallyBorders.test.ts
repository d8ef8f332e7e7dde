import { describe, expect, test } from '@jest/globals';
import { LINE, placePoints, TEXTURE, THIN_INK, WIDTH_STEPS, type BorderPoints } from './findBorderPoints.ts';
import { cellsOfBorder, keyOfBorder, retallyBorders, tallyBorders, wallsOf } from './tallyBorders.ts';

/** Points between neighbouring px of a strip. @param ink and width steps of each, in turn. */
function pointsOf(pixels: number, ink: readonly number[], steps: readonly number[], row = 0): BorderPoints {
  const count = pixels - 1;
  const turn = (values: readonly number[]): Uint8Array =>
    Uint8Array.from({ length: count }, (_, k) => values[k % values.length]!);
  return {
    count,
    rowStride: 2,
    one: Int32Array.from({ length: count }, (_, k) => k),
    two: Int32Array.from({ length: count }, (_, k) => k + 1),
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
    const points = pointsOf(400, [LINE, TEXTURE, THIN_INK], [8, 5, 3, 7, 2]);
    const before = Int32Array.from({ length: 400 }, (_, k) => ((k * k) >> 3) % 9);
    placePoints(points, before);
    const borders = tallyBorders(points);
    // Cell 3 falls apart in 3 and 8, the cell that was 8 is called 9 now.
    const touched = Uint8Array.from({ length: 9 }, (_, cell) => (cell === 3 ? 1 : 0));
    const ofCell = Int32Array.from({ length: 9 }, (_, cell) => (cell === 8 ? 9 : cell));
    const after = before.map((cell, k) => (cell === 8 ? 9 : cell === 3 && k > 200 ? 8 : cell));
    const isNew = Uint8Array.from({ length: 10 }, (_, cell) => (cell === 3 || cell === 8 ? 1 : 0));
    placePoints(points, after, touched, ofCell);
    const partly = retallyBorders(borders, touched, ofCell, isNew, points);
    placePoints(points, after);
    const sorted = (all: typeof borders) => [...all].sort(([a], [b]) => a - b);
    expect(sorted(partly)).toEqual(sorted(tallyBorders(points)));
    expect(partly.get(keyOfBorder(0, 9))).toEqual(borders.get(keyOfBorder(0, 8)));
  });
});
