import TinyQueue from 'tinyqueue';
import { Int32Stack } from '../raster/growable.ts';
import { NO_PAPER } from '../raster/spreadIntoInk.ts';
import type { InkGrid } from './InkGrid.ts';

/** The middle lines of the ink, one px wide, 8-connected. */
export interface Skeleton {
  /** Row length of the padded rasters: the grid's width and a rim of one px. */
  readonly stride: number;
  /** 1 on the middle line; padded by one px all around. */
  readonly on: Uint8Array;
  /** Padded indices of its pixels, in reading order: neighbours lie together in memory. */
  readonly pixels: Int32Array;
}

/** Padded indices' neighbours, clockwise from the right. */
export function neighbourOffsets(
  stride: number,
): readonly [number, number, number, number, number, number, number, number] {
  return [1, stride + 1, stride, stride - 1, -1, -stride - 1, -stride, -stride + 1];
}

/** Steps of distance that are told apart, per px. */
const STEPS_PER_PX = 8;
const MAX_STEPS = 4096;

/**
 * Thins the ink to its middle lines: pixels are taken away in the order of their distance to
 * paper unless they hold pieces together or end a line (distance-ordered homotopic thinning,
 * Pudney 1998). Cost: by ink pixels.
 */
export function thinInk(grid: InkGrid): Skeleton {
  const { width, height } = grid;
  const stride = width + 2;
  // A bit for each pixel while it is peeled: pixels come from all over the page, and bits stay in the cache.
  const bits = new Uint8Array(4 * ((stride * (height + 2)) >> 5) + 8);
  const order = sortByDepth(grid, bits);

  // One pass peels the ink; what stood in the way of an earlier pixel is looked at again until nothing changes.
  let left = peel(bits, stride, order, order.length);
  for (;;) {
    const before = left;
    left = peel(bits, stride, order, before);
    if (left === before) break;
  }
  const on = new Uint8Array(stride * (height + 2));
  return { stride, on, pixels: spreadBits(new Int32Array(bits.buffer), on, new Int32Array(left)) };
}

/** Writes a 1 for each bit that is set. @param pixels are filled with where these are. @returns `pixels`. */
function spreadBits(words: Int32Array, on: Uint8Array, pixels: Int32Array): Int32Array {
  let count = 0;
  for (let word = 0; word < words.length; word++) {
    for (let rest = words[word]!; rest !== 0; rest &= rest - 1) {
      const at = 32 * word + 31 - Math.clz32(rest & -rest);
      on[at] = 1;
      pixels[count++] = at;
    }
  }
  return pixels;
}

/** The ink by rising distance to paper, in reading order where it is the same, as padded indices. @param bits are set there. */
function sortByDepth({ width, height, nearest, runs }: InkGrid, bits: Uint8Array): Int32Array {
  let ink = width * height;
  for (let r = 0; r < runs.count; r++) ink -= runs.end[r]! - runs.start[r]!;
  const steps = new Uint16Array(ink);
  const counts = new Int32Array(MAX_STEPS + 2);
  const inverse = 1 / width;
  let k = 0;
  for (let y = 0; y < height; y++) {
    let x = 0;
    for (let r = runs.row[y]!; r <= runs.row[y + 1]!; r++) {
      const stop = r < runs.row[y + 1]! ? runs.start[r]! : width;
      for (; x < stop; x++) {
        const step = depthStep(nearest[y * width + x]!, x, y, width, inverse);
        steps[k++] = step;
        counts[step + 1] = counts[step + 1]! + 1;
      }
      if (r < runs.row[y + 1]!) x = runs.end[r]!;
    }
  }
  for (let step = 1; step < counts.length; step++) counts[step] = counts[step]! + counts[step - 1]!;
  const order = new Int32Array(ink);
  k = 0;
  for (let y = 0; y < height; y++) {
    const padded = (y + 1) * (width + 2) + 1;
    let x = 0;
    for (let r = runs.row[y]!; r <= runs.row[y + 1]!; r++) {
      const stop = r < runs.row[y + 1]! ? runs.start[r]! : width;
      setBits(bits, padded + x, padded + stop);
      for (; x < stop; x++) {
        const step = steps[k++]!;
        const place = counts[step]!;
        order[place] = padded + x;
        counts[step] = place + 1;
      }
      if (r < runs.row[y + 1]!) x = runs.end[r]!;
    }
  }
  return order;
}

