import type { PaperRuns } from '../regions/scanRuns.ts';
import { NO_PAPER } from '../regions/paintCells.ts';

/** Line width of a page in px; all zero where there is no line. */
export interface LineWidth {
  readonly median: number;
  readonly p10: number;
  readonly p90: number;
}

/** Widths are counted in steps of 1/16 px, up to 1024 px. */
export const STEPS_PER_PX = 16;
const MAX_WIDTH_PX = 1024;
/** Rows are skipped so that about this many ink pixels are looked at. */
const SAMPLE_PX = 600_000;
/** A stroke this many times wider than the median is a solid black, not a line. */
const SOLID_FACTOR = 2.5;

/**
 * Measures the lines of a page: along the middle axis of the ink (integer medial axis, Hesselink and
 * Roerdink 2008), the distance between the two paper pixels on either side, less one. For odd
 * widths this is `2 * (distance to paper) - 1`; for even widths it does not lose the half pixel
 * that formula does. Axis points that see their two sides at less than 135 degrees (spurs into
 * corners and ends) do not count, nor do solid blacks.
 *
 * @param field after `spreadIntoInk`: `~index` of the nearest paper on ink.
 * @param isLine whether the ink at a pixel counts.
 */
export function measureLineWidth(
  field: Int32Array,
  runs: PaperRuns,
  width: number,
  height: number,
  isLine: (at: number) => boolean = () => true,
): LineWidth {
  const counts = countLineWidths(field, runs, width, height, isLine);
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

/** How often each width occurs along the lines, in steps of 1/{@link STEPS_PER_PX} px, as `measureLineWidth` sees them. */
export function countLineWidths(
  field: Int32Array,
  runs: PaperRuns,
  width: number,
  height: number,
  isLine: (at: number) => boolean = () => true,
): Uint32Array {
  const counts = new Uint32Array(MAX_WIDTH_PX * STEPS_PER_PX + 1);
  let paper = 0;
  for (let r = 0; r < runs.count; r++) paper += runs.end[r]! - runs.start[r]!;
  const stride = Math.max(1, Math.round((width * height - paper) / SAMPLE_PX));
  for (let y = stride >> 1; y < height; y += stride) {
    let x = 0;
    for (let r = runs.row[y]!; r <= runs.row[y + 1]!; r++) {
      const stop = r < runs.row[y + 1]! ? runs.start[r]! : width;
      countRun(field, width, height, y, x, stop, counts, isLine);
      x = r < runs.row[y + 1]! ? runs.end[r]! : width;
    }
  }
  return counts;
}

function countRun(
  field: Int32Array,
  width: number,
  height: number,
  y: number,
  from: number,
  to: number,
  counts: Uint32Array,
  isLine: (at: number) => boolean,
): void {
  // One pixel of ink between paper on both sides has no pair to measure: it is one px wide.
  if (to - from === 1 && from > 0 && to < width) {
    if (isLine(y * width + from)) counts[STEPS_PER_PX] = counts[STEPS_PER_PX]! + 1;
    return;
  }
  const base = y * width;
  for (let x = from; x < to; x++) {
    const here = field[base + x]!;
    if (here === NO_PAPER) return;
    if (x + 1 < to) countPair(field, width, base + x, base + x + 1, counts, isLine);
    if (y + 1 < height) {
      const below = field[base + x + width]!;
      if (below < 0) countPair(field, width, base + x, base + x + width, counts, isLine);
      else if (y > 0 && field[base + x - width]! >= 0 && isLine(base + x)) {
        counts[STEPS_PER_PX] = counts[STEPS_PER_PX]! + 1;
      }
    }
  }
}

function countPair(
  field: Int32Array,
  width: number,
  at: number,
  next: number,
  counts: Uint32Array,
  isLine: (at: number) => boolean,
): void {
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
  // Asked last: few pixels come so far.
  if (!isLine(at)) return;
  const chord = Math.sqrt(chord2) - 1;
  const bin = Math.min(counts.length - 1, Math.round(chord * STEPS_PER_PX));
  counts[bin] = counts[bin]! + 1;
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
