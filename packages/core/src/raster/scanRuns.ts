import { Int32Stack } from './growable.ts';

/** The paper of a page as runs: maximal rows of paper pixels, in reading order. */
export interface PaperRuns {
  readonly count: number;
  /** First column of each run. */
  readonly start: Int32Array;
  /** Column after the last of each run. */
  readonly end: Int32Array;
  /** `height + 1` offsets: the runs of row y are `row[y] .. row[y + 1] - 1`. */
  readonly row: Int32Array;
}

/**
 * The ink mask: bit 7 of each pixel.
 *
 * @param faintInk pixels that are ink below half coverage. @returns `inkAlpha` itself where there are none, else a copy.
 */
export function withFaintInk(inkAlpha: Uint8Array, faintInk: Int32Array): Uint8Array {
  if (faintInk.length === 0) return inkAlpha;
  const mask = inkAlpha.slice();
  for (let k = 0; k < faintInk.length; k++) mask[faintInk[k]!]! |= 128;
  return mask;
}

/**
 * Reads the ink once, four pixels at a time: a word whose four ink bits agree with the run it is
 * in needs no look at its single pixels. Alpha from 128 on has bit 7 set, which is the ink mask.
 *
 * @param inkAlpha `width * height` bytes, beginning on a multiple of four.
 */
export function scanRuns(inkAlpha: Uint8Array, width: number, height: number): PaperRuns {
  const start = new Int32Stack(height * 8);
  const end = new Int32Stack(height * 8);
  const row = new Int32Array(height + 1);
  const words = new Uint32Array(inkAlpha.buffer, inkAlpha.byteOffset, inkAlpha.length >>> 2);
  const room = (width >> 1) + 1;
  for (let y = 0; y < height; y++) {
    row[y] = start.length;
    start.reserve(room);
    end.reserve(room);
    const added = scanRow(inkAlpha, words, y * width, width, start.data, end.data, start.length);
    start.length += added;
    end.length += added;
  }
  row[height] = start.length;
  return { count: start.length, start: start.data, end: end.data, row };
}

function scanRow(
  mask: Uint8Array,
  words: Uint32Array,
  base: number,
  width: number,
  start: Int32Array,
  end: Int32Array,
  from: number,
): number {
  const stop = base + width;
  let count = from;
  let at = base;
  while (at < stop) {
    at = skip(mask, words, at, stop, INK_WORD, 128);
    if (at >= stop) break;
    start[count] = at - base;
    at = skip(mask, words, at, stop, 0, 0);
    end[count++] = at - base;
  }
  return count - from;
}

const INK_WORD = 0x80808080 | 0;

/** First pixel from `at` on, before `stop`, whose ink bit is not `bit`. */
function skip(mask: Uint8Array, words: Uint32Array, at: number, stop: number, word: number, bit: number): number {
  while (at < stop && (at & 3) !== 0) {
    if ((mask[at]! & 128) !== bit) return at;
    at++;
  }
  const lastWord = stop >>> 2;
  let k = at >>> 2;
  while (k < lastWord && (words[k]! & INK_WORD) === word) k++;
  if (k << 2 > at) at = k << 2;
  while (at < stop && (mask[at]! & 128) === bit) at++;
  return at;
}
