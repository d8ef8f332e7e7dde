import type { PaperRuns } from './scanRuns.ts';

/** Stands on ink from which no paper can be reached. */
export const NO_PAPER = -0x80000000;

/**
 * Gives every ink pixel the complemented index of its nearest paper pixel: exact Euclidean
 * distance between pixel centres, ties to the lowest pixel index. This is the whole of trap "to
 * the middle of the line", whatever the cells are later joined to.
 *
 * A feature transform by columns, then rows (Felzenszwalb and Huttenlocher 2012), restricted to
 * ink: within a row nothing beyond the paper pixels at both ends of an ink run can be nearest, so
 * each run is a small problem of its own. Short distances are searched outwards, long ones solved
 * by the lower envelope of parabolas; both keep the same tie rule.
 *
 * @param field in: 0 or more on paper. Out: `~index` on ink, or {@link NO_PAPER} where the page has no
 *   paper at all; paper stays as it is. Cost: ink pixels times line width, or
 *   plainly the ink pixels inside solid blacks.
 */
export function spreadIntoInk(field: Int32Array, runs: PaperRuns, width: number, height: number): void {
  measureUp(field, runs, width, height);
  // Upwards: the distance to paper below is carried along, and each run is solved for good.
  const scratch = makeScratch(width);
  for (let y = height - 1; y >= 0; y--) {
    let x = 0;
    for (let r = runs.row[y]!; r < runs.row[y + 1]!; r++) {
      if (runs.start[r]! > x) solveRun(field, width, height, y, x, runs.start[r]!, scratch);
      x = runs.end[r]!;
    }
    if (x < width) solveRun(field, width, height, y, x, width, scratch);
  }
}

/** Writes on each ink pixel, as a negative number, how many rows up the next paper of its column is; {@link NO_PAPER} for none. */
function measureUp(field: Int32Array, runs: PaperRuns, width: number, height: number): void {
  for (let y = 0; y < height; y++) {
    let x = 0;
    for (let r = runs.row[y]!; r < runs.row[y + 1]!; r++) {
      if (runs.start[r]! > x) measureRunUp(field, width, y, x, runs.start[r]!);
      x = runs.end[r]!;
    }
    if (x < width) measureRunUp(field, width, y, x, width);
  }
}

function measureRunUp(field: Int32Array, width: number, y: number, from: number, to: number): void {
  const stop = y * width + to;
  if (y === 0) {
    field.fill(NO_PAPER, from, to);
    return;
  }
  for (let at = y * width + from; at < stop; at++) {
    const above = field[at - width]!;
    field[at] = above >= 0 ? -1 : above === NO_PAPER ? NO_PAPER : above - 1;
  }
}

interface Scratch {
  /** Distance to the next paper below for each column, {@link NONE} for none; holds where the row below is ink. */
  readonly below: Int32Array;
  /** Squared vertical distance of each column's candidate, NONE_SQUARED for none. */
  readonly g2: Int32Array;
  /** Pixel index of each column's candidate. */
  readonly source: Int32Array;
  /** The least of `g2` in the run at hand. */
  least: number;
  readonly hull: Int32Array;
  readonly bound: Float64Array;
}

/** Larger than any distance on a page; the sum of two such squares is still a 31-bit integer. */
const NONE = 32_767;
const NONE_SQUARED = NONE * NONE;

function makeScratch(width: number): Scratch {
  return {
    below: new Int32Array(width).fill(NONE),
    g2: new Int32Array(width + 2),
    source: new Int32Array(width + 2),
    least: 0,
    hull: new Int32Array(width + 2),
    bound: new Float64Array(width + 3),
  };
}

/** Runs with no more columns than this, or nowhere deeper, are searched; others get an envelope. */
const SEARCH_LIMIT_PX = 12;

function solveRun(
  field: Int32Array,
  width: number,
  height: number,
  y: number,
  from: number,
  to: number,
  scratch: Scratch,
): void {
  const { g2, source } = scratch;
  const origin = y * width + from - 1;
  // Local column k stands for x = from - 1 + k; the paper at both ends takes part with distance 0.
  const count = to - from + 2;
  g2[0] = from > 0 ? 0 : NONE_SQUARED;
  source[0] = origin;
  g2[count - 1] = to < width ? 0 : NONE_SQUARED;
  source[count - 1] = origin + count - 1;
  const farthest = gatherColumns(field, width, y < height - 1, origin, from, count, scratch);
  const middle = (count - 1) >> 1;
  if (middle * middle < scratch.least && from > 0 && to < width) {
    halveRun(field, origin, count);
  } else if (count <= 2 * SEARCH_LIMIT_PX + 2 || farthest <= SEARCH_LIMIT_PX) {
    searchRun(field, origin, count, g2, source, scratch.least);
  } else {
    envelopeRun(field, origin, count, scratch);
  }
}

/** Across an upright line nothing is nearer than the paper at both ends of the run. */
function halveRun(field: Int32Array, origin: number, count: number): void {
  const last = count - 1;
  const half = last >> 1;
  for (let k = 1; k <= half; k++) field[origin + k] = ~origin;
  for (let k = half + 1; k < last; k++) field[origin + k] = ~(origin + last);
}

