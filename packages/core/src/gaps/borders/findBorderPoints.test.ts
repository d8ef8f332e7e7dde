import { describe, expect, test } from '@jest/globals';
import { DEFAULT_PREP } from '../../model/PageDocument.ts';
import type { GreyRaster } from '../../raster/GreyRaster.ts';
import { openSurvey } from '../../survey/surveyPage.ts';
import { type Line, ROOM, strokes } from '../../tests/textGrid.ts';
import { LINE, TEXTURE, THIN_INK, WIDTH_STEPS } from './findBorderPoints.ts';
import { LETTER, isTexture, rowAt } from '../hatching/findTexture.ts';

const over = (one: GreyRaster, two: GreyRaster): GreyRaster => ({
  ...one,
  data: one.data.map((grey, at) => Math.min(grey, two.data[at]!)),
});

/** The points whose ink lies in a box: half way between their two px of paper. */
function pointsIn(art: GreyRaster, [x0, y0, x1, y1]: Line) {
  const { base } = openSurvey(art, DEFAULT_PREP);
  const { borderPoints: points, width } = base;
  const found: { ink: number; widths: number; row: number }[] = [];
  for (let k = 0; k < points.count; k++) {
    const [one, two] = [points.one[k]!, points.two[k]!];
    const x = ((one % width) + (two % width)) / 2;
    const y = (Math.floor(one / width) + Math.floor(two / width)) / 2;
    if (x < x0 || x > x1 || y < y0 || y > y1) continue;
    found.push({ ink: points.ink[k]!, widths: points.steps[k]! / WIDTH_STEPS, row: points.row[k]! });
  }
  return found;
}
const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;

describe('points in the middle of ink', () => {
  test('tell lines from ink that is thinner, and how wide both are', () => {
    const art = over(strokes(440, 360, 8, ROOM), strokes(440, 360, 3, [[40, 180, 400, 180]]));
    const wall = pointsIn(art, [100, 30, 340, 50]);
    const thin = pointsIn(art, [100, 170, 340, 190]);
    expect(wall.length).toBeGreaterThan(100);
    expect(thin.length).toBeGreaterThan(100);
    expect(new Set(wall.map(({ ink }) => ink))).toEqual(new Set([LINE]));
    expect(new Set(thin.map(({ ink }) => ink))).toEqual(new Set([THIN_INK]));
    expect(mean(wall.map(({ widths }) => widths))).toBeCloseTo(1, 0);
    expect(mean(thin.map(({ widths }) => widths))).toBeLessThan(0.65);
  });

  test('know hatching, and strokes that may be hatching by how many stand in a row', () => {
    const upright = (from: number, count: number): Line[] =>
      Array.from({ length: count }, (_, k) => [from + 14 * k, 100, from + 14 * k, 220]);
    const art = over(strokes(440, 360, 8, ROOM), strokes(440, 360, 4, [...upright(80, 6), ...upright(300, 2)]));
    const hatching = pointsIn(art, [75, 120, 155, 200]);
    expect(hatching.every(({ ink, row }) => ink === TEXTURE && row === 15)).toBe(true);
    const pair = pointsIn(art, [295, 120, 320, 200]);
    expect(pair.length).toBeGreaterThan(20);
    expect(pair.every(({ ink }) => ink !== TEXTURE)).toBe(true);
    expect(mean(pair.map(({ row }) => row))).toBeGreaterThan(1.5);
    expect(mean(pointsIn(art, [100, 30, 340, 50]).map(({ row }) => row))).toBe(0);
  });
});

test('the mask of texture holds widths, rows and letters apart', () => {
  expect([0, 1, 12, 199, 200, 202, 215, LETTER].map(isTexture)).toEqual([
    false,
    true,
    true,
    true,
    false,
    false,
    false,
    true,
  ]);
  expect([0, 12, 202, 215, LETTER].map(rowAt)).toEqual([0, 15, 2, 15, 15]);
});
