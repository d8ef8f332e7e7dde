import { describe, expect, test } from '@jest/globals';
import { correctingMarks, LOOK_STEP, type PageLook } from './correctingMarks.ts';

/** A row of boxes of 20 px with ink of 4 px between them, 40 px high. */
function boxes(parts: readonly (string | null)[], boxPx = 20): PageLook {
  const [width, height] = [parts.length * (boxPx + 4) + 4, 40];
  const regionOf = (x: number, y: number): number =>
    y < 4 || y >= 36 || x % (boxPx + 4) < 4 ? -1 : Math.floor(x / (boxPx + 4));
  const samples = Array.from({ length: Math.ceil((width * height) / LOOK_STEP) }, (_, k) =>
    regionOf((k * LOOK_STEP) % width, Math.floor((k * LOOK_STEP) / width)),
  );
  return {
    width,
    height,
    regions: parts.map((part, box) => ({ at: 20 * width + box * (boxPx + 4) + 4 + (boxPx >> 1), part })),
    regionOfSample: samples,
  };
}
const boxAt = (x: number, boxPx = 20): number => Math.floor(x / (boxPx + 4));

describe('marks that put right', () => {
  test('are none where all is as intended', () => {
    expect(correctingMarks(boxes(['a', 'b']), ['a', 'b'])).toEqual([]);
    expect(correctingMarks(boxes(['a', 'b']), ['a', null])).toEqual([]);
  });

  test('take all shapes of a part near by in one go, over others that are marked too', () => {
    const marks = correctingMarks(boxes([null, null, null, null, null, null]), ['a', 'b', 'a', 'b', 'a', 'b']);
    expect(marks.map(({ part }) => part)).toEqual(['a', 'b']);
    for (const [k, { points }] of marks.entries()) {
      const own = [0, 2, 4].map((box) => box + k);
      // Every one of its own shapes is rubbed longer than any other is passed.
      const turns = (box: number): number => points.filter(([x]) => boxAt(x) === box).length;
      for (const box of own) expect(turns(box)).toBeGreaterThan(1);
      for (const box of [0, 1, 2, 3, 4, 5]) if (!own.includes(box)) expect(turns(box)).toBe(0);
    }
  });

  test('do not pass what is so wide that it would be meant', () => {
    expect(correctingMarks(boxes([null, 'b', null]), ['a', 'b', 'a'])).toHaveLength(1);
    expect(correctingMarks(boxes([null, 'b', null], 200), ['a', 'b', 'a'])).toHaveLength(2);
  });

  test('rub a small shape so often to and fro that it is meant, and no more', () => {
    const { points } = correctingMarks(boxes([null]), ['a'])[0]!;
    const length = points.reduce((sum, [x, y], k) => {
      const [fx, fy] = points[Math.max(0, k - 1)]!;
      return sum + Math.max(Math.abs(x - fx), Math.abs(y - fy));
    }, 0);
    const reach = Math.max(
      ...[0, 1].map((axis) => Math.max(...points.map((p) => p[axis]!)) - Math.min(...points.map((p) => p[axis]!))),
    );
    expect(length).toBeGreaterThanOrEqual(2 * (reach + 1));
    expect(length).toBeLessThan(6 * reach);
  });

  test('keep to what is on the screen', () => {
    const parts = Array.from({ length: 60 }, () => null);
    const marks = correctingMarks(
      boxes(parts, 40),
      parts.map(() => 'a'),
    );
    expect(marks.length).toBeGreaterThan(1);
    for (const { points } of marks) {
      const xs = points.map(([x]) => x);
      expect(Math.max(...xs) - Math.min(...xs)).toBeLessThanOrEqual(1200);
    }
  });
});
