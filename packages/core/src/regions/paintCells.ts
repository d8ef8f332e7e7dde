import type { PaperRuns } from './scanRuns.ts';

/** Stands on ink from which no paper can be reached. */
export const NO_PAPER = -0x80000000;

/**
 * Writes each paper pixel's cell into the field, and on each ink pixel, as a negative number, how
 * many rows up the next paper of its column is ({@link NO_PAPER} for none): the first half of
 * `spreadIntoInk`, done while the row above is still at hand.
 *
 * @param cellOfRun null where nobody asks which cell a pixel lies in: paper stays as it is, which must be 0 or more.
 * @param field `width * height`; every pixel is written.
 */
export function paintCells(
  runs: PaperRuns,
  cellOfRun: Int32Array | null,
  width: number,
  height: number,
  field: Int32Array,
): void {
  for (let y = 0; y < height; y++) {
    let x = 0;
    for (let r = runs.row[y]!; r < runs.row[y + 1]!; r++) {
      const from = runs.start[r]!;
      if (from > x) measureUp(field, width, y, x, from);
      x = runs.end[r]!;
      if (cellOfRun !== null) paintRun(field, y * width + from, y * width + x, cellOfRun[r]!);
    }
    if (x < width) measureUp(field, width, y, x, width);
  }
}

/** Writes the cells of other runs over the paper of a field; its ink stays as it is. */
export function repaintCells(
  runs: PaperRuns,
  cellOfRun: Int32Array,
  width: number,
  height: number,
  field: Int32Array,
): void {
  for (let y = 0; y < height; y++) {
    const base = y * width;
    for (let r = runs.row[y]!; r < runs.row[y + 1]!; r++) {
      const cell = cellOfRun[r]!;
      // Most runs keep their cell's number.
      if (field[base + runs.start[r]!] !== cell || field[base + runs.end[r]! - 1] !== cell) {
        paintRun(field, base + runs.start[r]!, base + runs.end[r]!, cell);
      }
    }
  }
}

function paintRun(field: Int32Array, from: number, to: number, cell: number): void {
  if (to - from > 48) field.fill(cell, from, to);
  else for (let at = from; at < to; at++) field[at] = cell;
}

function measureUp(field: Int32Array, width: number, y: number, from: number, to: number): void {
  const stop = y * width + to;
  if (y === 0) {
    field.fill(NO_PAPER, from, to);
    return;
  }
  for (let at = y * width + from; at < stop; at++) {
    const above = field[at - width]!;
    field[at] = above >= 0 ? -1 : above === NO_PAPER ? NO_PAPER : above - 1;
  }
}
