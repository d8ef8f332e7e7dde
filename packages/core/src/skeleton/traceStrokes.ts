import { Int32Stack } from '../raster/growable.ts';
import { NO_PAPER } from '../raster/spreadIntoInk.ts';
import type { InkGrid } from './InkGrid.ts';
import { byDepth, neighbourhood, neighbourOffsets, thinAgain, type Skeleton } from './thinInk.ts';

/** Loose ends of strokes, as columns of one table; lengths in px of the grid. */
export interface LooseEnds {
  readonly count: number;
  /** Last point of the ink, on the stroke's axis. */
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** Outward direction of the stroke, of length one. */
  readonly dx: Float64Array;
  readonly dy: Float64Array;
  /** Half width of the stroke near its end. */
  readonly radius: Float64Array;
  /** Half width at the very end by that near it: 1 where the stroke is cut off, 0 where it thins out to a point. */
  readonly blunt: Float64Array;
  /** Half width of the stroke behind its end, where a taper is over: the median of some line widths of it. */
  readonly body: Float64Array;
  /** 1 where the stroke's other end is loose too, and near. */
  readonly free: Float64Array;
  /** How far the stroke could be followed back. */
  readonly length: Float64Array;
  /** Length of all lines that hang together with it. */
  readonly web: Float64Array;
  /** How much this end says that a line stops here, 0..1. */
  readonly weight: Float64Array;
}

/** The middle line of a stroke from a loose end on; px of the grid. */
export interface Stroke {
  readonly x: Int32Array;
  readonly y: Int32Array;
  /** Half width, 0 where the ink is that of another stroke as well. */
  readonly radius: Float64Array;
  readonly length: number;
}

/** How many neighbours on, by neighbourhood. */
export const NEIGHBOURS = Uint8Array.from({ length: 256 }, (_, code) => {
  let bits = 0;
  for (let k = 0; k < 8; k++) bits += (code >> k) & 1;
  return bits;
});

/** Half width of the ink at a pixel of the middle line, in px. */
function radiusAt(grid: InkGrid, stride: number, padded: number): number {
  const squared = squaredRadiusAt(grid, (padded % stride) - 1, ((padded / stride) | 0) - 1);
  return squared === 0 ? 0 : Math.sqrt(squared) - 0.5;
}

/** Squared distance from a pixel of ink to the nearest paper, in px of the grid; 0 on paper. */
export function squaredRadiusAt({ nearest, width }: InkGrid, x: number, y: number): number {
  const source = nearest[y * width + x]!;
  if (source === NO_PAPER || source >= 0) return 0;
  const at = ~source;
  const sy = (at / width) | 0;
  const dx = x - (at - sy * width);
  const dy = y - sy;
  return dx * dx + dy * dy;
}

const PRUNE_ROUNDS = 4;
/** Length of a spur into a corner by the fall of its half width: 1 / sin(half the angle), down to 54 degrees. */
const CORNER = 2.2;

/**
 * Takes spurs off the middle lines, whose ends are corners of the ink and not ends of strokes, and
 * strokes no longer than the line is wide.
 *
 * @param lineWidth in px of the grid.
 */
export function pruneSpurs(grid: InkGrid, skeleton: Skeleton, lineWidth: number): Skeleton {
  const { on, stride, pixels } = skeleton;
  const waiting = new Int32Stack();
  let ends = endsOf(skeleton);
  for (let round = 0; round < PRUNE_ROUNDS; round++) {
    const gone = new Int32Stack();
    for (let k = 0; k < ends.length; k++) {
      const end = ends[k]!;
      const path = followStroke(skeleton, end, 40 * lineWidth, false);
      const last = path.at(-1)!;
      const length = lengthOf(path, stride);
      const junction = NEIGHBOURS[neighbourhood(on, last, stride)]! > 2;
      if (!junction) {
        if (length < lineWidth) for (const at of path) gone.push(at);
        continue;
      }
      const [thick, thin] = [radiusAt(grid, stride, last), radiusAt(grid, stride, end)];
      // Into a corner of the ink the half width falls as fast as half the corner's angle says; a stroke keeps its own.
      const room = Math.max(thick + 0.8 * Math.max(thin, lineWidth / 2), CORNER * (thick - thin) + 1);
      if (length <= room) for (let p = 0; p < path.length - 1; p++) gone.push(path[p]!);
    }
    if (gone.length === 0) break;
    for (let k = 0; k < gone.length; k++) on[gone.data[k]!] = 0;
    thinAgain(grid, skeleton, gone, waiting);
    ends = endsBeside(skeleton, ends, gone);
  }
  const left = new Int32Array(pixels.length);
  let count = 0;
  for (let k = 0; k < pixels.length; k++) if (on[pixels[k]!] === 1) left[count++] = pixels[k]!;
  return { stride, on, pixels: left.subarray(0, count) };
}

