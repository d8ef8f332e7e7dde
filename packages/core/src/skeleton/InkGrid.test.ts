import { describe, expect, test } from '@jest/globals';
import { findFaintInk } from '../ink/findFaintInk.ts';
import { seeded } from '../tests/textGrid.ts';
import { ScratchBuffer } from '../raster/ScratchBuffer.ts';
import { halveInk, inkDistances } from './InkGrid.ts';

describe('ink at half its size', () => {
  test.each([
    [8, 6],
    [9, 6],
    [10, 7],
    [11, 5],
    [3, 3],
    [1, 1],
    [64, 4],
  ])('is the mean of two by two px, of what there is at the edge: %d x %d', (width, height) => {
    const random = seeded(width * 31 + height);
    // Bare paper, solid ink and all between.
    const ink = Uint8Array.from(
      { length: width * height },
      () => [0, 255, Math.floor(256 * random())][(random() * 3) | 0]!,
    );
    const half = halveInk(ink, width, height);
    expect([half.width, half.height]).toEqual([Math.ceil(width / 2), Math.ceil(height / 2)]);
    for (let y = 0; y < half.height; y++) {
      for (let x = 0; x < half.width; x++) {
        const at = (dx: number, dy: number): number =>
          ink[Math.min(height - 1, 2 * y + dy) * width + Math.min(width - 1, 2 * x + dx)]!;
        const mean = Math.floor((at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1)) / 4);
        expect(half.ink[y * half.width + x]).toBe(mean);
      }
    }
  });

  test('keeps a gap of two px open that would be faint ink there', () => {
    const [width, height] = [80, 40];
    const ink = new Uint8Array(width * height);
    // A line 8 px wide, open from x = 39 to 40: half of either px of the reduced size.
    for (let y = 16; y < 24; y++) for (let x = 6; x < 74; x++) if (x !== 39 && x !== 40) ink[y * width + x] = 255;
    const half = halveInk(ink, width, height);
    expect(findFaintInk(half.ink, half.width, half.height).length).toBeGreaterThan(0);
    const grid = inkDistances(half.ink, half.width, half.height);
    for (let y = 8; y < 12; y++) expect(grid.nearest[y * half.width + 19]).toBeGreaterThanOrEqual(0);
  });
});

test('distances do not depend on what lay in the memory before', () => {
  const memory = new ScratchBuffer();
  const random = seeded(5);
  const drawing = (): Uint8Array => Uint8Array.from({ length: 40 * 30 }, () => (random() < 0.5 ? 255 : 0));
  for (let k = 0; k < 3; k++) {
    const ink = drawing();
    expect(inkDistances(ink, 40, 30, memory).nearest).toEqual(inkDistances(ink, 40, 30).nearest);
  }
});
