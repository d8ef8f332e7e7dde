import type { InkGrid } from './InkGrid.ts';

/** How wide cells are. */
export interface CellRadii {
  /** Largest distance to ink inside each cell, in px of the page. */
  readonly radiusPx: Float64Array;
  /** Index of the page's pixel where that is, -1 for a cell that shows none at the size distances are kept at. */
  readonly deepest: Int32Array;
}

/**
 * Measures cells by the distances kept at a reduced size.
 *
 * @param factor page px per px of `paper`.
 * @param into what is known: cells with a `deepest` of -1 are measured, the others are left as they are.
 * @param box `[x0, y0, x1, y1]` that holds all cells to be measured, in px of the page, the last two exclusive.
 */
export function measureRadii(
  field: Int32Array,
  width: number,
  height: number,
  paper: InkGrid,
  factor: number,
  into: CellRadii,
  box: readonly [number, number, number, number] = [0, 0, width, height],
): void {
  const { radiusPx, deepest } = into;
  const isWanted = new Uint8Array(deepest.length);
  for (let c = 0; c < deepest.length; c++) isWanted[c] = deepest[c] === -1 ? 1 : 0;
  const squared = new Float64Array(deepest.length);
  const half = factor >> 1;
  const [left, top] = [Math.floor(box[0] / factor), Math.floor(box[1] / factor)];
  const right = Math.min(paper.width, Math.ceil(box[2] / factor) + 1);
  const bottom = Math.min(paper.height, Math.ceil(box[3] / factor) + 1);
  for (let y = top; y < bottom; y++) {
    const base = Math.min(height - 1, y * factor + half) * width;
    for (let x = left; x < right; x++) {
      const at = ~paper.nearest[y * paper.width + x]!;
      // Where the page holds no ink at all the index lies beyond it.
      if (at < 0 || at >= paper.nearest.length) continue;
      const point = base + Math.min(width - 1, x * factor + half);
      const cell = field[point]!;
      if (cell < 0 || isWanted[cell] === 0) continue;
      const sy = (at / paper.width) | 0;
      const dx = x - (at - sy * paper.width);
      const dy = y - sy;
      const reach = dx * dx + dy * dy;
      if (reach > squared[cell]!) {
        squared[cell] = reach;
        deepest[cell] = point;
      }
    }
  }
  for (let c = 0; c < deepest.length; c++) {
    if (isWanted[c] === 1) radiusPx[c] = factor * Math.sqrt(squared[c]!);
  }
}