/** The ends after pixels went: only beside these can there be others than before. */
function endsBeside(skeleton: Skeleton, before: Int32Array, gone: Int32Stack): Int32Array {
  const offsets = neighbourOffsets(skeleton.stride);
  const found = new Int32Stack();
  for (let k = 0; k < before.length; k++) if (isEnd(skeleton, before[k]!)) found.push(before[k]!);
  for (let k = 0; k < gone.length; k++) {
    for (let j = 0; j < 8; j++) {
      const at = gone.data[k]! + offsets[j]!;
      if (isEnd(skeleton, at)) found.push(at);
    }
  }
  // One may lie beside several that went.
  const sorted = found.data.slice(0, found.length).sort();
  return sorted.filter((at, k) => k === 0 || at !== sorted[k - 1]);
}

function isEnd({ on, stride }: Skeleton, at: number): boolean {
  return on[at] === 1 && NEIGHBOURS[neighbourhood(on, at, stride)] === 1;
}

/** In reading order. */
function endsOf(skeleton: Skeleton): Int32Array {
  const { pixels } = skeleton;
  const ends = new Int32Stack();
  for (let k = 0; k < pixels.length; k++) if (isEnd(skeleton, pixels[k]!)) ends.push(pixels[k]!);
  return ends.data.slice(0, ends.length);
}

/**
 * Walks along the middle line from an end: to the next junction, or through junctions while the
 * line goes on straight.
 *
 * @returns padded indices, the end first; a junction that stops the walk is the last.
 */
function followStroke({ on, stride }: Skeleton, end: number, maxLength: number, through: boolean): number[] {
  const offsets = neighbourOffsets(stride);
  const path = [end];
  markSeen(on, end);
  while (path.length < maxLength) {
    const count = findExits(on, offsets, path[path.length - 1]!);
    if (count === 0) break;
    let next = EXITS[0]!;
    if (count > 1 && path.length > 1) {
      if (!through) break;
      next = straightExit(on, stride, path, Array.from(EXITS.subarray(0, count)));
      if (next < 0) break;
    }
    for (let k = 0; k < count; k++) markSeen(on, EXITS[k]!);
    path.push(next);
  }
  forgetSeen(on);
  return path;
}

/** Where a walk may go on: filled again at every step. */
const EXITS = new Int32Array(8);

/** Puts the pixels a walk may go on to into `EXITS`; how many there are. */
function findExits(on: Uint8Array, offsets: readonly number[], at: number): number {
  let count = 0;
  // Straight neighbours first: in a corner of three the diagonal one comes after.
  for (let k = 0; k < 8; k += 2) {
    const other = at + offsets[k]!;
    if (on[other] === 1) EXITS[count++] = other;
  }
  for (let k = 1; k < 8; k += 2) {
    const other = at + offsets[k]!;
    if (on[other] === 1 && on[at + offsets[k - 1]!] === 0 && on[at + offsets[(k + 1) & 7]!] === 0)
      EXITS[count++] = other;
  }
  return count;
}

/** Of the middle line, and looked at. */
const SEEN = 2;

/** The last pixels seen on a walk, -1 for none: a middle line does not come back upon itself within so few steps. */
const RECENT = new Int32Array(32).fill(-1);
let recent = 0;

function markSeen(on: Uint8Array, at: number): void {
  if (RECENT[recent]! >= 0) on[RECENT[recent]!] = 1;
  on[at] = SEEN;
  RECENT[recent] = at;
  recent = (recent + 1) % RECENT.length;
}

function forgetSeen(on: Uint8Array): void {
  for (let k = 0; k < RECENT.length; k++) if (RECENT[k]! >= 0) on[RECENT[k]!] = 1;
  RECENT.fill(-1);
}

