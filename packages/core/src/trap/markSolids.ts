import { isLargeSolid, growSolid, rimOf, solidDepth2 } from '../ink/findSolids.ts';
import type { Survey } from '../model/Survey.ts';
import { depth2At } from '../raster/depth2At.ts';

/** The solid blacks of a page. */
export interface SolidInk {
  /** A bit a pixel, row-major: the ink behind their rims. */
  readonly bits: Uint8Array;
  /** Ink this near to paper, in px, is rim: it belongs to what lies behind it. */
  readonly rimPx: number;
}

/**
 * Marks the solid blacks of a page; null for none.
 *
 * Cost: a look at a grid of points, and the solid ink once.
 */
export function markSolids({
  width,
  height,
  field,
  lineWidthPx,
}: Pick<Survey, 'width' | 'height' | 'field' | 'lineWidthPx'>): SolidInk | null {
  const line = lineWidthPx.median;
  if (line <= 0) return null;
  const deep2 = solidDepth2(line);
  const rimPx = rimOf(line);
  const bits = new Uint8Array((width * height + 7) >> 3);
  const seen = new Uint8Array(width * height);
  const stride = Math.max(1, Math.floor(line));
  let count = 0;
  for (let y = stride >> 1; y < height; y += stride) {
    for (let at = y * width + (stride >> 1); at < (y + 1) * width; at += stride) {
      if (field[at]! >= 0 || seen[at] === 1 || depth2At(field, width, at) < deep2) continue;
      const body = growSolid({ width, height, field }, at, rimPx, seen);
      if (!isLargeSolid(body.length, line)) continue;
      count++;
      for (let k = 0; k < body.length; k++) {
        const one = body.data[k]!;
        bits[one >> 3] = bits[one >> 3]! | (1 << (one & 7));
      }
    }
  }
  return count === 0 ? null : { bits, rimPx };
}

/**
 * Whether a pixel of ink belongs to a solid black: it lies behind the rim, or right before what does.
 *
 * @param dx, dy from its nearest paper to it; `d2` is their square.
 */
export function isSolid(
  { bits, rimPx }: SolidInk,
  width: number,
  height: number,
  x: number,
  y: number,
  dx: number,
  dy: number,
  d2: number,
): boolean {
  let at = y * width + x;
  if (((bits[at >> 3]! >> (at & 7)) & 1) === 1) return true;
  if (d2 > rimPx * rimPx) return false;
  const on = (rimPx + BEHIND_PX) / Math.sqrt(d2) - 1;
  const bx = Math.round(x + dx * on);
  const by = Math.round(y + dy * on);
  if (bx < 0 || by < 0 || bx >= width || by >= height) return false;
  at = by * width + bx;
  return ((bits[at >> 3]! >> (at & 7)) & 1) === 1;
}

/** So far behind the rim a pixel is sure to be counted as behind it. */
const BEHIND_PX = 1.5;
