import { describe, expect, test } from '@jest/globals';
import type { Point } from '@jumble/demo';
import { generateDrawing } from './generateDrawing.ts';
import { grazes } from './grazes.ts';

/** Points every 4 px from one place to another. */
function straight([ax, ay]: Point, [bx, by]: Point): Point[] {
  const steps = Math.ceil(Math.hypot(bx - ax, by - ay) / 4);
  return Array.from({ length: steps + 1 }, (_, k): Point => [
    ax + ((bx - ax) * k) / steps,
    ay + ((by - ay) * k) / steps,
  ]);
}
const level = [straight([0, 100], [200, 100])];

describe('lines that graze each other', () => {
  test.each<[string, Point, Point, boolean]>([
    ['far apart', [0, 130], [200, 130], false],
    ['beside each other, less than a line apart', [0, 108], [200, 108], true],
    ['that end just before the other', [100, 0], [100, 94], true],
    ['that cross squarely', [100, 0], [100, 200], false],
    ['that run onto the other', [100, 0], [100, 100], false],
    ['that cross at a narrow angle', [0, 90], [200, 112], true],
  ])('%s', (_, from, to, expected) => {
    expect(grazes(straight(from, to), level, 5)).toBe(expected);
  });

  test('asked for, they make another drawing of the same seed', async () => {
    const options = { gapWidths: 1, gapShare: 0.6 };
    const [apart, grazing] = await Promise.all([
      generateDrawing(5, 'bold', options),
      generateDrawing(5, 'bold', { ...options, grazing: true }),
    ]);
    expect(Buffer.compare(Buffer.from(grazing.ink.data), Buffer.from(apart.ink.data))).not.toBe(0);
  });
});