const EXIT_STEPS = 7;
/** Cosine from which an exit counts as the same stroke. */
const STRAIGHT = 0.85;

/** The exit of a junction that lines up with the way come, or -1. */
function straightExit(on: Uint8Array, stride: number, path: readonly number[], exits: readonly number[]): number {
  const at = path.at(-1)!;
  const from = path[Math.max(0, path.length - 1 - EXIT_STEPS)]!;
  const [ix, iy] = between(from, at, stride);
  let best = STRAIGHT;
  let chosen = -1;
  for (const exit of exits) {
    const offsets = neighbourOffsets(stride);
    let previous = at;
    let here = exit;
    for (let k = 1; k < EXIT_STEPS; k++) {
      let next = -1;
      for (const offset of offsets) {
        const other = here + offset;
        if (on[other] !== 0 && other !== previous && !exits.includes(other) && other !== at) {
          next = other;
          break;
        }
      }
      if (next < 0) break;
      previous = here;
      here = next;
    }
    const [ox, oy] = between(at, here, stride);
    const norm = Math.sqrt((ix * ix + iy * iy) * (ox * ox + oy * oy));
    const cosine = norm === 0 ? 0 : (ix * ox + iy * oy) / norm;
    if (cosine > best) {
      best = cosine;
      chosen = exit;
    }
  }
  return chosen;
}

function between(from: number, to: number, stride: number): [number, number] {
  const fy = (from / stride) | 0;
  const ty = (to / stride) | 0;
  return [to - ty * stride - (from - fy * stride), ty - fy];
}

function lengthOf(path: readonly number[], stride: number): number {
  let length = 0;
  for (let k = 1; k < path.length; k++) {
    const step = Math.abs(path[k]! - path[k - 1]!);
    length += step === 1 || step === stride ? 1 : Math.SQRT2;
  }
  return length;
}

/**
 * Finds the loose ends with their directions.
 *
 * @param lineWidth in px of the grid.
 */
export function findLooseEnds(grid: InkGrid, skeleton: Skeleton, lineWidth: number): Omit<LooseEnds, 'weight'> {
  const { stride } = skeleton;
  const found = byDepth(grid, stride, endsOf(skeleton));
  const webs = webLengths(skeleton);
  const rows: number[][] = [];
  for (const end of found) {
    const path = followStroke(skeleton, end, Math.ceil(14 * lineWidth), true);
    const length = lengthOf(path, stride);
    // A taper says little about the stroke: its half width is taken a little behind the end.
    const behind = path[Math.min(path.length - 1, Math.ceil(2.5 * lineWidth))]!;
    const radius = Math.max(radiusAt(grid, stride, end), radiusAt(grid, stride, behind));
    const direction = outwardDirection(path, stride, Math.ceil(Math.max(8, 4 * radius + 6)));
    if (direction === null) continue;
    const [ex, ey] = [(end % stride) - 1, ((end / stride) | 0) - 1];
    const [tx, ty] = tipOf(grid, ex, ey, direction, 2 * radius + 2);
    const body = middleRadius(grid, stride, path.slice(Math.ceil(TAPER * lineWidth), Math.ceil(BODY * lineWidth)));
    const loose =
      length < NEAR_WIDTHS * lineWidth && NEIGHBOURS[neighbourhood(skeleton.on, path.at(-1)!, stride)]! <= 1;
    const blunt = Math.min(1, (radiusAt(grid, stride, end) + 0.25) / (radius + 0.25));
    rows.push([
      tx,
      ty,
      direction[0],
      direction[1],
      radius,
      length,
      webs.get(end) ?? 0,
      blunt,
      body ?? radius,
      loose ? 1 : 0,
    ]);
  }
  const column = (k: number): Float64Array => Float64Array.from(rows, (row) => row[k]!);
  return {
    count: rows.length,
    x: column(0),
    y: column(1),
    dx: column(2),
    dy: column(3),
    radius: column(4),
    length: column(5),
    web: column(6),
    blunt: column(7),
    body: column(8),
    free: column(9),
  };
}

/** A stroke's own width shows from so many line widths behind its end, to so many. */
const TAPER = 2;
const BODY = 8;
/** Another end this many line widths away, at most, is the same stroke's. */
const NEAR_WIDTHS = 13;

