import { describe, expect, test } from '@jest/globals';
import { Int32Stack } from '../raster/growable.ts';
import { inkGridOf } from '../tests/inkGrid.ts';
import { randomArt, seeded } from '../tests/textGrid.ts';
import type { InkGrid } from './InkGrid.ts';
import { byDepth, neighbourhood, thinAgain, thinInk } from './thinInk.ts';

const [WIDTH, HEIGHT] = [140, 110];

function gridOf(seed: number): InkGrid {
  return inkGridOf(randomArt(seed, WIDTH, HEIGHT));
}

/** Whether the middle of a neighbourhood joins nothing and ends nothing, told by walking around it. */
function mayGo(on: Uint8Array, at: number, stride: number): boolean {
  const code = neighbourhood(on, at, stride);
  const isOn = (k: number): boolean => ((code >> (k & 7)) & 1) === 1;
  // Gaps that paper gets through: straight neighbours that are paper, those that touch counted once.
  let gaps = 0;
  for (let k = 0; k < 8; k += 2) if (!isOn(k) && (isOn(k + 1) || isOn(k + 2))) gaps++;
  const count = [0, 1, 2, 3, 4, 5, 6, 7].filter(isOn).length;
  return gaps === 1 && count > 1;
}

/** One pass over all that is left, in the order of thinning. */
function passOver(grid: InkGrid, on: Uint8Array, stride: number, pixels: Int32Array): void {
  for (const at of byDepth(grid, stride, pixels)) if (on[at] === 1 && mayGo(on, at, stride)) on[at] = 0;
}

describe('thinning', () => {
  test.each([1, 2, 3, 4])('goes by depth, a pixel after the other, until none may go (drawing %i)', (seed) => {
    const grid = gridOf(seed);
    const { on, stride, pixels } = thinInk(grid);
    const plain = new Uint8Array(on.length);
    const ink: number[] = [];
    for (let y = 0; y < HEIGHT; y++) {
      for (let x = 0; x < WIDTH; x++) if (grid.nearest[y * WIDTH + x]! < 0) ink.push((y + 1) * stride + x + 1);
    }
    for (const at of ink) plain[at] = 1;
    const countLeft = (): number => plain.reduce((sum, one) => sum + one, 0);
    for (let before = -1; before !== countLeft();) {
      before = countLeft();
      passOver(grid, plain, stride, Int32Array.from(ink));
    }
    expect(on).toEqual(plain);
    expect([...pixels]).toEqual(ink.filter((at) => on[at] === 1));
  });

  test('again beside what was taken away is as over everything', () => {
    let more = 0;
    for (const seed of [1, 2, 3, 4, 5, 6]) {
      const grid = gridOf(seed);
      const skeleton = thinInk(grid);
      const { on, stride, pixels } = skeleton;
      const plain = on.slice();
      const random = seeded(seed + 40);
      const waiting = new Int32Stack();
      for (let round = 0; round < 3; round++) {
        const doomed = [...pixels].filter((at) => on[at] === 1 && random() < 0.1);
        const gone = new Int32Stack();
        for (const at of doomed) {
          on[at] = plain[at] = 0;
          gone.push(at);
        }
        thinAgain(grid, skeleton, gone, waiting);
        more += gone.length - doomed.length;
        passOver(grid, plain, stride, pixels);
        expect(on).toEqual(plain);
      }
    }
    expect(more).toBeGreaterThan(0);
  });
});
