import { SOLID_WIDTHS } from '../ink/findSolids.ts';
import type { Survey } from '../model/Survey.ts';

/** How straight two sides lie across from each other: the share of the way between them that is not a corner. */
const ACROSS_SHARE = 0.9;

/**
 * The width of the widest line of a page, solid blacks left out, in px; 0 where there is no line. It is measured where two
 * neighbouring ink pixels take their colour from opposite sides. Cost: a read of the ink.
 */
export function widestLine({
  width,
  height,
  field,
  lineWidthPx,
}: Pick<Survey, 'width' | 'height' | 'field' | 'lineWidthPx'>): number {
  const most = SOLID_WIDTHS * lineWidthPx.median;
  let widest = 0;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      if (field[at]! >= 0) continue;
      if (x + 1 < width) widest = Math.max(widest, acrossPair(field, width, at, at + 1, most));
      if (y + 1 < height) widest = Math.max(widest, acrossPair(field, width, at, at + width, most));
    }
  }
  return Math.round(widest * 10) / 10;
}

function acrossPair(field: Int32Array, width: number, p: number, q: number, most: number): number {
  const from = ~field[p]!;
  const to = field[q]! >= 0 ? q : ~field[q]!;
  if (from === to || from >= field.length || to >= field.length) return 0;
  const [fx, tx, px, qx] = [from % width, to % width, p % width, q % width];
  const [fy, ty, py, qy] = [(from - fx) / width, (to - tx) / width, (p - px) / width, (q - qx) / width];
  const across = length(tx - fx, ty - fy);
  if (across - 1 > most) return 0;
  return across < ACROSS_SHARE * (length(px - fx, py - fy) + length(qx - tx, qy - ty) + 1) ? 0 : across - 1;
}

function length(dx: number, dy: number): number {
  return Math.sqrt(dx * dx + dy * dy);
}