/** How deep a pixel lies in the ink, in steps. @param source what `nearest` holds there. @param inverse of the width. */
function depthStep(source: number, x: number, y: number, width: number, inverse: number): number {
  if (source === NO_PAPER) return MAX_STEPS;
  const at = ~source;
  // Millions of pixels: multiplying is faster than dividing, and the half keeps it exact.
  const sy = ((at + 0.5) * inverse) | 0;
  const dy = y - sy;
  const dx = x - (at - sy * width);
  const d2 = dx * dx + dy * dy;
  return d2 < STEP_OF_SQUARED.length ? STEP_OF_SQUARED[d2]! : stepOf(d2);
}

function stepOf(squared: number): number {
  return Math.min(MAX_STEPS, (Math.sqrt(squared) * STEPS_PER_PX) | 0);
}

/** Most ink is no deeper than this. */
const STEP_OF_SQUARED = Uint16Array.from({ length: 4096 }, (_, squared) => stepOf(squared));

/** Puts pixels of the middle line into the order they were thinned in. @param pixels padded indices. */
export function byDepth({ nearest, width }: InkGrid, stride: number, pixels: Int32Array): Int32Array {
  const keys = new Float64Array(pixels.length);
  const inverse = 1 / width;
  for (let k = 0; k < pixels.length; k++) {
    const y = ((pixels[k]! / stride) | 0) - 1;
    const x = pixels[k]! - (y + 1) * stride - 1;
    keys[k] = depthStep(nearest[y * width + x]!, x, y, width, inverse) * 2 ** 32 + pixels[k]!;
  }
  keys.sort();
  const sorted = new Int32Array(pixels.length);
  for (let k = 0; k < keys.length; k++) sorted[k] = keys[k]! % 2 ** 32;
  return sorted;
}

/** 1 for the neighbourhoods (bit k = neighbour k) whose middle may go: it joins nothing and ends nothing. */
const REMOVABLE = buildRemovable();

function buildRemovable(): Uint8Array {
  const table = new Uint8Array(256);
  for (let code = 0; code < 256; code++) {
    const x = (k: number): number => (code >> (k & 7)) & 1;
    // Crossing number for 8-connected ink (Yokoi, Toriwaki and Fukumura 1975).
    let crossings = 0;
    let count = 0;
    for (let k = 0; k < 8; k += 2) crossings += 1 - x(k) - (1 - x(k)) * (1 - x(k + 1)) * (1 - x(k + 2));
    for (let k = 0; k < 8; k++) count += x(k);
    table[code] = crossings === 1 && count > 1 ? 1 : 0;
  }
  return table;
}

const [STAYS, GOES, IS_GONE] = [0, 1, 2];

/** What becomes of a pixel by the three rows of three bits around it, from the upper left on. */
const FATE = Uint8Array.from({ length: 512 }, (_, rows) => {
  if (((rows >> 4) & 1) === 0) return IS_GONE;
  // Clockwise from the right, as neighbourhoods are.
  const code = [5, 8, 7, 6, 3, 0, 1, 2].reduce((sum, bit, k) => sum | (((rows >> bit) & 1) << k), 0);
  return REMOVABLE[code] === 1 ? GOES : STAYS;
});

/** @returns how many pixels are left, in their order at the front of `order`. */
function peel(bits: Uint8Array, stride: number, order: Int32Array, count: number): number {
  let left = 0;
  for (let k = 0; k < count; k++) {
    const at = order[k]!;
    const rows =
      threeBits(bits, at - stride - 1) | (threeBits(bits, at - 1) << 3) | (threeBits(bits, at + stride - 1) << 6);
    const fate = FATE[rows]!;
    if (fate === STAYS) order[left++] = at;
    else if (fate === GOES) bits[at >> 3] = bits[at >> 3]! & ~(1 << (at & 7));
  }
  return left;
}

