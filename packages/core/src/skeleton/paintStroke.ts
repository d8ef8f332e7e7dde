import type { InkGrid } from './InkGrid.ts';
import type { Stroke } from './traceStrokes.ts';

/** The stroke at each pixel of the grid, counted from 1; 0 for none. */
export type Owner = Uint16Array | Int32Array;

/** Wider strokes are marked as so wide. */
export const MOST_WIDTH = 199;

/**
 * Marks a stroke's ink: a disc of its half width around every point of its middle line.
 *
 * @param mark null for how wide it is there. @param onlyFree leaves what is marked already.
 */
export function paintStroke(
  raster: Owner | Uint8Array,
  grid: InkGrid,
  stroke: Stroke,
  mark: number | null,
  onlyFree = false,
): void {
  const last = stroke.x.length - 1;
  const before: Disc = { x: 0, y: 0, r: NO_DISC, value: 0 };
  // Every other point and the last: discs reach a px beyond the ink.
  for (let p = 0; p <= last; p += p + 1 === last ? 1 : 2) {
    const radius = stroke.radius[p]!;
    // Where it crosses another the ink is the other's as well.
    if (radius === 0) continue;
    const value = mark ?? Math.min(MOST_WIDTH, Math.ceil(2 * radius));
    if (value !== before.value) before.r = NO_DISC;
    paintDisc(raster, grid, stroke.x[p]!, stroke.y[p]!, Math.ceil(radius + 1), value, onlyFree, before);
  }
}

interface Disc {
  x: number;
  y: number;
  r: number;
  value: number;
}
/** Radius of a disc that was not painted. */
const NO_DISC = -1;

/** @param before painted already with the same value: what lies in it is left out. The disc itself afterwards. */
function paintDisc(
  raster: Owner | Uint8Array,
  { width, height, ink }: InkGrid,
  cx: number,
  cy: number,
  r: number,
  value: number,
  onlyFree: boolean,
  before: Disc,
): void {
  const halves = halfWidthsOf(r);
  const halvesBefore = before.r === NO_DISC ? halves : halfWidthsOf(before.r);
  const bottom = Math.min(height - 1, cy + r);
  for (let y = Math.max(0, cy - r); y <= bottom; y++) {
    const half = halves[Math.abs(y - cy)]!;
    const row = y * width;
    const last = row + Math.min(width - 1, cx + half);
    let at = row + Math.max(0, cx - half);
    const dy = Math.abs(y - before.y);
    if (dy <= before.r) {
      const from = row + before.x - halvesBefore[dy]!;
      const to = row + before.x + halvesBefore[dy]!;
      if (at >= from) at = Math.max(at, to + 1);
      else {
        paintSpan(raster, ink, at, Math.min(last, from - 1), value, onlyFree);
        at = to + 1;
      }
    }
    paintSpan(raster, ink, at, last, value, onlyFree);
  }
  before.x = cx;
  before.y = cy;
  before.r = r;
  before.value = value;
}

function paintSpan(
  raster: Owner | Uint8Array,
  ink: Uint8Array,
  from: number,
  last: number,
  value: number,
  onlyFree: boolean,
): void {
  for (let at = from; at <= last; at++) {
    if (ink[at]! >= 128 && !(onlyFree && raster[at]! > 0)) raster[at] = value;
  }
}

/** How far a disc reaches to either side in each row from its middle on, by its radius. */
const HALF_WIDTHS: Uint16Array[] = [];

function halfWidthsOf(r: number): Uint16Array {
  return (HALF_WIDTHS[r] ??= Uint16Array.from({ length: r + 1 }, (_, dy) => Math.floor(Math.sqrt(r * r - dy * dy))));
}
