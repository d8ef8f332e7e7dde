import type { PaperRuns } from '../../raster/scanRuns.ts';
import type { GapTexture } from '../hatching/FoundCuts.ts';
import { isTexture, rowAt } from '../hatching/findTexture.ts';

/**
 * Where colour from two sides meets in the middle of ink: pairs of the paper pixels it comes from. Which
 * cells these lie in changes with the cuts; where they are does not.
 */
export interface BorderPoints {
  readonly count: number;
  /** They come from one row of so many. */
  readonly rowStride: number;
  /** Indices of paper pixels. */
  readonly one: Int32Array;
  readonly two: Int32Array;
  /** What ink it is: {@link LINE}, {@link THIN_INK} or {@link TEXTURE}. */
  readonly ink: Uint8Array;
  /** How wide the ink is there, in {@link WIDTH_STEPS} of the line width, {@link MOST_STEPS} at most. */
  readonly steps: Uint8Array;
  /** How many strokes stand in a row that it belongs to, 15 at most. */
  readonly row: Uint8Array;
  /** Whether any of it may be hatching. */
  readonly hasTexture: boolean;
  /** Lowest and highest paper pixel of each {@link BLOCK} points in turn. */
  readonly spans: Int32Array;
  /** Cells that `one` and `two` lie in: whoever writes other cells into the field calls {@link placePoints}. */
  readonly cellOne: Int32Array;
  readonly cellTwo: Int32Array;
}

/** So many points are asked at once whether they lie where something changed. */
export const BLOCK = 1024;

/** What is known of cells that were divided again. */
export interface CellChange {
  /** 1 for cells whose paper may be of another now. */
  readonly touched: Uint8Array;
  /** What the others are called now. */
  readonly ofCell: Int32Array;
  /** Pixels `[first, end]`: all paper before and after them is of the same cell, called the same. */
  readonly pixels: readonly [number, number];
}

/** Reads anew which cells the points lie in. @param change where it is known which may be others. @default all */
export function placePoints(points: BorderPoints, field: Int32Array, change?: CellChange): void {
  if (change === undefined) {
    const { count, one, two, cellOne, cellTwo } = points;
    for (let k = 0; k < count; k++) {
      cellOne[k] = field[one[k]!]!;
      cellTwo[k] = field[two[k]!]!;
    }
    return;
  }
  for (let from = 0; from < points.count; from += BLOCK) {
    if (mayLieIn(points, from, change.pixels)) placeBlock(points, field, change, from);
  }
}

/** Whether points of the block that begins with one may come from some pixels. */
export function mayLieIn({ spans }: BorderPoints, from: number, [first, end]: readonly [number, number]): boolean {
  const block = from / BLOCK;
  return spans[2 * block]! < end && spans[2 * block + 1]! >= first;
}

function placeBlock(
  { count, one, two, cellOne, cellTwo }: BorderPoints,
  field: Int32Array,
  { touched, ofCell }: CellChange,
  from: number,
): void {
  const end = Math.min(count, from + BLOCK);
  for (let k = from; k < end; k++) {
    const a = cellOne[k]!;
    const b = cellTwo[k]!;
    cellOne[k] = touched[a] === 1 ? field[one[k]!]! : ofCell[a]!;
    cellTwo[k] = touched[b] === 1 ? field[two[k]!]! : ofCell[b]!;
  }
}

/** As `BorderPoints.spans` has them. */
export function spansOf(one: Int32Array, two: Int32Array, count: number): Int32Array {
  const spans = new Int32Array(2 * Math.ceil(count / BLOCK));
  for (let block = 0; 2 * block < spans.length; block++) {
    const end = Math.min(count, (block + 1) * BLOCK);
    let lowest = one[block * BLOCK]!;
    let highest = lowest;
    for (let k = block * BLOCK; k < end; k++) {
      const a = one[k]!;
      const b = two[k]!;
      if (a < lowest) lowest = a;
      if (b < lowest) lowest = b;
      if (a > highest) highest = a;
      if (b > highest) highest = b;
    }
    spans[2 * block] = lowest;
    spans[2 * block + 1] = highest;
  }
  return spans;
}

/** Steps of width in a line width. */
export const WIDTH_STEPS = 8;
export const MOST_STEPS = 63;

export const LINE = 0;
/** Thinner than the page's lines are. */
export const THIN_INK = 1;
/** Ink of hatching, which bounds nothing. */
export const TEXTURE = 2;

/** Fewer strokes side by side are no hatching to look for. */
const LEAST_ROW = 3;
/** Ink thinner than so many line widths is thin. */
const THIN_WIDTHS = 0.8;

/** Ink rows looked at: one of so many, and of so many more where lines are this wide, in px. */
const ROW_STRIDE = 2;
const WIDE_PX = 10;
const WIDE_ROW_STRIDE = 4;
/** On most pages there are no more than so many for each run of paper in the rows looked at. */
const POINTS_A_RUN = 7;
/** Paper pixels no farther apart than this are one side, in px. */
const SAME_SIDE_PX = 1;

/**
 * Reads the ink of every other row, or of fewer where lines are wide.
 *
 * @param field as left by `spreadIntoInk`. @param runs of the paper, uncut. @param lineWidthPx median.
 */
