import { ScratchBuffer } from '../raster/ScratchBuffer.ts';
import { scanRuns, type PaperRuns } from '../raster/scanRuns.ts';
import { spreadIntoInk } from '../raster/spreadIntoInk.ts';

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
  // Rows of the page begin anywhere in memory: laid here they can be read four px at a time.
  const [upper, lower] = [new Int32Array((width + 3) >> 2), new Int32Array((width + 3) >> 2)];
  const [upperPx, lowerPx] = [new Uint8Array(upper.buffer), new Uint8Array(lower.buffer)];
  for (let y = 0; y < h; y++) {
    const top = 2 * y * width;
    const bottom = 2 * y + 1 < height ? top + width : top;
    upperPx.set(ink.subarray(top, top + width));
    lowerPx.set(ink.subarray(bottom, bottom + width));
    halveWords(upper, lower, width >> 2, out, y * w);
    for (let x = (width >> 2) * 2, k = 2 * x; x < w; x++, k += 2) {
      out[y * w + x] =
        k + 1 < width
          ? (upperPx[k]! + upperPx[k + 1]! + lowerPx[k]! + lowerPx[k + 1]!) >> 2
          : (upperPx[k]! + lowerPx[k]!) >> 1;
    }
  }
  return { ink: out, width: w, height: h };
}

/** Every other byte of a word. */
const EVEN_BYTES = 0x00ff00ff;

function halveWords(upper: Int32Array, lower: Int32Array, count: number, out: Uint8Array, to: number): void {
  for (let k = 0; k < count; k++) {
    const one = upper[k]!;
    const two = lower[k]!;
    // Most of a page is bare paper.
    if ((one | two) === 0) continue;
    // Two sums side by side.
    const sums = (one & EVEN_BYTES) + ((one >>> 8) & EVEN_BYTES) + (two & EVEN_BYTES) + ((two >>> 8) & EVEN_BYTES);
    out[to + 2 * k] = (sums & 0xffff) >> 2;
    out[to + 2 * k + 1] = sums >>> 18;
  }
}

/** Distances inside the ink, to paper. @param memory for `nearest`: the grid ends when somebody else takes it. */
export function inkDistances(ink: Uint8Array, width: number, height: number, memory = new ScratchBuffer()): InkGrid {
  return { width, height, ink, ...spread(ink, width, height, memory) };
}

/** Distances inside the paper, to ink. Where the page holds no ink, `nearest` is NO_PAPER. */
export function paperDistances(ink: Uint8Array, width: number, height: number): InkGrid {
  const paper = new Uint8Array(ink.length);
  for (let i = 0; i < ink.length; i++) paper[i] = 255 - ink[i]!;
  return { width, height, ink, ...spread(paper, width, height, new ScratchBuffer()) };
}

function spread(
  mask: Uint8Array,
  width: number,
  height: number,
  memory: ScratchBuffer,
): Pick<InkGrid, 'nearest' | 'runs'> {
  const runs = scanRuns(mask, width, height);
  // Paper must not be what was ink for somebody else.
  const field = new Int32Array(memory.take(4 * width * height), 0, width * height).fill(0);
  spreadIntoInk(field, runs, width, height);
  return { nearest: field, runs };
}
