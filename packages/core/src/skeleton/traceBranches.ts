import { Int32Stack } from '../raster/growable.ts';
import { findRoot, joinRoots, ownRoots } from '../raster/unionFind.ts';
import type { InkGrid } from './InkGrid.ts';
import { byDepth, neighbourhood, neighbourOffsets, type Skeleton } from './thinInk.ts';
import { NEIGHBOURS, squaredRadiusAt, type Stroke } from './traceStrokes.ts';

/** A stroke between two others. */
export interface Branch extends Stroke {
  /** Half width of its last third by that of its first: a stroke that was flicked thins out. */
  readonly taper: number;
}

/** Shorter pieces than this say nothing of their direction, in px. */
const LEAST_LENGTH = 4;

/** Where a line is so many times thicker than asked for it is another one. */
const THICK = 1.5;

/** A piece goes on in one that begins this near to its end, in px, in the same direction to this cosine ... */
const GOES_ON_PX = 6;
const GOES_ON_COSINE = 0.95;
/** ... and at most so many times as wide, and half a px. */
const AS_WIDE = 1.4;
/** Pieces that go on in each other over so many times the thinness asked for are a line that others run onto. */
const LONG = 130;

/** What a pixel of the middle line is, written into `on` and taken back. */
const [BETWEEN, JUNCTION, SEEN] = [1, 2, 3];

/**
 * Pieces of middle line between two junctions, or thicker lines, that are thinner than given: strokes that start and end on
 * others have no loose end. A long thin line that many others run onto, as the frame of a panel may be, is none of them.
 *
 * @param mostRadius mean half width of its middle third, in px of the grid.
 */
export function traceBranches(grid: InkGrid, skeleton: Skeleton, mostRadius: number): Branch[] {
  const { on, stride, pixels } = skeleton;
  const offsets = neighbourOffsets(stride);
  const thick = (THICK * mostRadius + 0.5) * (THICK * mostRadius + 0.5);
  const state = statesOf(grid, skeleton, thick);
  for (let k = 0; k < pixels.length; k++) on[pixels[k]!] = state[k]!;
  const starts = new Int32Stack();
  for (let k = 0; k < pixels.length; k++) {
    if (state[k] === BETWEEN && beside(on, offsets, pixels[k]!, JUNCTION) >= 0) starts.push(pixels[k]!);
  }
  const found: Branch[] = [];
  /** One piece after the other. */
  const path = new Int32Array(pixels.length);
  for (const first of byDepth(grid, stride, starts.data.subarray(0, starts.length))) {
    if (on[first] !== BETWEEN) continue;
    let length = 0;
    for (let at = first; at >= 0; at = beside(on, offsets, at, BETWEEN)) {
      on[at] = SEEN;
      path[length++] = at;
    }
    if (length < LEAST_LENGTH || beside(on, offsets, path[length - 1]!, JUNCTION) < 0) continue;
    const third = Math.ceil(length / 3);
    const meanRadius = (from: number): number => {
      let sum = 0;
      for (let j = from; j < from + third; j++) {
        const y = (path[j]! / stride) | 0;
        sum += Math.sqrt(squaredRadiusAt(grid, path[j]! - y * stride - 1, y - 1)) - 0.5;
      }
      return Math.max(0, sum / third);
    };
    const radius = meanRadius((length - third) >> 1);
    if (radius > mostRadius) continue;
    const [x, y] = [new Int32Array(length), new Int32Array(length)];
    for (let j = 0; j < length; j++) {
      const row = (path[j]! / stride) | 0;
      x[j] = path[j]! - row * stride - 1;
      y[j] = row - 1;
    }
    const taper = (meanRadius(length - third) + 0.25) / (meanRadius(0) + 0.25);
    found.push({ x, y, radius: new Float64Array(length).fill(radius), length, taper });
  }
  for (let k = 0; k < pixels.length; k++) on[pixels[k]!] = 1;
  return withoutLines(found, LONG * mostRadius);
}

