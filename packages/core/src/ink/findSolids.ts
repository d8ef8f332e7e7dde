import { depth2At } from '../raster/depth2At.ts';
import { Int32Stack } from '../raster/growable.ts';

/** A solid black: ink much wider than the lines. */
export interface Solid {
  /** Its deepest point, in px: what a decision on it is kept under. */
  readonly at: readonly [number, number];
  /** Ink px farther from paper than the rim. */
  readonly areaPx: number;
  /** `[x0, y0, x1, y1]`, the last two exclusive. */
  readonly box: readonly [number, number, number, number];
}

/** Ink this many line widths wide is a solid black. */
export const SOLID_WIDTHS = 4;
/** Smaller ones, in squares of the line width, are blots and thick ends of strokes. */
const LEAST_AREA = 12;

/** How far a solid black keeps a rim of plain ink around it, so that it stays apart from its surroundings. */
export function rimOf(lineWidthPx: number): number {
  return Math.max(2, Math.round(lineWidthPx));
}

/** Square of the depth from which on ink is a solid black, in px². */
export function solidDepth2(lineWidthPx: number): number {
  return (SOLID_WIDTHS * SOLID_WIDTHS * lineWidthPx * lineWidthPx) / 4;
}

export function isLargeSolid(areaPx: number, lineWidthPx: number): boolean {
  return areaPx >= LEAST_AREA * lineWidthPx * lineWidthPx;
}

interface InkField {
  readonly width: number;
  readonly height: number;
  /** `~index` of the nearest paper on ink. */
  readonly field: Int32Array;
}

/**
 * Finds the solid blacks of a page, the largest first: places deeper in the ink than lines ever are,
 * each as far as the ink behind its rim reaches.
 *
 * @param known points of solid blacks that were ruled on: those keep their points.
 * Cost: a read of the field, and the solid ink once more.
 */
export function findSolids(
  page: InkField,
  lineWidthPx: number,
  known: readonly (readonly [number, number])[] = [],
): Solid[] {
  const { width, height, field } = page;
  if (lineWidthPx <= 0) return [];
  const deep2 = solidDepth2(lineWidthPx);
  const seen = new Uint8Array(width * height);
  const solids: Solid[] = [];
  const ruled = new Set(known.map(([x, y]) => y * width + x));
  // Deep places are wide: looking at a grid of points misses none.
  const stride = Math.max(1, Math.floor(lineWidthPx));
  for (let y = stride >> 1; y < height; y += stride) {
    for (let x = stride >> 1; x < width; x += stride) {
      const at = y * width + x;
      if (field[at]! >= 0 || seen[at] === 1 || depth2At(field, width, at) < deep2) continue;
      const body = growSolid(page, at, rimOf(lineWidthPx), seen);
      let deepest = at;
      let most = -1;
      const box: [number, number, number, number] = [width, height, 0, 0];
      for (let k = 0; k < body.length; k++) {
        const one = body.data[k]!;
        const px = one % width;
        const py = (one - px) / width;
        const d2 = ruled.has(one) ? Infinity : depth2At(field, width, one);
        if (d2 > most || (d2 === most && one < deepest)) {
          most = d2;
          deepest = one;
        }
        box[0] = Math.min(box[0], px);
        box[1] = Math.min(box[1], py);
        box[2] = Math.max(box[2], px + 1);
        box[3] = Math.max(box[3], py + 1);
      }
      if (!isLargeSolid(body.length, lineWidthPx)) continue;
      solids.push({ at: [deepest % width, Math.floor(deepest / width)], areaPx: body.length, box });
    }
  }
  return solids.sort((a, b) => b.areaPx - a.areaPx || a.at[1] - b.at[1] || a.at[0] - b.at[0]);
}

/**
 * Pixel indices of the ink around a point that lies farther than `rimPx` from paper; none where the point does not.
 *
 * @param seen a byte a pixel; what is found is set to 1, what is 1 is not looked at.
 */
export function growSolid({ width, field }: InkField, at: number, rimPx: number, seen: Uint8Array): Int32Stack {
  const body = new Int32Stack(4096);
  const rim2 = rimPx * rimPx;
  if (field[at]! >= 0 || depth2At(field, width, at) <= rim2) return body;
  seen[at] = 1;
  body.push(at);
  for (let k = 0; k < body.length; k++) {
    const one = body.data[k]!;
    const x = one % width;
    for (let side = 0; side < 4; side++) {
      if ((side === 0 && x === 0) || (side === 1 && x === width - 1)) continue;
      const next = one + (side === 0 ? -1 : side === 1 ? 1 : side === 2 ? -width : width);
      if (next < 0 || next >= seen.length || seen[next] === 1 || field[next]! >= 0) continue;
      if (depth2At(field, width, next) <= rim2) continue;
      seen[next] = 1;
      body.push(next);
    }
  }
  return body;
}
