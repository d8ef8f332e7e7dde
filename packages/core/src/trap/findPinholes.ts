import type { Survey } from '../model/Survey.ts';
import { Int32Stack } from '../raster/growable.ts';

/** Paper inside strokes that counts as ink, with the ink whose nearest paper it was. */
export interface Pinholes {
  /** Pixel indices, ascending. */
  readonly at: Int32Array;
  /** Nearest paper of each that is no pinhole. */
  readonly source: Int32Array;
  /** Where each row begins in `at`; one more at the end. */
  readonly row: Int32Array;
  /** 1 for each cell that is a pinhole. */
  readonly isPinhole: Uint8Array;
  /** How many there are. */
  readonly count: number;
}

/**
 * Finds paper of less than `limitPx2` that ink alone encloses, and for its pixels, and the ink around it, the nearest
 * paper outside: exact Euclidean distance, ties to the lowest index, as all ink has it.
 *
 * Cost: pixels in and around pinholes times the square of the stroke's width. @returns null for none.
 */
export function findPinholes(
  { width, height, field, graph, cellCount }: Pick<Survey, 'width' | 'height' | 'field' | 'graph' | 'cellCount'>,
  limitPx2: number,
): Pinholes | null {
  const isPinhole = new Uint8Array(cellCount);
  const { areaPx, box } = graph.cells;
  let count = 0;
  for (let cell = 0; cell < cellCount; cell++) {
    if (areaPx[cell]! === 0 || areaPx[cell]! >= limitPx2) continue;
    // At the page's edge it may be a corner of what lies beyond.
    const edge = [
      box[cell * 4]! === 0,
      box[cell * 4 + 1]! === 0,
      box[cell * 4 + 2]! === width,
      box[cell * 4 + 3]! === height,
    ];
    if (edge.includes(true)) continue;
    isPinhole[cell] = 1;
    count++;
  }
  // What an opening joins to other paper is no pinhole.
  for (let k = 0; k < graph.pairs.count; k++) {
    for (const cell of [graph.pairs.a[k]!, graph.pairs.b[k]!]) {
      if (isPinhole[cell] === 1) count--;
      isPinhole[cell] = 0;
    }
  }
  if (count === 0 || count === cellCount) return null;

  const seen = new Uint8Array((width * height + 7) >> 3);
  const pixels = new Int32Stack();
  const sources = new Int32Stack();
  for (let cell = 0; cell < cellCount; cell++) {
    if (isPinhole[cell] === 0) continue;
    const from = pixels.length;
    gatherAround(field, width, height, cell, box.subarray(cell * 4, cell * 4 + 4), seen, pixels);
    nearestOutside(field, isPinhole, width, height, pixels.data.subarray(from, pixels.length), sources);
  }
  // Pixel and place in one number: typed arrays sort numbers fast.
  const size = pixels.length;
  const order = new Float64Array(size);
  for (let k = 0; k < size; k++) order[k] = pixels.data[k]! * size + k;
  order.sort();
  const at = new Int32Array(size);
  const source = new Int32Array(size);
  for (let k = 0; k < size; k++) {
    const place = order[k]! % size;
    at[k] = pixels.data[place]!;
    source[k] = sources.data[place]!;
  }
  const row = new Int32Array(height + 1);
  for (let k = 0; k < at.length; k++) row[Math.floor(at[k]! / width) + 1]!++;
  for (let y = 0; y < height; y++) row[y + 1]! += row[y]!;
  return { at, source, row, isPinhole, count };
}

/** The pixels of a pinhole, and the ink whose nearest paper is in it: they hang together. */
function gatherAround(
  field: Int32Array,
  width: number,
  height: number,
  cell: number,
  box: Int32Array,
  seen: Uint8Array,
  out: Int32Stack,
): void {
  const take = (at: number): void => {
    if (((seen[at >> 3]! >> (at & 7)) & 1) === 1) return;
    seen[at >> 3] = seen[at >> 3]! | (1 << (at & 7));
    out.push(at);
  };
  let k = out.length;
  for (let y = box[1]!; y < box[3]!; y++) {
    for (let at = y * width + box[0]!; at < y * width + box[2]!; at++) if (field[at] === cell) take(at);
  }
  for (; k < out.length; k++) {
    const x = out.data[k]! % width;
    const y = (out.data[k]! - x) / width;
    for (let py = Math.max(0, y - 1); py <= Math.min(height - 1, y + 1); py++) {
      for (let px = Math.max(0, x - 1); px <= Math.min(width - 1, x + 1); px++) {
        const value = field[py * width + px]!;
        if (value < 0 && field[~value] === cell) take(py * width + px);
      }
    }
  }
}

