import { paintCells } from '../regions/paintCells.ts';
import { scanRuns, type PaperRuns } from '../regions/scanRuns.ts';
import { spreadIntoInk } from '../trap/spreadIntoInk.ts';

/** Line art at some size with the exact distances on one side of its edge. */
export interface InkGrid {
  readonly width: number;
  readonly height: number;
  /** Ink 0..255 a pixel; from 128 on it is ink (faint ink has that bit set). */
  readonly ink: Uint8Array;
  /** Where `of` is, `~index` of the nearest pixel that is not; elsewhere a number >= 0. */
  readonly nearest: Int32Array;
  /** The pixels where `nearest` is a number >= 0. */
  readonly runs: PaperRuns;
}

/** Ink averaged over squares of two by two px. */
export function halveInk(
  ink: Uint8Array,
  width: number,
  height: number,
): { ink: Uint8Array; width: number; height: number } {
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  const out = new Uint8Array(w * h);
  const words = new Uint32Array(ink.buffer, ink.byteOffset, ink.length >>> 2);
  for (let y = 0; y < h; y++) {
    const top = 2 * y * width;
    halveRow(ink, words, top, 2 * y + 1 < height ? top + width : top, width, out, y * w, w);
  }
  return { ink: out, width: w, height: h };
}

/** So many px of two rows are looked at together: most of a page is bare paper. */
const BLOCK_PX = 32;

function halveRow(
  ink: Uint8Array,
  words: Uint32Array,
  top: number,
  bottom: number,
  width: number,
  out: Uint8Array,
  to: number,
  count: number,
): void {
  const whole = width >> 1;
  for (let first = 0; first < whole; first += BLOCK_PX / 2) {
    const end = Math.min(whole, first + BLOCK_PX / 2);
    if (isBare(words, top + 2 * first, top + 2 * end) && isBare(words, bottom + 2 * first, bottom + 2 * end)) continue;
    for (let x = first, k = 2 * first; x < end; x++, k += 2) {
      out[to + x] = (ink[top + k]! + ink[top + k + 1]! + ink[bottom + k]! + ink[bottom + k + 1]!) >> 2;
    }
  }
  if (whole < count) out[to + whole] = (ink[top + width - 1]! + ink[bottom + width - 1]!) >> 1;
}

/** Whether all bytes from one to another are 0; a few around them are looked at as well. */
function isBare(words: Uint32Array, from: number, to: number): boolean {
  // Bytes behind the last whole word are not looked at: they count as ink.
  const last = (to + 3) >> 2;
  if (last > words.length) return false;
  let any = 0;
  for (let k = from >> 2; k < last; k++) any |= words[k]!;
  return any === 0;
}

/** Distances inside the ink, to paper. */
export function inkDistances(ink: Uint8Array, width: number, height: number): InkGrid {
  return { width, height, ink, ...spread(ink, width, height) };
}

/** Distances inside the paper, to ink. Where the page holds no ink, `nearest` is NO_PAPER. */
export function paperDistances(ink: Uint8Array, width: number, height: number): InkGrid {
  const paper = new Uint8Array(ink.length);
  for (let i = 0; i < ink.length; i++) paper[i] = 255 - ink[i]!;
  return { width, height, ink, ...spread(paper, width, height) };
}

function spread(mask: Uint8Array, width: number, height: number): Pick<InkGrid, 'nearest' | 'runs'> {
  const runs = scanRuns(mask, width, height);
  const field = new Int32Array(width * height);
  paintCells(runs, null, width, height, field);
  spreadIntoInk(field, runs, width, height);
  return { nearest: field, runs };
}