export function findBorderPoints(
  field: Int32Array,
  runs: PaperRuns,
  { textureMask, textureWidth, textureFactor }: GapTexture,
  lineWidthPx: number,
  width: number,
  height: number,
): BorderPoints {
  // From paper to paper is a px more than the ink.
  const mostThin = (THIN_WIDTHS * lineWidthPx + 1) * (THIN_WIDTHS * lineWidthPx + 1);
  const stepsOfPx = WIDTH_STEPS / Math.max(1, lineWidthPx);
  const rowStride = lineWidthPx >= WIDE_PX ? WIDE_ROW_STRIDE : ROW_STRIDE;
  const found = new Found(Math.ceil((POINTS_A_RUN * runs.count) / rowStride));
  for (let y = 0; y + 1 < height; y += rowStride) {
    const textureRow = Math.floor(y / textureFactor) * textureWidth;
    const before = found.count;
    let x = 0;
    for (let r = runs.row[y]!; r <= runs.row[y + 1]!; r++) {
      const stop = r < runs.row[y + 1]! ? runs.start[r]! : width;
      if (stop > x) readInkRun(field, y * width + x, y * width + stop, width, found);
      x = r < runs.row[y + 1]! ? runs.end[r]! : width;
    }
    measureInk(found, before, y * width, width, mostThin, stepsOfPx, textureMask, textureRow, textureFactor);
  }
  const { count } = found;
  const [ink, row] = [found.ink.subarray(0, count), found.row.subarray(0, count)];
  return {
    count,
    rowStride,
    one: found.one.subarray(0, count),
    two: found.two.subarray(0, count),
    ink,
    steps: found.steps.subarray(0, count),
    row,
    hasTexture: ink.includes(TEXTURE) || holdsRow(row),
    spans: spansOf(found.one, found.two, count),
    cellOne: new Int32Array(count),
    cellTwo: new Int32Array(count),
  };
}

/** Ink up to so many times wider than a stroke of hatching is still its own, in px: what is wider is an outline below it. */
const OWN_INK = 1.2;
const OWN_INK_PX = 0.5;

/**
 * What ink it is that the points from one on lie in, and how wide.
 *
 * @param rowStart index of the first pixel of their row. @param mostThin squared. @param textureRow the row's first place in the mask.
 */
function measureInk(
  { count, one, two, at, ink, steps, row }: Found,
  from: number,
  rowStart: number,
  width: number,
  mostThin: number,
  stepsOfPx: number,
  textureMask: Uint8Array,
  textureRow: number,
  textureFactor: number,
): void {
  const inverse = 1 / width;
  for (let k = from; k < count; k++) {
    const apart = squaredDistance(one[k]!, two[k]!, width, inverse);
    const value = textureMask[textureRow + Math.floor((at[k]! - rowStart) / textureFactor)] ?? 0;
    const strokePx = isTexture(value) ? value : 0;
    row[k] = rowAt(value);
    const most = OWN_INK * strokePx * textureFactor + OWN_INK_PX + 1;
    ink[k] = strokePx > 0 && apart <= most * most ? TEXTURE : apart <= mostThin ? THIN_INK : LINE;
    steps[k] = Math.min(MOST_STEPS, Math.round((Math.sqrt(apart) - 1) * stepsOfPx));
  }
}

/** @param inverse of the width: multiplying is faster than dividing, and the half keeps it exact. */
function squaredDistance(one: number, two: number, width: number, inverse: number): number {
  const y1 = ((one + 0.5) * inverse) | 0;
  const y2 = ((two + 0.5) * inverse) | 0;
  const dx = two - y2 * width - (one - y1 * width);
  const dy = y2 - y1;
  return dx * dx + dy * dy;
}

class Found {
  count = 0;
  one: Int32Array;
  two: Int32Array;
  at: Int32Array;
  ink: Uint8Array;
  steps: Uint8Array;
  row: Uint8Array;

  constructor(capacity: number) {
    this.one = new Int32Array(capacity);
    this.two = new Int32Array(capacity);
    this.at = new Int32Array(capacity);
    this.ink = new Uint8Array(capacity);
    this.steps = new Uint8Array(capacity);
    this.row = new Uint8Array(capacity);
  }

  reserve(more: number): void {
    if (this.count + more <= this.one.length) return;
    const grown = <T extends Int32Array | Uint8Array>(from: T, to: T): T => {
      to.set(from);
      return to;
    };
    const size = 2 * (this.count + more);
    this.one = grown(this.one, new Int32Array(size));
    this.two = grown(this.two, new Int32Array(size));
    this.at = grown(this.at, new Int32Array(size));
    this.ink = grown(this.ink, new Uint8Array(size));
    this.steps = grown(this.steps, new Uint8Array(size));
    this.row = grown(this.row, new Uint8Array(size));
  }
}

function readInkRun(field: Int32Array, from: number, to: number, width: number, found: Found): void {
  found.reserve(2 * (to - from));
  const { one, two, at } = found;
  const pixels = field.length;
  let { count } = found;
  let left = -1;
  for (let k = from; k < to; k++) {
    const own = ~field[k]!;
    // Where the page holds no paper the index lies beyond it.
    if (own >= pixels) continue;
    if (left >= 0 && left !== own && !near(left, own, width)) {
      one[count] = left;
      two[count] = own;
      at[count++] = k;
    }
    left = own;
    const below = ~field[k + width]!;
    if (below >= 0 && below < pixels && below !== own && !near(own, below, width)) {
      one[count] = own;
      two[count] = below;
      at[count++] = k;
    }
  }
  found.count = count;
}

function holdsRow(row: Uint8Array): boolean {
  for (let k = 0; k < row.length; k++) if (row[k]! >= LEAST_ROW) return true;
  return false;
}

/** Whether two paper pixels touch. */
function near(a: number, b: number, width: number): boolean {
  const apart = a < b ? b - a : a - b;
  return apart <= SAME_SIDE_PX || (apart >= width - SAME_SIDE_PX && apart <= width + SAME_SIDE_PX);
}
