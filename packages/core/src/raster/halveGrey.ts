import type { GreyRaster } from './GreyRaster.ts';

/** A page larger than this is slow to work on, in px: half its size is offered. */
export const LARGE_PAGE_PX = 60_000_000;

/** A raster at half the size: the mean of every four pixels; odd rims repeat. Cost: one read. */
export function halveGrey({ width, height, data }: GreyRaster): GreyRaster {
  const [w, h] = [(width + 1) >> 1, (height + 1) >> 1];
  const out = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) {
    halveRow(data, 2 * y * width, Math.min(2 * y + 1, height - 1) * width, width, out, y * w, w);
  }
  return { width: w, height: h, data: out };
}

function halveRow(
  data: Uint8Array,
  top: number,
  bottom: number,
  width: number,
  out: Uint8Array,
  to: number,
  count: number,
): void {
  for (let x = 0; x < count; x++) {
    const left = 2 * x;
    const right = left + 1 < width ? left + 1 : left;
    out[to + x] = (data[top + left]! + data[top + right]! + data[bottom + left]! + data[bottom + right]! + 2) >> 2;
  }
}
