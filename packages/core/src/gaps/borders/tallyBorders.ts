import type { CellBorders, InkedBorder } from '../../model/CellGraph.ts';
import {
  BLOCK,
  type BorderPoints,
  type CellChange,
  LINE,
  MOST_STEPS,
  TEXTURE,
  THIN_INK,
  WIDTH_STEPS,
  mayLieIn,
} from './findBorderPoints.ts';

/** More than a page can have cells. */
const KEY = 1 << 26;

/** @param low the lower cell. */
export function keyOfBorder(low: number, high: number): number {
  return low * KEY + high;
}

export function cellsOfBorder(key: number): readonly [low: number, high: number] {
  const high = key % KEY;
  return [(key - high) / KEY, high];
}

/** Length of each cell's border to others that is inked, in px; ink of hatching is no border. */
export function wallsOf(borders: CellBorders, cells: number): Float64Array {
  const walls = new Float64Array(cells);
  for (const [key, { px, texturePx }] of borders) {
    const [low, high] = cellsOfBorder(key);
    if (low === high) continue;
    walls[low] = walls[low]! + px - texturePx;
    walls[high] = walls[high]! + px - texturePx;
  }
  return walls;
}

/** Adds up the points between every two cells. @param points placed in the cells. */
export function tallyBorders(points: BorderPoints): CellBorders {
  const borders = new Map<number, InkedBorder>();
  tallyPoints(points, null, borders);
  return borders;
}

/**
 * Adds up anew what has changed; the other borders are taken over.
 *
 * @param isNew 1 for cells that came of those divided. @param points placed in the cells there are now.
 */
export function retallyBorders(
  before: CellBorders,
  { touched, ofCell, pixels }: CellChange,
  isNew: Uint8Array,
  points: BorderPoints,
): CellBorders {
  const moved: [number, InkedBorder][] = [];
  // Most borders stay: a copy without the others is made sooner than one of all that stay.
  const borders = new Map(before);
  for (const [key, border] of before) {
    const [low, high] = cellsOfBorder(key);
    const [a, b] = [ofCell[low]!, ofCell[high]!];
    const isTouched = (touched[low]! | touched[high]!) !== 0;
    if (!isTouched && a === low && b === high) continue;
    borders.delete(key);
    if (!isTouched) moved.push([keyOfBorder(Math.min(a, b), Math.max(a, b)), border]);
  }
  for (const [key, border] of moved) borders.set(key, border);
  tallyPoints(points, { isNew, pixels }, borders);
  return borders;
}

/** Pairs of cells counted at a time before they are looked up; a power of two. */
const SLOTS = 4096;
/** What is counted for each of them: three kinds of ink, then ... */
const COLUMNS = 7;
const [WIDTHS, SQUARES, NARROWEST, ROWS] = [3, 4, 5, 6];

/** Which points are added up: those beside new cells, all of which lie in some pixels `[first, end]`. */
interface Wanted {
  readonly isNew: Uint8Array;
  readonly pixels: readonly [number, number];
}

/** Sums of some pairs of cells at a time. */
interface Slots {
  readonly low: Int32Array;
  readonly high: Int32Array;
  readonly tally: Int32Array;
}

/** @param wanted null for all points. */
function tallyPoints(points: BorderPoints, wanted: Wanted | null, borders: Map<number, InkedBorder>): void {
  const slots = {
    low: new Int32Array(SLOTS).fill(-1),
    high: new Int32Array(SLOTS),
    tally: new Int32Array(COLUMNS * SLOTS),
  };
  for (let from = 0; from < points.count; from += BLOCK) {
    if (wanted === null || mayLieIn(points, from, wanted.pixels))
      tallyBlock(points, from, wanted?.isNew ?? null, slots, borders);
  }
  const { low, high, tally } = slots;
  for (let slot = 0; slot < SLOTS; slot++) {
    if (low[slot]! >= 0)
      emptySlot(tally, COLUMNS * slot, keyOfBorder(low[slot]!, high[slot]!), points.rowStride, borders);
  }
}

/** @param from where the block begins. @param isNew points beside no such cell are left out; null for none left out. */
function tallyBlock(
  { count, rowStride, cellOne, cellTwo, ink, steps, row }: BorderPoints,
  from: number,
  isNew: Uint8Array | null,
  { low, high, tally }: Slots,
  borders: Map<number, InkedBorder>,
): void {
  const end = Math.min(count, from + BLOCK);
  for (let k = from; k < end; k++) {
    let a = cellOne[k]!;
    let b = cellTwo[k]!;
    // Within a cell only what may be hatching is worth knowing.
    if ((a === b && ink[k] === LINE) || (isNew !== null && (isNew[a]! | isNew[b]!) === 0)) continue;
    if (a > b) [a, b] = [b, a];
    const slot = (a * 31 + b) & (SLOTS - 1);
    const at = COLUMNS * slot;
    if (low[slot] !== a || high[slot] !== b) {
      if (low[slot]! >= 0) emptySlot(tally, at, keyOfBorder(low[slot]!, high[slot]!), rowStride, borders);
      low[slot] = a;
      high[slot] = b;
      tally[at + NARROWEST] = MOST_STEPS;
    }
    tally[at + ink[k]!]!++;
    if (steps[k]! < tally[at + NARROWEST]!) tally[at + NARROWEST] = steps[k]!;
    tally[at + ROWS]! += row[k]!;
    tally[at + WIDTHS]! += steps[k]!;
    tally[at + SQUARES]! += steps[k]! * steps[k]!;
  }
}

function emptySlot(
  tally: Int32Array,
  from: number,
  key: number,
  rowStride: number,
  borders: Map<number, InkedBorder>,
): void {
  let border = borders.get(key);
  if (border === undefined) {
    border = { px: 0, thinPx: 0, texturePx: 0, widths: 0, squares: 0, narrowest: Infinity, rows: 0 };
    borders.set(key, border);
  }
  const [line, thin, texture] = [tally[from]!, tally[from + THIN_INK]!, tally[from + TEXTURE]!];
  border.px += rowStride * (line + thin + texture);
  border.thinPx += rowStride * thin;
  border.texturePx += rowStride * texture;
  border.widths += (rowStride * tally[from + WIDTHS]!) / WIDTH_STEPS;
  border.squares += (rowStride * tally[from + SQUARES]!) / (WIDTH_STEPS * WIDTH_STEPS);
  border.narrowest = Math.min(border.narrowest, tally[from + NARROWEST]! / WIDTH_STEPS);
  border.rows += rowStride * tally[from + ROWS]!;
  for (let k = from; k < from + COLUMNS; k++) tally[k] = 0;
}
