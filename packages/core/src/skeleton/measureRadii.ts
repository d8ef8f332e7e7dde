import type { PaperRuns } from '../raster/scanRuns.ts';
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
 * @param runs of the page in the rows of the box at least. @param width of the page.
 * @param factor page px per px of `paper`.
 * @param into what is known: cells with a `deepest` of -1 are measured, the others are left as they are.
 * @param box `[x0, y0, x1, y1]` that holds all cells to be measured, in px of the page, the last two exclusive.
 */
export function measureRadii(
  runs: PaperRuns,
  cellOfRun: Int32Array,
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
    const row = Math.min(height - 1, y * factor + half);
    for (let r = runs.row[row]!; r < runs.row[row + 1]!; r++) {
      const cell = cellOfRun[r]!;
      if (isWanted[cell] === 0) continue;
      const from = Math.max(left, Math.ceil((runs.start[r]! - half) / factor));
      // What lies beyond the page's edge stands for its last column.
      const to = runs.end[r]! === width ? right : Math.min(right, Math.ceil((runs.end[r]! - half) / factor));
      const x = deepestIn(paper, y, from, to, squared[cell]!);
      if (x < 0) continue;
      squared[cell] = squaredDepth(paper.nearest, paper.width, 1 / paper.width, x, y);
      deepest[cell] = row * width + Math.min(width - 1, x * factor + half);
    }
  }
  for (let c = 0; c < deepest.length; c++) {
    if (isWanted[c] === 1) radiusPx[c] = factor * Math.sqrt(squared[c]!);
  }
}

/** The first of the deepest pixels of a row that lies deeper than given, -1 for none. */
function deepestIn(paper: InkGrid, y: number, from: number, to: number, squared: number): number {
  const { nearest, width } = paper;
  const inverse = 1 / width;
  let most = squared;
  let found = -1;
  for (let x = from; x < to; x++) {
    const depth = squaredDepth(nearest, width, inverse, x, y);
    if (depth <= most) continue;
    most = depth;
    found = x;
  }
  return found;
}

/** Squared distance to ink; 0 on ink, and where the page holds none at all. @param inverse of the width. */
function squaredDepth(nearest: Int32Array, width: number, inverse: number, x: number, y: number): number {
  const at = ~nearest[y * width + x]!;
  if (at < 0 || at >= nearest.length) return 0;
  // Multiplying is faster than dividing, and the half keeps it exact.
  const sy = ((at + 0.5) * inverse) | 0;
  const dx = x - (at - sy * width);
  const dy = y - sy;
  return dx * dx + dy * dy;
}