function threeBits(bits: Uint8Array, first: number): number {
  const byte = first >> 3;
  return ((bits[byte]! | (bits[byte + 1]! << 8)) >> (first & 7)) & 7;
}

function setBits(bits: Uint8Array, from: number, to: number): void {
  let at = from;
  for (; at < to && (at & 7) !== 0; at++) bits[at >> 3] = bits[at >> 3]! | (1 << (at & 7));
  for (; at + 8 <= to; at += 8) bits[at >> 3] = 255;
  for (; at < to; at++) bits[at >> 3] = bits[at >> 3]! | (1 << (at & 7));
}

/** The eight neighbours as bits, clockwise from the right. */
export function neighbourhood(on: Uint8Array, at: number, stride: number): number {
  const up = at - stride;
  const down = at + stride;
  return (
    on[at + 1]! |
    (on[down + 1]! << 1) |
    (on[down]! << 2) |
    (on[down - 1]! << 3) |
    (on[at - 1]! << 4) |
    (on[up - 1]! << 5) |
    (on[up]! << 6) |
    (on[up + 1]! << 7)
  );
}

/** Of the middle line, and listed to be looked at. */
const LISTED = 2;

/**
 * Thins again after pixels were taken away: what touched them is looked at once, in the order of thinning, and what
 * touches those that go then. What hangs on pixels earlier in the order waits for the next time.
 *
 * @param gone padded indices taken away since; what goes now is added. @param waiting left by the last time; filled anew.
 */
export function thinAgain(grid: InkGrid, { stride, on }: Skeleton, gone: Int32Stack, waiting: Int32Stack): void {
  const offsets = neighbourOffsets(stride);
  const listed = new Int32Stack();
  const list = (at: number): void => {
    if (on[at] !== 1) return;
    on[at] = LISTED;
    listed.push(at);
  };
  for (let k = 0; k < waiting.length; k++) list(waiting.data[k]!);
  waiting.length = 0;
  for (let k = 0; k < gone.length; k++) for (let j = 0; j < 8; j++) list(gone.data[k]! + offsets[j]!);
  for (let k = 0; k < listed.length; k++) on[listed.data[k]!] = 1;
  const order = byDepth(grid, stride, listed.data.subarray(0, listed.length));

  const depthAt = (at: number): number => {
    const y = ((at / stride) | 0) - 1;
    const x = at - (y + 1) * stride - 1;
    return depthStep(grid.nearest[y * grid.width + x]!, x, y, grid.width, 1 / grid.width);
  };
  // Of what is listed only the next one stands in the queue: a rough page lists a million.
  const queue = new TinyQueue<Queued>([], (one, two) => one.depth - two.depth || one.at - two.at);
  let fed = 0;
  const feed = (): void => {
    if (fed < order.length) queue.push({ depth: depthAt(order[fed]!), at: order[fed]!, isListed: true });
    fed++;
  };
  feed();
  for (let next = queue.pop(); next !== undefined; next = queue.pop()) {
    const { at } = next;
    if (next.isListed) feed();
    if (on[at] === 0 || REMOVABLE[neighbourhood(on, at, stride)] === 0) continue;
    on[at] = 0;
    gone.push(at);
    for (let j = 0; j < 8; j++) {
      const other = at + offsets[j]!;
      if (on[other] === 0) continue;
      const depth = depthAt(other);
      if (depth > next.depth || (depth === next.depth && other > at)) queue.push({ depth, at: other, isListed: false });
      else waiting.push(other);
    }
  }
}

/** A pixel that waits for its turn: the one nearest to paper comes first. */
interface Queued {
  readonly depth: number;
  readonly at: number;
  /** Of the list of those that are looked at anyway; the next one of it follows. */
  readonly isListed: boolean;
}
