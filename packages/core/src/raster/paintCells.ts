import type { PaperRuns } from './scanRuns.ts';

/** Writes the cell of each run over the paper of a field; its ink stays as it is. */
export function paintCells(
  runs: PaperRuns,
  cellOfRun: Int32Array,
  width: number,
  height: number,
  field: Int32Array,
): void {
  for (let y = 0; y < height; y++) {
    const base = y * width;
    for (let r = runs.row[y]!; r < runs.row[y + 1]!; r++)
      paintRun(field, base + runs.start[r]!, base + runs.end[r]!, cellOfRun[r]!);
  }
}

function paintRun(field: Int32Array, from: number, to: number, cell: number): void {
  if (to - from > 48) field.fill(cell, from, to);
  else for (let at = from; at < to; at++) field[at] = cell;
}
