import type { PaperRuns } from '../raster/scanRuns.ts';

/** Chamfer weights 5, 7 (Borgefors 1986): five units a block. */
const STRAIGHT = 5;
const DIAGONAL = 7;

/**
 * For each cell a pixel deep inside it: the middle of the block farthest from ink, from cuts and from
 * the page's edge, found at reduced size, or, in cells too thin to hold a block, the middle of the run
 * with the most room around it.
 *
 * @param blocks those of {@link fullBlocks} of the uncut paper. @param runs maybe cut.
 * @param known anchors found before; those of -1 are looked for, the others stay. @default none
 * @param box `[x0, y0, x1, y1]` that holds all cells without an anchor, the last two exclusive. @default all
 * @returns pixel index per cell.
 */
export function findAnchors(
  field: Int32Array,
  blocks: Uint8Array,
  runs: PaperRuns & { readonly onCut?: Uint8Array },
  cellOfRun: Int32Array,
  cellCount: number,
  width: number,
  height: number,
  known?: Int32Array,
  box: readonly [number, number, number, number] = [0, 0, width, height],
): Int32Array {
  const block = blockOf(width, height);
  // Beyond the box lies nothing of these cells, so that its edge is as good as ink.
  const left = Math.floor(box[0] / block);
  const top = Math.floor(box[1] / block);
  const columns = Math.min(Math.floor(width / block), Math.ceil(box[2] / block)) - left;
  const rows = Math.min(Math.floor(height / block), Math.ceil(box[3] / block)) - top;
  const anchor = known?.slice() ?? new Int32Array(cellCount).fill(-1);
  if (columns > 0 && rows > 0) {
    const depth = blocksWithin(blocks, runs, width, block, left, top, columns, rows);
    chamfer(depth, columns, rows);
    deepestBlocks(depth, field, width, block, left, top, columns, rows, anchor);
  }
  if (anchor.includes(-1)) anchorThinCells(field, runs, cellOfRun, width, height, anchor);
  return anchor;
}

function deepestBlocks(
  depth: Uint16Array,
  field: Int32Array,
  width: number,
  block: number,
  left: number,
  top: number,
  columns: number,
  rows: number,
  anchor: Int32Array,
): void {
  const isKnown = new Uint8Array(anchor.length);
  for (let cell = 0; cell < anchor.length; cell++) if (anchor[cell]! >= 0) isKnown[cell] = 1;
  const deepest = new Uint16Array(anchor.length);
  const half = block >> 1;
  for (let by = 0; by < rows; by++) {
    for (let bx = 0; bx < columns; bx++) {
      const value = depth[(by + 1) * (columns + 2) + bx + 1]!;
      if (value === 0) continue;
      const at = ((top + by) * block + half) * width + (left + bx) * block + half;
      const cell = field[at]!;
      if (isKnown[cell] === 0 && value > deepest[cell]!) {
        deepest[cell] = value;
        anchor[cell] = at;
      }
    }
  }
}

/** Side of a block in px: pages are looked at in so many px at most. */
function blockOf(width: number, height: number): number {
  const pixels = width * height;
  return pixels > 16_000_000 ? 16 : pixels > 4_000_000 ? 4 : pixels > 1_000_000 ? 2 : 1;
}

/** 1 for each block of the page, row by row, that is wholly paper. */
export function fullBlocks(runs: PaperRuns, width: number, height: number): Uint8Array {
  const block = blockOf(width, height);
  const columns = Math.floor(width / block);
  const rows = Math.floor(height / block);
  const blocks = new Uint8Array(columns * rows);
  const filled = new Uint8Array(columns);
  for (let by = 0; by < rows; by++) {
    filled.fill(0);
    for (let y = by * block; y < (by + 1) * block; y++) {
      for (let r = runs.row[y]!; r < runs.row[y + 1]!; r++) {
        const from = Math.ceil(runs.start[r]! / block);
        const to = Math.min(columns, Math.floor(runs.end[r]! / block));
        for (let bx = from; bx < to; bx++) filled[bx] = filled[bx]! + 1;
      }
    }
    for (let bx = 0; bx < columns; bx++) if (filled[bx] === block) blocks[by * columns + bx] = 1;
  }
  return blocks;
}