/** The median half width along a path; null for none. */
function middleRadius(grid: InkGrid, stride: number, path: readonly number[]): number | null {
  const radii = path.map((at) => radiusAt(grid, stride, at)).sort((a, b) => a - b);
  return radii[radii.length >> 1] ?? null;
}

/** For each end, how many px of middle line hang together with it. */
function webLengths({ pixels, on, stride }: Skeleton): Map<number, number> {
  const offsets = neighbourOffsets(stride);
  const lengths = new Map<number, number>();
  const stack = new Int32Stack();
  for (let k = 0; k < pixels.length; k++) {
    const first = pixels[k]!;
    if (on[first] !== 1) continue;
    const ends: number[] = [];
    const length = walkWeb(on, offsets, first, stack, ends);
    for (const end of ends) lengths.set(end, length);
  }
  for (let k = 0; k < pixels.length; k++) on[pixels[k]!] = 1;
  return lengths;
}

/** Marks what hangs together with a pixel as seen. @param ends are added. @returns its length in px. */
function walkWeb(on: Uint8Array, offsets: readonly number[], first: number, stack: Int32Stack, ends: number[]): number {
  let length = 0;
  on[first] = SEEN;
  stack.push(first);
  while (stack.length > 0) {
    const at = stack.data[--stack.length]!;
    length++;
    let degree = 0;
    for (let j = 0; j < 8; j++) {
      const other = at + offsets[j]!;
      if (on[other] === 0) continue;
      degree++;
      if (on[other] === SEEN) continue;
      on[other] = SEEN;
      stack.push(other);
    }
    if (degree === 1) ends.push(at);
  }
  return length;
}

/** Direction at the end of a path, from a quadratic through it by least squares; null for a point. */
function outwardDirection(path: readonly number[], stride: number, reach: number): readonly [number, number] | null {
  const n = Math.min(path.length, reach + 1);
  if (n < 2) return null;
  const [px, py] = [new Float64Array(n), new Float64Array(n)];
  for (let k = 0; k < n; k++) {
    py[k] = (path[k]! / stride) | 0;
    px[k] = path[k]! % stride;
  }
  let [dx, dy] = [px[0]! - px[n - 1]!, py[0]! - py[n - 1]!];
  if (n >= 6) [dx, dy] = [-slopeAtStart(px, n), -slopeAtStart(py, n)];
  const norm = Math.sqrt(dx * dx + dy * dy);
  return norm === 0 ? null : [dx / norm, dy / norm];
}

/** Slope at 0 of the parabola that fits the values at 0, 1, 2, ... best; flattened half way towards the straight fit. */
function slopeAtStart(values: Float64Array, n: number): number {
  let [s1, s2, s3, s4, m0, m1, m2] = [0, 0, 0, 0, 0, 0, 0];
  for (let t = 0; t < n; t++) {
    const v = values[t]! - values[0]!;
    s1 += t;
    s2 += t * t;
    s3 += t * t * t;
    s4 += t * t * t * t;
    m0 += v;
    m1 += v * t;
    m2 += v * t * t;
  }
  const line = (n * m1 - s1 * m0) / (n * s2 - s1 * s1);
  const det = n * (s2 * s4 - s3 * s3) - s1 * (s1 * s4 - s2 * s3) + s2 * (s1 * s3 - s2 * s2);
  if (det === 0) return line;
  const b = (n * (m1 * s4 - m2 * s3) - m0 * (s1 * s4 - s2 * s3) + s2 * (s1 * m2 - s2 * m1)) / det;
  return 0.6 * b + 0.4 * line;
}

/** Where the ink ends ahead of the middle line's end. */
function tipOf(
  grid: InkGrid,
  x: number,
  y: number,
  [dx, dy]: readonly [number, number],
  reach: number,
): [number, number] {
  let [tx, ty] = [x, y];
  for (let t = 0.5; t <= reach; t += 0.5) {
    const px = Math.round(x + dx * t);
    const py = Math.round(y + dy * t);
    if (px < 0 || py < 0 || px >= grid.width || py >= grid.height || grid.ink[py * grid.width + px]! < 128) break;
    [tx, ty] = [px, py];
  }
  return [tx, ty];
}
