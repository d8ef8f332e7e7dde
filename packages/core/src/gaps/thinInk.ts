import { NO_PAPER } from '../regions/paintCells.ts';
import type { InkGrid } from './InkGrid.ts';

/** The middle lines of the ink, one px wide, 8-connected. */
export interface Skeleton {
  /** Row length of the padded rasters: the grid's width and a rim of one px. */
  readonly stride: number;
  /** 1 on the middle line; padded by one px all around. */
  readonly on: Uint8Array;
  /** Padded indices of its pixels in the order of thinning; those thinned or pruned away since have `on` 0. */
  readonly pixels: Int32Array;
  /** The same in reading order: neighbours lie together in memory. */
  readonly rows: Int32Array;
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
  const on = new Uint8Array(stride * (height + 2));
  const order = sortByDepth(grid, on);

  // One pass peels the ink; what stood in the way of an earlier pixel is looked at again until nothing changes.
  let left = peel(on, stride, order, order.length);
  for (;;) {
    const before = left;
    left = peel(on, stride, order, before);
    if (left === before) break;
  }
  const pixels = order.slice(0, left);
  return { stride, on, pixels, rows: pixels.slice().sort() };
}

/** The ink by rising distance to paper, in reading order where it is the same, as padded indices. @param on is set there. */
function sortByDepth({ width, height, nearest, runs }: InkGrid, on: Uint8Array): Int32Array {
  let ink = width * height;
  for (let r = 0; r < runs.count; r++) ink -= runs.end[r]! - runs.start[r]!;
  const steps = new Uint16Array(ink);
  const counts = new Int32Array(MAX_STEPS + 2);
  let k = 0;
  for (let y = 0; y < height; y++) {
    let x = 0;
    for (let r = runs.row[y]!; r <= runs.row[y + 1]!; r++) {
      const stop = r < runs.row[y + 1]! ? runs.start[r]! : width;
      for (; x < stop; x++) {
        const step = depthStep(nearest[y * width + x]!, x, y, width);
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
      for (; x < stop; x++) {
        const step = steps[k++]!;
        on[padded + x] = 1;
        order[counts[step]!] = padded + x;
        counts[step] = counts[step]! + 1;
      }
      if (r < runs.row[y + 1]!) x = runs.end[r]!;
    }
  }
  return order;
}

/** How deep a pixel lies in the ink, in steps. @param source what `nearest` holds there. */
function depthStep(source: number, x: number, y: number, width: number): number {
  if (source === NO_PAPER) return MAX_STEPS;
  const at = ~source;
  const sy = (at / width) | 0;
  const dy = y - sy;
  const dx = x - (at - sy * width);
  const d2 = dx * dx + dy * dy;
  return d2 <= 2 ? (d2 === 1 ? STEPS_PER_PX : 11) : Math.min(MAX_STEPS, (Math.sqrt(d2) * STEPS_PER_PX) | 0);
}

/** Puts pixels of the middle line into the order they were thinned in. @param pixels padded indices. */
export function byDepth({ nearest, width }: InkGrid, stride: number, pixels: Int32Array): Int32Array {
  const keys = new Float64Array(pixels.length);
  for (let k = 0; k < pixels.length; k++) {
    const y = ((pixels[k]! / stride) | 0) - 1;
    const x = pixels[k]! - (y + 1) * stride - 1;
    keys[k] = depthStep(nearest[y * width + x]!, x, y, width) * 2 ** 32 + pixels[k]!;
  }
  keys.sort();
  return Int32Array.from(keys, (key) => key % 2 ** 32);
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

/** @returns how many pixels are left, in their order at the front of `order`. */
function peel(on: Uint8Array, stride: number, order: Int32Array, count: number): number {
  let left = 0;
  for (let k = 0; k < count; k++) {
    const at = order[k]!;
    if (on[at] === 0) continue;
    if (REMOVABLE[neighbourhood(on, at, stride)] === 1) on[at] = 0;
    else order[left++] = at;
  }
  return left;
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

/** Thins again after pieces were taken away, in the list's order. */
export function thinAgain({ stride, on, pixels, rows }: Skeleton): Skeleton {
  const order = pixels.slice();
  const left = peel(on, stride, order, order.length);
  const rest = rows.slice();
  let count = 0;
  for (let k = 0; k < rows.length; k++) if (on[rows[k]!] === 1) rest[count++] = rows[k]!;
  return { stride, on, pixels: order.slice(0, left), rows: rest.subarray(0, count) };
}
