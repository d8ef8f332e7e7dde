/** @jest-environment node */
import { expect, test } from '@jest/globals';
import { draftRects } from './draftRects.ts';
import type { Rect } from './Picture.ts';

type Point = readonly [number, number];
const holds = (rects: readonly Rect[], [px, py]: Point): boolean =>
  rects.some(({ x, y, width, height }) => px >= x && py >= y && px <= x + width && py <= y + height);

test('a way that grew is touched at its end alone', () => {
  const before = { points: [[0, 0], [50, 0]] as const, closed: false }; // prettier-ignore
  const rects = draftRects(before, { points: [...before.points, [50, 30]], closed: false }, 2)!;
  expect(rects).toHaveLength(1);
  for (const at of [[50, 0], [50, 15], [50, 30], [53, 15]] as Point[]) expect(holds(rects, at)).toBe(true); // prettier-ignore
  expect(holds(rects, [20, 0])).toBe(false);
});

test('a loop that grew is touched where it closes as well, before and now, but not all of its box', () => {
  const before = { points: [[0, 0], [200, 100]] as const, closed: true }; // prettier-ignore
  const rects = draftRects(before, { points: [...before.points, [200, 200]], closed: true }, 1)!;
  for (const at of [[100, 50], [100, 100], [200, 150]] as Point[]) expect(holds(rects, at)).toBe(true); // prettier-ignore
  expect(holds(rects, [30, 190])).toBe(false);
  expect(holds(rects, [190, 20])).toBe(false);
});

test('a draft that came, went, or lost points is drawn anew as a whole', () => {
  const way = { points: [[0, 0], [9, 9]] as const, closed: false }; // prettier-ignore
  expect(draftRects(null, way, 1)).toBeNull();
  expect(draftRects(way, null, 1)).toBeNull();
  expect(draftRects(way, { points: [[0, 0]], closed: false }, 1)).toBeNull();
});
