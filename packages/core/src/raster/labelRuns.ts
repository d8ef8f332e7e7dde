import { findRoot, joinRoots, ownRoots } from './unionFind.ts';
import type { PaperRuns } from './scanRuns.ts';

/** The connected pieces of paper, in reading order of their first pixel. */
export interface Cells {
  readonly count: number;
  readonly areaPx: Uint32Array;
  /** Bounding boxes, `[x0, y0, x1, y1]` for each cell, the last two exclusive. */
  readonly box: Int32Array;
  /** Pixel index of the first pixel in reading order. */
  readonly first: Int32Array;
}

/**
 * 4-connected components of the paper, on runs, with union-find (He, Chao and Suzuki 2008).
 *
 * @param onCut 1 for runs that join nothing; each is given to a cell beside it in the end.
 * @returns the cells, and the cell of each run. Cost: by runs, not by pixels.
 */
export function labelRuns(
  runs: PaperRuns,
  width: number,
  height: number,
  onCut?: Uint8Array,
): { cells: Cells; cellOfRun: Int32Array } {
  const parent = ownRoots(runs.count);
  if (onCut === undefined) joinRows(runs, height, parent);
  else {
    joinRowsBut(runs, height, parent, onCut);
    settleCutRuns(runs, height, onCut.slice(), (r, other) => joinRoots(parent, r, other));
  }

  // Roots are the first runs of their pieces, so numbering in run order is reading order.
  let count = 0;
  const cellOfRun = new Int32Array(runs.count);
  for (let r = 0; r < runs.count; r++) {
    const up = findRoot(parent, r);
    // A root is never after its members: it has its number already.
    cellOfRun[r] = up === r ? count++ : cellOfRun[up]!;
  }

  const areaPx = new Uint32Array(count);
  const first = new Int32Array(count).fill(-1);
  const box = new Int32Array(count * 4);
  for (let y = 0; y < height; y++) {
    for (let r = runs.row[y]!; r < runs.row[y + 1]!; r++) {
      const cell = cellOfRun[r]!;
      const from = runs.start[r]!;
      const to = runs.end[r]!;
      const b = cell * 4;
      if (first[cell]! < 0) {
        first[cell] = y * width + from;
        box[b] = from;
        box[b + 1] = y;
        box[b + 2] = to;
      } else {
        if (from < box[b]!) box[b] = from;
        if (to > box[b + 2]!) box[b + 2] = to;
      }
      box[b + 3] = y + 1;
      areaPx[cell] = areaPx[cell]! + (to - from);
    }
  }
  return { cells: { count, areaPx, box, first }, cellOfRun };
}

/** Joins runs of neighbouring rows that overlap; the earlier run becomes the parent. */
function joinRows(runs: PaperRuns, height: number, parent: Int32Array): void {
  const { start, end, row } = runs;
  for (let y = 1; y < height; y++) {
    let above = row[y - 1]!;
    const aboveEnd = row[y]!;
    for (let r = aboveEnd; r < row[y + 1]!; r++) {
      const from = start[r]!;
      const to = end[r]!;
      while (above < aboveEnd && end[above]! <= from) above++;
      for (let k = above; k < aboveEnd && start[k]! < to; k++) joinRoots(parent, k, r);
    }
  }
}

/** Joins overlapping runs of neighbouring rows where both are to be joined. @param apart 1 for runs that join nothing. */
export function joinRowsBut(
  { start, end, row }: PaperRuns,
  height: number,
  parent: Int32Array,
  apart: Uint8Array,
): void {
  for (let y = 1; y < height; y++) {
    let above = row[y - 1]!;
    const aboveEnd = row[y]!;
    for (let r = aboveEnd; r < row[y + 1]!; r++) {
      if (apart[r] === 1) continue;
      while (above < aboveEnd && end[above]! <= start[r]!) above++;
      for (let k = above; k < aboveEnd && start[k]! < end[r]!; k++) if (apart[k] === 0) joinRoots(parent, k, r);
    }
  }
}

/**
 * Gives each run of cut pixels to a run beside it: left, right, above, below; then to one settled before.
 *
 * @param waiting 1 for runs to be given away; changed in place.
 */
export function settleCutRuns(
  { start, end, row }: PaperRuns,
  height: number,
  waiting: Uint8Array,
  give: (run: number, other: number) => void,
): void {
  const left: number[] = [];
  const rowOf: number[] = [];
  for (let y = 0; y < height; y++) {
    for (let r = row[y]!; r < row[y + 1]!; r++) {
      if (waiting[r] === 0) continue;
      left.push(r);
      rowOf.push(y);
    }
  }
  while (left.length > 0) {
    const found: number[] = [];
    const others: number[] = [];
    let count = 0;
    for (let k = 0; k < left.length; k++) {
      const other = neighbourOf(left[k]!, rowOf[k]!);
      if (other >= 0) {
        found.push(left[k]!);
        others.push(other);
      } else {
        left[count] = left[k]!;
        rowOf[count++] = rowOf[k]!;
      }
    }
    if (found.length === 0) return;
    left.length = rowOf.length = count;
    for (let k = 0; k < found.length; k++) {
      give(found[k]!, others[k]!);
      waiting[found[k]!] = 0;
    }
  }

  function neighbourOf(r: number, y: number): number {
    if (r > row[y]! && end[r - 1] === start[r] && waiting[r - 1] === 0) return r - 1;
    if (r + 1 < row[y + 1]! && start[r + 1] === end[r] && waiting[r + 1] === 0) return r + 1;
    const above = y > 0 ? settledIn(y - 1, start[r]!, end[r]!) : -1;
    return above >= 0 || y + 1 >= height ? above : settledIn(y + 1, start[r]!, end[r]!);
  }

  /** A run of a row that was settled and has a column of those given; -1 for none. */
  function settledIn(y: number, from: number, to: number): number {
    // The first run of that row that ends behind the first column.
    let low = row[y]!;
    let high = row[y + 1]!;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (end[middle]! > from) high = middle;
      else low = middle + 1;
    }
    for (let k = low; k < row[y + 1]! && start[k]! < to; k++) if (waiting[k] === 0) return k;
    return -1;
  }
}
