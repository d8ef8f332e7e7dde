import { NO_PAPER } from '../regions/paintCells.ts';
import type { InkGrid } from './InkGrid.ts';

/** The middle lines of the ink, one px wide, 8-connected. */
export interface Skeleton {
  /** Row length of the padded rasters: the grid's width and a rim of one px. */
  readonly stride: number;
  /** 1 on the middle line; padded by one px all around. */
  readonly on: Uint8Array;
  /** Padded indices of its pixels; those thinned or pruned away since have `on` 0. */
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
  const { width, height, nearest } = grid;
  const stride = width + 2;
  const on = new Uint8Array(stride * (height + 2));
  const steps = new Uint16Array(width * height);
  const counts = new Int32Array(MAX_STEPS + 2);
  measureSteps(nearest, width, height, steps, on, counts);
  for (let k = 1; k < counts.length; k++) counts[k] = counts[k]! + counts[k - 1]!;
  const order = new Int32Array(counts[MAX_STEPS]!);
  sortBySteps(steps, width, height, counts, order);

  // One pass peels the ink; what stood in the way of an earlier pixel is looked at again until nothing changes.
  let left = peel(on, stride, order, order.length);
  for (;;) {
    const before = left;
    left = peel(on, stride, order, before);
    if (left === before) break;
  }
  return { stride, on, pixels: order.slice(0, left) };
}

function measureSteps(
  nearest: Int32Array,
  width: number,
  height: number,
  steps: Uint16Array,
  on: Uint8Array,
  counts: Int32Array,
): void {
  for (let y = 0; y < height; y++) {
    const base = y * width;
    const padded = (y + 1) * (width + 2) + 1;
    for (let x = 0; x < width; x++) {
      const source = nearest[base + x]!;
      if (source >= 0) continue;
      let step = MAX_STEPS;
      if (source !== NO_PAPER) {
        const at = ~source;
        const sy = (at / width) | 0;
        const dy = y - sy;
        const dx = x - (at - sy * width);
        const d2 = dx * dx + dy * dy;
        step = d2 <= 2 ? (d2 === 1 ? STEPS_PER_PX : 11) : Math.min(MAX_STEPS, (Math.sqrt(d2) * STEPS_PER_PX) | 0);
      }
      steps[base + x] = step;
      on[padded + x] = 1;
      counts[step + 1] = counts[step + 1]! + 1;
    }
  }
}

function sortBySteps(steps: Uint16Array, width: number, height: number, counts: Int32Array, order: Int32Array): void {
  for (let y = 0; y < height; y++) {
    const base = y * width;
    const padded = (y + 1) * (width + 2) + 1;
    for (let x = 0; x < width; x++) {
      const step = steps[base + x]!;
      if (step === 0) continue;
      const at = counts[step]!;
      order[at] = padded + x;
      counts[step] = at + 1;
    }
  }
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
export function thinAgain(skeleton: Skeleton): Skeleton {
  const order = skeleton.pixels.slice();
  const left = peel(skeleton.on, skeleton.stride, order, order.length);
  return { ...skeleton, pixels: order.slice(0, left) };
}
