import type { LineWidth } from '../model/inkMeasures.ts';
import type { PaperRuns } from '../raster/scanRuns.ts';
import { Int32Stack } from '../raster/growable.ts';
import { NO_PAPER } from '../raster/spreadIntoInk.ts';

/** Widths are counted in steps of 1/16 px, up to 1024 px. */
export const STEPS_PER_PX = 16;
const MAX_WIDTH_PX = 1024;
/** Rows are skipped so that about this many ink pixels are looked at. */
const SAMPLE_PX = 600_000;
/** A stroke this many times wider than the median is a solid black, not a line. */
const SOLID_FACTOR = 2.5;

/** Places on the middle of the ink, and how wide it is there. */
export interface WidthSamples {
  readonly count: number;
  /** Pixel indices. */
  readonly at: Int32Array;
  /** Widths in steps of 1/{@link STEPS_PER_PX} px, 1024 px at most. */
  readonly steps: Int32Array;
}

/**
 * Measures the ink of a page: along its middle axis (integer medial axis, Hesselink and
 * Roerdink 2008), the distance between the two paper pixels on either side, less one. For odd
 * widths this is `2 * (distance to paper) - 1`; for even widths it does not lose the half pixel
 * that formula does. Axis points that see their two sides at less than 135 degrees (spurs into
 * corners and ends) are left out. Rows are skipped on pages with much ink.
 *
 * @param field after `spreadIntoInk`: `~index` of the nearest paper on ink.
 */
export function sampleWidths(field: Int32Array, runs: PaperRuns, width: number, height: number): WidthSamples {
  let paper = 0;
  for (let r = 0; r < runs.count; r++) paper += runs.end[r]! - runs.start[r]!;
  const stride = Math.max(1, Math.round((width * height - paper) / SAMPLE_PX));
  const found = { at: new Int32Stack(1 << 14), steps: new Int32Stack(1 << 14) };
  for (let y = stride >> 1; y < height; y += stride) {
    let x = 0;
    for (let r = runs.row[y]!; r <= runs.row[y + 1]!; r++) {
      const stop = r < runs.row[y + 1]! ? runs.start[r]! : width;
      sampleRun(field, width, height, y, x, stop, found);
      x = r < runs.row[y + 1]! ? runs.end[r]! : width;
    }
  }
  return { count: found.at.length, at: found.at.data, steps: found.steps.data };
}

/** The lines among samples: ink much wider than most is a solid black. */
export function lineWidthOf(samples: WidthSamples): LineWidth {
  const counts = countWidths(samples);
  const all = percentile(counts, counts.length - 1, 50);
  const limit = Math.min(counts.length - 1, Math.round(all * SOLID_FACTOR * STEPS_PER_PX));
  const lines = percentile(counts, limit, 50);
  const lineLimit = Math.min(counts.length - 1, Math.round(lines * SOLID_FACTOR * STEPS_PER_PX));
  return {
    median: percentile(counts, lineLimit, 50),
    p10: percentile(counts, lineLimit, 10),
    p90: percentile(counts, lineLimit, 90),
  };
}

/** How often each width occurs, in steps of 1/{@link STEPS_PER_PX} px. */
export function countWidths({ count, steps }: WidthSamples): Uint32Array {
  const counts = new Uint32Array(MAX_WIDTH_PX * STEPS_PER_PX + 1);
  for (let k = 0; k < count; k++) counts[steps[k]!] = counts[steps[k]!]! + 1;
  return counts;
}

interface Found {
  readonly at: Int32Stack;
  readonly steps: Int32Stack;
}

function add({ at, steps }: Found, pixel: number, wide: number): void {
  at.push(pixel);
  steps.push(wide);
}

function sampleRun(
  field: Int32Array,
  width: number,
  height: number,
  y: number,
  from: number,
  to: number,
  found: Found,
): void {
  const base = y * width;
  // One pixel of ink between paper on both sides has no pair to measure: it is one px wide.
  if (to - from === 1 && from > 0 && to < width) {
    add(found, base + from, STEPS_PER_PX);
    return;
  }
  for (let x = from; x < to; x++) {
    const here = field[base + x]!;
    if (here === NO_PAPER) return;
    if (x + 1 < to) samplePair(field, width, base + x, base + x + 1, found);
    if (y + 1 < height) {
      const below = field[base + x + width]!;
      if (below < 0) samplePair(field, width, base + x, base + x + width, found);
      else if (y > 0 && field[base + x - width]! >= 0) add(found, base + x, STEPS_PER_PX);
    }
  }
}

function samplePair(field: Int32Array, width: number, at: number, next: number, found: Found): void {
  const a = ~field[at]!;
  const b = ~field[next]!;
  // Neighbouring feature pixels belong to one side of the line.
  const apart = a > b ? a - b : b - a;
  if (apart <= 1 || apart === width) return;
  const ax = a % width;
  const ay = (a - ax) / width;
  const bx = b % width;
  const by = (b - bx) / width;
  const chord2 = (ax - bx) * (ax - bx) + (ay - by) * (ay - by);
  if (chord2 <= 2) return;
  // From the middle of the pair (in half pixels) both sides must lie at 135 degrees or more.
  const x = at % width;
  const y = (at - x) / width;
  const mx = 2 * x + (next === at + 1 ? 1 : 0);
  const my = 2 * y + (next === at + 1 ? 0 : 1);
  const ux = 2 * ax - mx;
  const uy = 2 * ay - my;
  const vx = 2 * bx - mx;
  const vy = 2 * by - my;
  const dot = ux * vx + uy * vy;
  if (dot >= 0 || 2 * dot * dot < (ux * ux + uy * uy) * (vx * vx + vy * vy)) return;
  const chord = Math.sqrt(chord2) - 1;
  add(found, at, Math.min(MAX_WIDTH_PX * STEPS_PER_PX, Math.round(chord * STEPS_PER_PX)));
}

function percentile(counts: Uint32Array, limit: number, share: number): number {
  let total = 0;
  for (let k = 0; k <= limit; k++) total += counts[k]!;
  if (total === 0) return 0;
  let sum = 0;
  for (let k = 0; k <= limit; k++) {
    sum += counts[k]!;
    if (sum * 100 >= total * share) return k / STEPS_PER_PX;
  }
  return limit / STEPS_PER_PX;
}