/**
 * The blocks of a box, with a rim of one around them: the largest value where they are wholly paper, 0 elsewhere. A cut
 * is an edge like ink.
 */
function blocksWithin(
  blocks: Uint8Array,
  runs: PaperRuns & { readonly onCut?: Uint8Array },
  width: number,
  block: number,
  left: number,
  top: number,
  columns: number,
  rows: number,
): Uint16Array {
  const depth = new Uint16Array((columns + 2) * (rows + 2));
  const stride = Math.floor(width / block);
  for (let by = 0; by < rows; by++) {
    const from = (top + by) * stride + left;
    const to = (by + 1) * (columns + 2) + 1;
    for (let bx = 0; bx < columns; bx++) if (blocks[from + bx] === 1) depth[to + bx] = 0xffff;
  }
  const { onCut } = runs;
  if (onCut === undefined) return depth;
  for (let y = top * block; y < (top + rows) * block; y++) {
    const base = (Math.floor(y / block) - top + 1) * (columns + 2) + 1 - left;
    for (let r = runs.row[y]!; r < runs.row[y + 1]!; r++) {
      if (onCut[r] === 0) continue;
      const first = Math.max(left, Math.floor(runs.start[r]! / block));
      const last = Math.min(left + columns - 1, Math.floor((runs.end[r]! - 1) / block));
      if (first <= last) depth.fill(0, base + first, base + last + 1);
    }
  }
  return depth;
}

/** @param depth with a rim of zeros. */
function chamfer(depth: Uint16Array, columns: number, rows: number): void {
  const stride = columns + 2;
  for (let y = 1; y <= rows; y++) {
    for (let at = y * stride + 1; at <= y * stride + columns; at++) {
      if (depth[at] === 0) continue;
      const straight = Math.min(depth[at - 1]!, depth[at - stride]!);
      const diagonal = Math.min(depth[at - stride - 1]!, depth[at - stride + 1]!);
      depth[at] = Math.min(0xfff0, straight + STRAIGHT, diagonal + DIAGONAL);
    }
  }
  for (let y = rows; y > 0; y--) {
    for (let at = y * stride + columns; at > y * stride; at--) {
      if (depth[at] === 0) continue;
      const straight = Math.min(depth[at + 1]!, depth[at + stride]!);
      const diagonal = Math.min(depth[at + stride + 1]!, depth[at + stride - 1]!);
      depth[at] = Math.min(depth[at]!, straight + STRAIGHT, diagonal + DIAGONAL);
    }
  }
}

/** How far the room above and below a run's middle is looked at. */
const THIN_REACH_PX = 16;

function anchorThinCells(
  field: Int32Array,
  runs: PaperRuns,
  cellOfRun: Int32Array,
  width: number,
  height: number,
  anchor: Int32Array,
): void {
  /** The most room found in each cell that has none yet; -1 for the others. */
  const best = new Int32Array(anchor.length);
  for (let cell = 0; cell < anchor.length; cell++) if (anchor[cell]! >= 0) best[cell] = -1;
  for (let y = 0; y < height; y++) anchorInRow(y, field, runs, cellOfRun, width, height, best, anchor);
}

function anchorInRow(
  y: number,
  field: Int32Array,
  runs: PaperRuns,
  cellOfRun: Int32Array,
  width: number,
  height: number,
  best: Int32Array,
  anchor: Int32Array,
): void {
  for (let r = runs.row[y]!; r < runs.row[y + 1]!; r++) {
    const cell = cellOfRun[r]!;
    if (best[cell]! < 0) continue;
    const length = runs.end[r]! - runs.start[r]!;
    const at = y * width + runs.start[r]! + (length >> 1);
    let up = 1;
    while (up < THIN_REACH_PX && y - up >= 0 && field[at - up * width] === cell) up++;
    let down = 1;
    while (down < THIN_REACH_PX && y + down < height && field[at + down * width] === cell) down++;
    const room = Math.min((length + 1) >> 1, up, down);
    if (room > best[cell]!) {
      best[cell] = room;
      anchor[cell] = at;
    }
  }
}
