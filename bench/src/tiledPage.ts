import type { GreyRaster } from '@jumble/core';
import { STEADY_PAGE_COUNT, PAGE_WIDTH, renderInk, renderTruth } from '@jumble/demo';
import { LARGE_HEIGHT, LARGE_WIDTH } from './largePage.ts';

/**
 * Demo pages beside each other and below each other on 26 megapixels: the smaller they are, the finer its lines and
 * the more there is of everything.
 *
 * @param across how many fit beside each other; the last may be cut off.
 * @returns the ink, and the part of each pixel as `renderTruth` has it.
 */
export async function tiledPage(across: number): Promise<{ ink: GreyRaster; truth: Uint8Array }> {
  const scale = LARGE_WIDTH / across / PAGE_WIDTH;
  const [width, height] = [LARGE_WIDTH, LARGE_HEIGHT];
  const data = new Uint8Array(width * height).fill(255);
  const truth = new Uint8Array(width * height);
  const rows = Math.ceil(across);
  for (let number = 1; number <= STEADY_PAGE_COUNT; number++) {
    const [ink, parts] = [await renderInk(number, scale), await renderTruth(number, scale)];
    for (let tile = number - 1; tile < rows * rows; tile += STEADY_PAGE_COUNT) {
      const left = (tile % rows) * ink.width;
      const top = Math.floor(tile / rows) * ink.height;
      const count = Math.min(ink.width, width - left);
      for (let y = 0; y < ink.height && top + y < height; y++) {
        const [from, to] = [y * ink.width, (top + y) * width + left];
        data.set(ink.data.subarray(from, from + count), to);
        truth.set(parts.subarray(from, from + count), to);
      }
    }
  }
  return { ink: { width, height, data }, truth };
}
