import { expect, test } from '@jest/globals';
import { pointsOf } from './pointsOf.ts';

// Two regions beside each other, each 200 px wide, with a 20-px line between them; a speck of one px in the line.
const [width, height] = [420, 200];
const field = new Int32Array(width * height);
for (let p = 0; p < field.length; p++) {
  const x = p % width;
  field[p] = x < 200 ? 0 : x >= 220 ? 1 : -1;
}
const speck = 100 * width + 211;
field[speck] = 2;
const page = {
  width,
  height,
  field,
  regions: { count: 3, ofCell: Int32Array.of(0, 1, 2), anchor: Int32Array.of(0, 219, speck) },
} as unknown as Parameters<typeof pointsOf>[0];
const place = { scaleX: 0.1, scaleY: 0.1, shiftX: 0, shiftY: 0 };

test('a region is read well inside it where it is large enough, and at its anchor where nothing else lies in it', () => {
  const [left, right, small] = pointsOf(page, place);
  expect(left!.inside && right!.inside).toBe(true);
  for (const p of left!.at) {
    expect(p % width).toBeGreaterThanOrEqual(20);
    expect(p % width).toBeLessThan(180);
  }
  expect(small).toEqual({ at: [speck], inside: false });
  expect(left!.at.length).toBeLessThanOrEqual(300);
});

test('who asks for some regions hears of those', () => {
  const [left, right] = pointsOf(page, place, Uint8Array.of(0, 1, 0));
  expect(right).toEqual(pointsOf(page, place)[1]);
  expect(left!.inside).toBe(false);
});
