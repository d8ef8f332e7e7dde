import { holdWordAt, type HoldPaint } from '../holds/HoldPaint.ts';
import type { PyramidLevel } from './buildPyramid.ts';

/**
 * Finds the colour of the ink in a row: that of the line at the pixel, or near it, for soft ink averaged from afar may have
 * none of its own there.
 */
export function findInks(
  { width, height }: PyramidLevel,
  holds: HoldPaint | undefined,
  full: Int32Array,
  y: number,
  ink: Uint8Array,
  shrink: number,
  inks: Int32Array,
): void {
  if (holds === undefined) return;
  const half = shrink > 1 ? shrink >> 1 : 0;
  for (let px = 0; px < full.length; px++) {
    const x = full[px]!;
    inks[px] = 0;
    if (x < 0 || ink[px] === 0) continue;
    let at = y * width + x;
    let row = y;
    if (holds.ofPixel[at] === 0 && half > 0) {
      // The four places half a level px away.
      for (let k = 0; k < 4 && holds.ofPixel[at] === 0; k++) {
        const nx = k === 0 ? x - half : k === 1 ? x + half : x;
        const ny = k === 2 ? y - half : k === 3 ? y + half : y;
        if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
        if (holds.ofPixel[ny * width + nx] !== 0) [at, row] = [ny * width + nx, ny];
      }
    }
    if (holds.ofPixel[at] !== 0) inks[px] = holdWordAt(holds, width, at - row * width, row);
  }
}