/** How far is looked around pixels first, in px; twice as far where that was not enough. */
const FIRST_REACH_PX = 24;

/** Nearest paper outside pinholes of each pixel: by rows, from what lies next to the left and right in each. */
function nearestOutside(
  field: Int32Array,
  isPinhole: Uint8Array,
  width: number,
  height: number,
  pixels: Int32Array,
  out: Int32Stack,
): void {
  let [x0, y0, x1, y1] = [width, height, 0, 0];
  for (const at of pixels) {
    const x = at % width;
    const y = (at - x) / width;
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
  }
  for (let reach = FIRST_REACH_PX; ; reach *= 2) {
    const window = paperAround(field, isPinhole, width, [
      Math.max(0, x0 - reach),
      Math.max(0, y0 - reach),
      Math.min(width, x1 + reach + 1),
      Math.min(height, y1 + reach + 1),
    ]);
    const isAll = reach >= Math.max(width, height);
    const found = nearestInWindow(window, width, pixels, isAll ? Infinity : reach * reach);
    if (found === null) continue;
    for (const one of found) out.push(one);
    return;
  }
}

/** A part of the page with the next paper to the left and to the right of each pixel, as columns of the page; -1 for none. */
interface PaperWindow {
  readonly left: number;
  readonly top: number;
  readonly columns: number;
  readonly rows: number;
  readonly before: Int32Array;
  readonly after: Int32Array;
}

function paperAround(
  field: Int32Array,
  isPinhole: Uint8Array,
  width: number,
  [left, top, right, bottom]: readonly [number, number, number, number],
): PaperWindow {
  const [columns, rows] = [right - left, bottom - top];
  const before = new Int32Array(columns * rows);
  const after = new Int32Array(columns * rows);
  for (let row = 0; row < rows; row++) {
    const base = (top + row) * width + left;
    let last = -1;
    for (let k = 0; k < columns; k++) {
      const cell = field[base + k]!;
      if (cell >= 0 && isPinhole[cell] === 0) last = left + k;
      before[row * columns + k] = last;
    }
    last = -1;
    for (let k = columns - 1; k >= 0; k--) {
      const cell = field[base + k]!;
      if (cell >= 0 && isPinhole[cell] === 0) last = left + k;
      after[row * columns + k] = last;
    }
  }
  return { left, top, columns, rows, before, after };
}

/** @returns null where one is farther than `most2` allows to be sure of. */
function nearestInWindow(
  { left, top, columns, rows, before, after }: PaperWindow,
  width: number,
  pixels: Int32Array,
  most2: number,
): Int32Array | null {
  const found = new Int32Array(pixels.length);
  for (let k = 0; k < pixels.length; k++) {
    const x = pixels[k]! % width;
    const y = (pixels[k]! - x) / width;
    let best = Infinity;
    let nearest = pixels[k]!;
    for (let dy = 0; dy < rows && dy * dy <= best; dy++) {
      for (let side = dy === 0 ? 1 : -1; side <= 1; side += 2) {
        const row = y + side * dy - top;
        if (row < 0 || row >= rows) continue;
        const at = row * columns + x - left;
        for (let way = 0; way < 2; way++) {
          const px = way === 0 ? before[at]! : after[at]!;
          if (px < 0) continue;
          const d2 = (px - x) * (px - x) + dy * dy;
          const index = (top + row) * width + px;
          if (d2 > best || (d2 === best && index >= nearest)) continue;
          best = d2;
          nearest = index;
        }
      }
    }
    if (best > most2) return null;
    found[k] = nearest;
  }
  return found;
}