/** Whether each pixel lies between others on a thin piece, or is where several meet, or thick. @param thick squared radius. */
function statesOf(grid: InkGrid, { on, pixels, stride }: Skeleton, thick: number): Uint8Array {
  const state = new Uint8Array(pixels.length);
  for (let k = 0; k < pixels.length; k++) {
    const at = pixels[k]!;
    const isBetween = NEIGHBOURS[neighbourhood(on, at, stride)]! <= 2;
    const y = (at / stride) | 0;
    state[k] = isBetween && squaredRadiusAt(grid, at - y * stride - 1, y - 1) <= thick ? BETWEEN : JUNCTION;
  }
  return state;
}

/** A neighbour in a state, or -1. */
function beside(on: Uint8Array, offsets: readonly number[], at: number, wanted: number): number {
  for (let k = 0; k < 8; k++) if (on[at + offsets[k]!] === wanted) return at + offsets[k]!;
  return -1;
}

/** One end of a piece: where it is, and the direction in which it would go on. */
interface PieceEnd {
  readonly piece: number;
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
}

/** The pieces that are not part of a line longer than given. */
function withoutLines(pieces: readonly Branch[], longest: number): Branch[] {
  const ends: PieceEnd[] = [];
  for (let k = 0; k < pieces.length; k++) ends.push(endOf(pieces[k]!, k, false), endOf(pieces[k]!, k, true));
  const buckets = new Map<number, PieceEnd[]>();
  for (const end of ends) {
    const key = bucketOf(end.x, end.y);
    const held = buckets.get(key);
    if (held === undefined) buckets.set(key, [end]);
    else held.push(end);
  }
  const parent = ownRoots(pieces.length);
  for (const end of ends) joinOn(end, buckets, pieces, parent);
  const length = new Float64Array(pieces.length);
  for (let k = 0; k < pieces.length; k++) {
    const root = findRoot(parent, k);
    length[root] = length[root]! + pieces[k]!.length;
  }
  const left: Branch[] = [];
  for (let k = 0; k < pieces.length; k++) if (length[findRoot(parent, k)]! <= longest) left.push(pieces[k]!);
  return left;
}

function bucketOf(x: number, y: number): number {
  return Math.floor(y / GOES_ON_PX) * 65_536 + Math.floor(x / GOES_ON_PX);
}

/** Joins a piece with those that go on from one of its ends. */
function joinOn(
  end: PieceEnd,
  buckets: ReadonlyMap<number, readonly PieceEnd[]>,
  pieces: readonly Branch[],
  parent: Int32Array,
): void {
  for (let by = -1; by <= 1; by++) {
    for (let bx = -1; bx <= 1; bx++) {
      const held = buckets.get(bucketOf(end.x + bx * GOES_ON_PX, end.y + by * GOES_ON_PX));
      if (held === undefined) continue;
      for (const other of held) {
        if (other.piece !== end.piece && goesOn(end, other, pieces)) joinRoots(parent, end.piece, other.piece);
      }
    }
  }
}

function endOf({ x, y }: Branch, piece: number, last: boolean): PieceEnd {
  const at = last ? x.length - 1 : 0;
  const back = last ? Math.max(0, at - DIRECTION_PX) : Math.min(x.length - 1, DIRECTION_PX);
  const [dx, dy] = [x[at]! - x[back]!, y[at]! - y[back]!];
  const norm = Math.sqrt(dx * dx + dy * dy) || 1;
  return { piece, x: x[at]!, y: y[at]!, dx: dx / norm, dy: dy / norm };
}

/** A piece's direction is that of so many px before its end. */
const DIRECTION_PX = 12;

/** Whether a piece goes on in another across a junction. */
function goesOn(one: PieceEnd, two: PieceEnd, pieces: readonly Branch[]): boolean {
  const [dx, dy] = [two.x - one.x, two.y - one.y];
  if (dx * dx + dy * dy > GOES_ON_PX * GOES_ON_PX) return false;
  if (one.dx * two.dx + one.dy * two.dy > -GOES_ON_COSINE) return false;
  const [r, s] = [pieces[one.piece]!.radius[0]!, pieces[two.piece]!.radius[0]!];
  return Math.max(r, s) <= AS_WIDE * Math.min(r, s) + 0.5;
}
