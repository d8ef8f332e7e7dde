import { findRoot, joinRoots, ownRoots } from '../raster/unionFind.ts';
import { Int32Stack } from '../raster/growable.ts';

/** Connected pieces of anything that is not clean paper, faint fringes included. */
export interface InkPieces {
  readonly count: number;
  /** Ink of each piece: its alphas added up, in whole black px. */
  readonly areaPx: Float64Array;
  /** `[x0, y0, x1, y1]` each, the last two exclusive. */
  readonly box: Int32Array;
  /** Pixel index of the first pixel in reading order. */
  readonly first: Int32Array;
  /** Runs of ink in reading order: `start[r] .. end[r] - 1` in row y for `row[y] <= r < row[y + 1]`. */
  readonly start: Int32Array;
  readonly end: Int32Array;
  readonly row: Int32Array;
  readonly ofRun: Int32Array;
}

/**
 * 8-connected pieces of ink, on runs, with union-find (He, Chao and Suzuki 2008). A piece is everything
 * that hangs together by as little as a hint of grey, so what touches a line is part of the line.
 *
 * @param inkAlpha `width * height` bytes on a multiple of four. Cost: one read of the page by words.
 */
export function labelInk(inkAlpha: Uint8Array, width: number, height: number): InkPieces {
  const starts = new Int32Stack(height * 8);
  const ends = new Int32Stack(height * 8);
  const row = new Int32Array(height + 1);
  const words = new Uint32Array(inkAlpha.buffer, inkAlpha.byteOffset, inkAlpha.length >>> 2);
  for (let y = 0; y < height; y++) {
    row[y] = starts.length;
    scanRow(inkAlpha, words, y * width, width, starts, ends);
  }
  row[height] = starts.length;
  const [start, end] = [starts.data.slice(0, starts.length), ends.data.slice(0, ends.length)];
  const parent = joinRuns(start, end, row, height);

  let count = 0;
  const ofRun = new Int32Array(start.length);
  for (let r = 0; r < start.length; r++) {
    const up = findRoot(parent, r);
    ofRun[r] = up === r ? count++ : ofRun[up]!;
  }
  const areaPx = new Float64Array(count);
  const box = new Int32Array(count * 4);
  const first = new Int32Array(count).fill(-1);
  for (let y = 0; y < height; y++) {
    for (let r = row[y]!; r < row[y + 1]!; r++) {
      const piece = ofRun[r]!;
      const b = piece * 4;
      if (first[piece]! < 0) {
        first[piece] = y * width + start[r]!;
        box.set([start[r]!, y, end[r]!, y + 1], b);
      } else {
        if (start[r]! < box[b]!) box[b] = start[r]!;
        if (end[r]! > box[b + 2]!) box[b + 2] = end[r]!;
        box[b + 3] = y + 1;
      }
      areaPx[piece] = areaPx[piece]! + sumOf(inkAlpha, y * width + start[r]!, y * width + end[r]!) / 255;
    }
  }
  return { count, areaPx, box, first, start, end, row, ofRun };
}

/** Calls back with the pixel span `from .. to - 1` of every run of the chosen pieces. */
export function eachRunOf(
  { start, end, row, ofRun }: InkPieces,
  chosen: (piece: number) => boolean,
  width: number,
  visit: (from: number, to: number) => void,
): void {
  for (let y = 0; y + 1 < row.length; y++) {
    for (let r = row[y]!; r < row[y + 1]!; r++) {
      if (chosen(ofRun[r]!)) visit(y * width + start[r]!, y * width + end[r]!);
    }
  }
}

/** The piece at a pixel, -1 on clean paper. */
export function pieceAt({ start, end, row, ofRun }: InkPieces, x: number, y: number): number {
  let low = row[y] ?? 0;
  let high = row[y + 1] ?? 0;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (end[middle]! > x) high = middle;
    else low = middle + 1;
  }
  return low < (row[y + 1] ?? 0) && start[low]! <= x ? ofRun[low]! : -1;
}

function scanRow(
  ink: Uint8Array,
  words: Uint32Array,
  base: number,
  width: number,
  starts: Int32Stack,
  ends: Int32Stack,
): void {
  const stop = base + width;
  const lastWord = stop >>> 2;
  let at = base;
  for (;;) {
    while (at < stop && (at & 3) !== 0 && ink[at] === 0) at++;
    if (at < stop && (at & 3) === 0) {
      let k = at >>> 2;
      while (k < lastWord && words[k] === 0) k++;
      at = Math.max(at, k << 2);
      while (at < stop && ink[at] === 0) at++;
    }
    if (at >= stop) return;
    starts.push(at - base);
    while (at < stop && ink[at] !== 0) at++;
    ends.push(at - base);
  }
}

function joinRuns(start: Int32Array, end: Int32Array, row: Int32Array, height: number): Int32Array {
  const parent = ownRoots(start.length);
  for (let y = 1; y < height; y++) {
    let above = row[y - 1]!;
    const aboveEnd = row[y]!;
    for (let r = aboveEnd; r < row[y + 1]!; r++) {
      // Corners touch: one px of overlap more on either side.
      while (above < aboveEnd && end[above]! < start[r]!) above++;
      for (let k = above; k < aboveEnd && start[k]! <= end[r]!; k++) joinRoots(parent, k, r);
    }
  }
  return parent;
}

function sumOf(ink: Uint8Array, from: number, to: number): number {
  let sum = 0;
  for (let at = from; at < to; at++) sum += ink[at]!;
  return sum;
}
