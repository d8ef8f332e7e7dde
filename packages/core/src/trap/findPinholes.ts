import type { Survey } from '../model/Survey.ts';
import { Int32Stack } from '../raster/growable.ts';
import { ScratchBuffer } from '../raster/ScratchBuffer.ts';

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
  const memory = [new ScratchBuffer(), new ScratchBuffer()] as const;
  for (let cell = 0; cell < cellCount; cell++) {
    if (isPinhole[cell] === 0) continue;
    const from = pixels.length;
    gatherAround(field, width, height, cell, box.subarray(cell * 4, cell * 4 + 4), seen, pixels);
    nearestOutside(field, isPinhole, width, height, pixels.data.subarray(from, pixels.length), memory, sources);
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

/** Nearest paper outside pinholes of each pixel: by rows, from what lies next to the left and right in each. */
function nearestOutside(
  field: Int32Array,
  isPinhole: Uint8Array,
  width: number,
  height: number,
  pixels: Int32Array,
  memory: readonly [ScratchBuffer, ScratchBuffer],
  out: Int32Stack,
): void {
  let [x0, y0, x1, y1] = [width, height, 0, 0];
  for (let k = 0; k < pixels.length; k++) {
    const x = pixels[k]! % width;
    const y = (pixels[k]! - x) / width;
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
  }
  // No pixel is farther from paper than one of them is, and it from that one.
  const first = distanceOut(field, isPinhole, width, height, pixels[0]!);
  const reach = Math.ceil(first + Math.sqrt((x1 - x0) * (x1 - x0) + (y1 - y0) * (y1 - y0))) + 1;
  const box = [
    Math.max(0, x0 - reach),
    Math.max(0, y0 - reach),
    Math.min(width, x1 + reach + 1),
    Math.min(height, y1 + reach + 1),
  ] as const;
  nearestInWindow(paperAround(field, isPinhole, width, box, memory), width, pixels, out);
}

/** How far a pixel is from paper outside pinholes at most: along rows and columns alone. */
function distanceOut(field: Int32Array, isPinhole: Uint8Array, width: number, height: number, at: number): number {
  const x = at % width;
  const y = (at - x) / width;
  const isOut = (px: number, py: number): boolean => {
    if (px < 0 || py < 0 || px >= width || py >= height) return false;
    const cell = field[py * width + px]!;
    return cell >= 0 && isPinhole[cell] === 0;
  };
  const most = Math.max(width, height);
  for (let r = 1; r < most; r++) if (isOut(x + r, y) || isOut(x - r, y) || isOut(x, y + r) || isOut(x, y - r)) return r;
  return most;
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
  memory: readonly [ScratchBuffer, ScratchBuffer],
): PaperWindow {
  const [columns, rows] = [right - left, bottom - top];
  const before = new Int32Array(memory[0].take(4 * columns * rows), 0, columns * rows);
  const after = new Int32Array(memory[1].take(4 * columns * rows), 0, columns * rows);
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

function nearestInWindow(
  { left, top, columns, rows, before, after }: PaperWindow,
  width: number,
  pixels: Int32Array,
  out: Int32Stack,
): void {
  for (let k = 0; k < pixels.length; k++) {
    const x = pixels[k]! % width;
    const y = (pixels[k]! - x) / width;
    let best = 2 ** 30;
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
    out.push(nearest);
  }
}
