import { leastOf } from './leastOf.ts';

/** Taken out: looked up a million times. */
const { floor, max, min, sqrt } = Math;

/** The regions around one, with how much each says of what it is, 0..1. */
export interface RegionsAround {
  readonly regions: Int32Array;
  /** More for near ones and for those that are known. */
  readonly presence: Float64Array;
  /** More for those of about its size as well. */
  readonly likeness: Float64Array;
}

/** Where regions lie and how large they are. */
export interface RegionPlaces {
  /** `[x, y, x, y, ...]` of some points of each, in px of the page. */
  readonly points: readonly (readonly number[])[];
  readonly areaPx: ArrayLike<number>;
  /** 1 for regions whose part is known. */
  readonly known: Uint8Array;
}

/** What is only supposed to have a part says less than what is known to. */
const SUPPOSED = 0.7;
/** So many of the nearest regions say what one is. */
const MOST_AROUND = 32;
/** Rings of squares that are looked through, from the inside out. */
const RINGS = 4;

/**
 * The regions within a reach of some: buttons lie near buttons, a stripe beside stripes of its size.
 *
 * @param reach in px. @param wanted for which regions it is asked. Cost: by pairs within the reach.
 */
export function regionsAround(
  { points, areaPx, known }: RegionPlaces,
  reach: number,
  wanted: (region: number) => boolean,
): (RegionsAround | undefined)[] {
  const squares = inSquares(points, reach / RINGS);
  /** Of the region looked at: the square of how far off each of the others is, and those that are within the reach. */
  const far2 = new Float64Array(points.length).fill(Infinity);
  const found = new Int32Array(points.length);
  const farness = new Float64Array(points.length);
  const first = new Int32Array(min(points.length, MOST_AROUND));
  return points.map((list, region) => {
    if (!wanted(region) || list.length === 0) return undefined;
    const [x, y] = middleOf(list);
    const [column, row] = [squares.columnAt(x), squares.rowAt(y)];
    let size = 0;
    for (let ring = 0; ring <= RINGS; ring++) {
      for (let dy = -ring; dy <= ring; dy++) {
        const step = dy === -ring || dy === ring ? 1 : 2 * ring;
        for (let dx = -ring; dx <= ring; dx += max(1, step))
          size = lookThrough(squares, column + dx, row + dy, x, y, reach * reach, region, far2, found, size);
      }
      // What lies in a farther ring is no nearer than this.
      if (areSoNear(found, size, far2, ((ring / RINGS) * reach) ** 2, MOST_AROUND)) break;
    }
    for (let k = 0; k < size; k++) farness[k] = far2[found[k]!]!;
    const count = leastOf(farness.subarray(0, size), first);
    const [regions, presence, likeness] = [new Int32Array(count), new Float64Array(count), new Float64Array(count)];
    for (let k = 0; k < count; k++) {
      const other = found[first[k]!]!;
      const [area, ownArea] = [areaPx[other]!, areaPx[region]!];
      regions[k] = other;
      presence[k] = (1 - sqrt(far2[other]!) / reach) ** 2 * (known[other] === 1 ? 1 : SUPPOSED);
      likeness[k] = presence[k]! * sqrt(area < ownArea ? area / ownArea : ownArea / area);
    }
    for (let k = 0; k < size; k++) far2[found[k]!] = Infinity;
    return { regions, presence, likeness };
  });
}

/** Points by the squares they lie in: those of square s are `start[s] .. start[s + 1] - 1`. */
interface Squares {
  readonly columns: number;
  readonly rows: number;
  readonly start: Int32Array;
  readonly region: Int32Array;
  readonly x: Float64Array;
  readonly y: Float64Array;
  columnAt(x: number): number;
  rowAt(y: number): number;
}

function inSquares(points: readonly (readonly number[])[], side: number): Squares {
  let [left, top, right, bottom, count] = [Infinity, Infinity, -Infinity, -Infinity, 0];
  for (const list of points) {
    for (let k = 0; k < list.length; k += 2, count++) {
      left = min(left, list[k]!);
      right = max(right, list[k]!);
      top = min(top, list[k + 1]!);
      bottom = max(bottom, list[k + 1]!);
    }
  }
  const [firstColumn, firstRow] = [floor(left / side), floor(top / side)];
  const columnAt = (x: number): number => floor(x / side) - firstColumn;
  const rowAt = (y: number): number => floor(y / side) - firstRow;
  const [columns, rows] = count === 0 ? [0, 0] : [columnAt(right) + 1, rowAt(bottom) + 1];
  const start = new Int32Array(columns * rows + 1);
  const squareOf = (list: readonly number[], k: number): number => rowAt(list[k + 1]!) * columns + columnAt(list[k]!);
  for (const list of points) {
    for (let k = 0; k < list.length; k += 2) {
      const square = squareOf(list, k) + 1;
      start[square] = start[square]! + 1;
    }
  }
  for (let square = 0; square < columns * rows; square++) start[square + 1] = start[square + 1]! + start[square]!;
  const next = start.slice();
  const region = new Int32Array(count);
  const [x, y] = [new Float64Array(count), new Float64Array(count)];
  points.forEach((list, own) => {
    for (let k = 0; k < list.length; k += 2) {
      const square = squareOf(list, k);
      const at = next[square]!;
      next[square] = at + 1;
      region[at] = own;
      x[at] = list[k]!;
      y[at] = list[k + 1]!;
    }
  });
  return { columns, rows, start, region, x, y, columnAt, rowAt };
}

/** Notes how far off a place the regions of one square are; returns how many are found then. */
function lookThrough(
  { columns, rows, start, region, x: xs, y: ys }: Squares,
  column: number,
  row: number,
  x: number,
  y: number,
  reach2: number,
  own: number,
  far2: Float64Array,
  found: Int32Array,
  size: number,
): number {
  if (column < 0 || row < 0 || column >= columns || row >= rows) return size;
  const square = row * columns + column;
  const end = start[square + 1]!;
  for (let k = start[square]!; k < end; k++) {
    const other = region[k]!;
    if (other === own) continue;
    const dx = xs[k]! - x;
    const dy = ys[k]! - y;
    const squared = dx * dx + dy * dy;
    if (squared >= reach2) continue;
    const before = far2[other]!;
    if (before === Infinity) found[size++] = other;
    if (squared < before) far2[other] = squared;
  }
  return size;
}

/** Whether so many of those found are so near. */
function areSoNear(found: Int32Array, size: number, far2: Float64Array, most2: number, many: number): boolean {
  let count = 0;
  for (let k = 0; k < size; k++) if (far2[found[k]!]! <= most2) count++;
  return count >= many;
}

function middleOf(list: readonly number[]): readonly [number, number] {
  let [x, y] = [0, 0];
  for (let k = 0; k < list.length; k += 2) {
    x += list[k]!;
    y += list[k + 1]!;
  }
  return [(2 * x) / list.length, (2 * y) / list.length];
}
