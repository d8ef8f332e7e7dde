import { SOLID_WIDTHS } from '../ink/findSolids.ts';
import { widthBetween } from './acrossLine.ts';
import type { Survey } from '../model/Survey.ts';

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
  const wide = widthBetween(from, p, q, to, width);
  return wide > most ? 0 : wide;
}
