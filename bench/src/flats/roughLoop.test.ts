import { expect, test } from '@jest/globals';
import { roughLoop } from './roughLoop.ts';

const [WIDTH, HEIGHT] = [200, 150];
function maskOf(...boxes: [number, number, number, number][]): Uint8Array {
  const mask = new Uint8Array(WIDTH * HEIGHT);
  for (const [x0, y0, x1, y1] of boxes) for (let y = y0; y < y1; y++) mask.fill(1, y * WIDTH + x0, y * WIDTH + x1);
  return mask;
}

test('a loop goes round each figure, near by, and what it goes round has no holes and no lines', () => {
  // Two shapes of a figure with a line between them, around a hole; another figure; a speck.
  const figures = roughLoop(
    maskOf(
      [20, 20, 60, 30],
      [20, 32, 30, 60],
      [50, 32, 60, 60],
      [20, 60, 60, 70],
      [120, 40, 150, 90],
      [180, 5, 182, 7],
    ),
    WIDTH,
    HEIGHT,
    () => 0.5,
  );
  expect(figures).toHaveLength(2);
  const [first] = figures;
  const sum = first!.figure.reduce((all, one) => all + one, 0);
  expect(sum).toBe(40 * 50);
  const xs = first!.loop.map(([x]) => x);
  expect(Math.min(...xs)).toBe(20 - 1);
  expect(Math.max(...xs)).toBe(59 + 1);
  // It never runs through the figure.
  expect(first!.loop.some(([x, y]) => first!.figure[y * WIDTH + x] === 1)).toBe(false);
});
