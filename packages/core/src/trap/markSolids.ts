import type { Survey } from '../model/Survey.ts';
import { findSolids, growSolid, rimOf } from '../ink/findSolids.ts';
import { depth2At } from '../raster/depth2At.ts';

/**
 * The solid blacks of a page with their rims, a bit a pixel, row-major; null for none.
 *
 * Cost: a read of the field, and the solid ink once more.
 */
export function markSolids({
  width,
  height,
  field,
  lineWidthPx,
}: Pick<Survey, 'width' | 'height' | 'field' | 'lineWidthPx'>): Uint8Array | null {
  const page = { width, height, field };
  const solids = findSolids(page, lineWidthPx.median);
  if (solids.length === 0) return null;
  const rim = rimOf(lineWidthPx.median);
  const bits = new Uint8Array((width * height + 7) >> 3);
  const seen = new Uint8Array(width * height);
  for (const { at } of solids) {
    const body = growSolid(page, at[1] * width + at[0], rim, seen);
    for (let k = 0; k < body.length; k++) markAround(page, body.data[k]!, rim, bits);
  }
  return bits;
}

/** Marks a pixel behind the rim and, where it lies right behind it, the rim before it. */
function markAround(
  { width, height, field }: { readonly width: number; readonly height: number; readonly field: Int32Array },
  at: number,
  rim: number,
  bits: Uint8Array,
): void {
  bits[at >> 3] = bits[at >> 3]! | (1 << (at & 7));
  if (depth2At(field, width, at) > (rim + 2) * (rim + 2)) return;
  const x = at % width;
  const y = (at - x) / width;
  for (let py = Math.max(0, y - rim); py <= Math.min(height - 1, y + rim); py++) {
    for (let px = Math.max(0, x - rim); px <= Math.min(width - 1, x + rim); px++) {
      const next = py * width + px;
      const isNear = (px - x) * (px - x) + (py - y) * (py - y) <= rim * rim;
      if (field[next]! < 0 && isNear) bits[next >> 3] = bits[next >> 3]! | (1 << (next & 7));
    }
  }
}