/** Sets each column's nearest paper, above or below; the one above wins a tie. Returns the largest distance, and leaves the least. */
function gatherColumns(
  field: Int32Array,
  width: number,
  hasBelow: boolean,
  origin: number,
  from: number,
  count: number,
  scratch: Scratch,
): number {
  const { g2, source, below } = scratch;
  let farthest = 0;
  let nearest = NONE;
  for (let k = 1; k < count - 1; k++) {
    const at = origin + k;
    const x = from - 1 + k;
    // The row below is solved already: >= 0 is paper, anything else is ink.
    let down = NONE;
    if (hasBelow) down = field[at + width]! >= 0 ? 1 : Math.min(NONE, below[x]! + 1);
    below[x] = down;
    const raised = field[at]!;
    const up = raised === NO_PAPER ? NONE : -raised;
    let reach = up;
    if (up <= down) source[k] = at - up * width;
    else {
      reach = down;
      source[k] = at + down * width;
    }
    g2[k] = reach * reach;
    if (reach > farthest) farthest = reach;
    if (reach < nearest) nearest = reach;
  }
  scratch.least = nearest * nearest;
  return farthest;
}

/** Columns a window, a power of two: more than a search can reach. */
const WINDOW = 16;

function leastOf(g2: Int32Array, from: number, to: number): number {
  let least = NONE_SQUARED;
  for (let k = from; k < to; k++) if (g2[k]! < least) least = g2[k]!;
  return least;
}

/** @param leastOfRun the least own distance of all its columns. */
function searchRun(
  field: Int32Array,
  origin: number,
  count: number,
  g2: Int32Array,
  source: Int32Array,
  leastOfRun: number,
): void {
  const last = count - 1;
  // The paper at the ends of the run: read once, for every write to the field could be one to them.
  const [leftOwn, rightOwn] = [g2[0]!, g2[last]!];
  const [leftSource, rightSource] = [source[0]!, source[last]!];
  const isShort = last <= WINDOW;
  let least = leastOfRun;
  let ahead = isShort ? least : leastOf(g2, 1, 1 + WINDOW);
  let current = NONE_SQUARED;
  let behind = NONE_SQUARED;
  for (let k = 1; k < last; k++) {
    // The least own distance of the columns within reach, by windows of columns.
    if (!isShort && (k & (WINDOW - 1)) === 1) {
      behind = current;
      current = ahead;
      ahead = leastOf(g2, k + WINDOW, Math.min(last, k + 2 * WINDOW));
      least = Math.min(behind, current, ahead);
    }
    let best = g2[k]!;
    let nearest = source[k]!;
    // The paper at the ends of the run first: it bounds the search.
    const left2 = k * k + leftOwn;
    if (left2 <= best && (left2 < best || leftSource < nearest)) {
      best = left2;
      nearest = leftSource;
    }
    const right2 = (last - k) * (last - k) + rightOwn;
    if (right2 <= best && (right2 < best || rightSource < nearest)) {
      best = right2;
      nearest = rightSource;
    }
    // Nothing within reach is closer to its own paper than `least`: on level lines this ends at once.
    for (let d = 1; d * d + least <= best; d++) {
      const across = d * d;
      if (d < k) {
        const squared = across + g2[k - d]!;
        if (squared <= best && (squared < best || source[k - d]! < nearest)) {
          best = squared;
          nearest = source[k - d]!;
        }
      }
      if (k + d < last) {
        const squared = across + g2[k + d]!;
        if (squared <= best && (squared < best || source[k + d]! < nearest)) {
          best = squared;
          nearest = source[k + d]!;
        }
      }
    }
    field[origin + k] = best >= NONE_SQUARED ? NO_PAPER : ~nearest;
  }
}

function envelopeRun(field: Int32Array, origin: number, count: number, scratch: Scratch): void {
  const { g2, source, hull, bound } = scratch;
  // The lower envelope; a parabola that touches it in one point only stays, for the ties there.
  let size = 0;
  for (let k = 0; k < count; k++) {
    if (g2[k]! >= NONE_SQUARED) continue;
    const height = g2[k]! + k * k;
    let cross = -Infinity;
    while (size > 0) {
      const top = hull[size - 1]!;
      cross = (height - g2[top]! - top * top) / (2 * (k - top));
      if (cross >= bound[size - 1]!) break;
      size--;
    }
    bound[size] = size === 0 ? -Infinity : cross;
    hull[size++] = k;
  }
  if (size === 0) {
    field.fill(NO_PAPER, origin + 1, origin + count - 1);
    return;
  }
  bound[size] = Infinity;
  let current = 0;
  for (let k = 1; k < count - 1; k++) {
    let column = hull[current]!;
    let best = g2[column]! + (k - column) * (k - column);
    let nearest = source[column]!;
    while (bound[current + 1]! <= k) {
      current++;
      column = hull[current]!;
      const squared = g2[column]! + (k - column) * (k - column);
      if (squared < best || source[column]! < nearest) nearest = source[column]!;
      best = squared;
    }
    field[origin + k] = ~nearest;
  }
}
