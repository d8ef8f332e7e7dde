import { ScratchBuffer } from '../../raster/ScratchBuffer.ts';
import { findRoot, joinRoots, ownRoots } from '../../raster/unionFind.ts';
import type { InkGrid } from '../../skeleton/InkGrid.ts';
import { MOST_WIDTH, paintStroke, type Owner } from '../../skeleton/paintStroke.ts';
import type { Branch } from '../../skeleton/traceBranches.ts';
import type { Stroke } from '../../skeleton/traceStrokes.ts';

/** Strokes that stand side by side: hatching, feathering, grain. */
export interface Texture {
  /** 1 for each loose end whose stroke belongs to it. */
  readonly inTexture: Uint8Array;
  /**
   * On the grid's ink pixels that belong to it how wide the stroke is there, in px of the grid, up to {@link MOST_WIDTH};
   * from {@link IN_ROW} on ink of strokes that may belong to it, as {@link rowAt} tells; else 0.
   */
  readonly mask: Uint8Array;
}

const IN_ROW = 200;
const MOST_IN_ROW = 15;
/** Ink of small letters, in the mask: it bounds nothing, however wide it is. */
export const LETTER = 255;

/** Whether ink bounds nothing, by its value in the mask. */
export function isTexture(value: number): boolean {
  return (value > 0 && value <= MOST_WIDTH) || value === LETTER;
}

/** How many strokes stand in a row that ink belongs to, by its value in the mask: 0 for ink of none, 15 at most and for texture. */
export function rowAt(value: number): number {
  if (isTexture(value)) return MOST_IN_ROW;
  return value < IN_ROW ? 0 : value - IN_ROW;
}

/** Rays across a stroke stand this many line widths apart. */
const RAY_EVERY = 1.5;
/** Neighbours run the same way: cosine of their directions. */
const SAME_WAY = 0.9;
/** So much of a stroke must have a neighbour beside it. */
const LEAST_OVERLAP = 0.3;
/** Neighbours are at most so many times longer. */
const MOST_RATIO = 4;
/** Neighbours stand at most this far apart, as a share of the shorter one ... */
const MOST_SPACING = 0.9;
/** ... and in line widths. */
const MOST_SPACING_WIDTHS = 8;
/** So many side by side make a family. */
const LEAST_FAMILY = 3;
/** Longer than so many line widths, a stroke may be an outline that runs beside others: more of them have to agree. */
const LONG_WIDTHS = 15;
const LEAST_LONG_FAMILY = 6;

/**
 * Finds families of parallel strokes among those with a loose end. A ray from each stroke to both
 * sides meets its neighbours; three in a row make a family.
 *
 * @param strokesOfEnds the stroke behind each loose end.
 */
export function findTexture(
  grid: InkGrid,
  strokesOfEnds: readonly Stroke[],
  branches: readonly Branch[],
  lineWidth: number,
): Texture {
  const { strokes, ofEnd } = strokesOnce(strokesOfEnds);
  const { width, height } = grid;
  const owner = ownerRaster(strokes.length + branches.length, width * height);
  for (let k = 0; k < strokes.length; k++) paintStroke(owner, grid, strokes[k]!, k + 1);
  const seen: Look[] = [];
  for (let k = 0; k < strokes.length; k++) seen.push(lookBeside(grid, owner, strokes, k, lineWidth));

  const family = ownRoots(strokes.length);
  for (let k = 0; k < strokes.length; k++) joinSeen(family, k, seen[k]!);
  const size = sizesOf(family);
  const inTexture = new Uint8Array(strokes.length);
  const mask = new Uint8Array(width * height);
  for (let k = 0; k < strokes.length; k++) {
    const least = strokes[k]!.length > LONG_WIDTHS * lineWidth ? LEAST_LONG_FAMILY : LEAST_FAMILY;
    if (size[k]! < least) continue;
    inTexture[k] = 1;
    paintStroke(mask, grid, strokes[k]!, null);
  }
  joinBranches(grid, owner, mask, strokes, seen, inTexture, branches, lineWidth);
  return { inTexture: Uint8Array.from(ofEnd, (number) => inTexture[number]!), mask };
}

const OWNER_MEMORY = new ScratchBuffer();

/** All zero. Half the memory where it will do. */
function ownerRaster(strokes: number, pixels: number): Owner {
  const owner =
    strokes < 0xffff
      ? new Uint16Array(OWNER_MEMORY.take(2 * pixels), 0, pixels)
      : new Int32Array(OWNER_MEMORY.take(4 * pixels), 0, pixels);
  return owner.fill(0);
}

/** A stroke with two loose ends comes once from each: it is one stroke. */
function strokesOnce(strokesOfEnds: readonly Stroke[]): { strokes: Stroke[]; ofEnd: Int32Array } {
  const numbers = new Map<string, number>();
  const strokes: Stroke[] = [];
  const ofEnd = new Int32Array(strokesOfEnds.length);
  for (let end = 0; end < strokesOfEnds.length; end++) {
    const tips = tipsOf(strokesOfEnds[end]!);
    let number = numbers.get(tips);
    if (number === undefined) {
      numbers.set(tips, (number = strokes.length));
      strokes.push(strokesOfEnds[end]!);
    }
    ofEnd[end] = number;
  }
  return { strokes, ofEnd };
}

/** The same whichever end a stroke begins at. */
function tipsOf({ x, y }: Stroke): string {
  const last = x.length - 1;
  const isFirst = x[0]! < x[last]! || (x[0] === x[last] && y[0]! <= y[last]!);
  const [one, two] = isFirst ? [0, last] : [last, 0];
  return `${x[one]},${y[one]} ${x[two]},${y[two]}`;
}

/** Joins a stroke's family with those of the strokes that run beside it long enough. */
function joinSeen(family: Int32Array, own: number, { links, rays }: Look): void {
  for (const [other, met] of links) if (met >= LEAST_OVERLAP * rays) joinRoots(family, own, other);
}

/** For each member how many there are in its family. */
function sizesOf(family: Int32Array): Int32Array {
  const ofRoot = new Int32Array(family.length);
  for (let k = 0; k < family.length; k++) {
    const root = findRoot(family, k);
    ofRoot[root] = ofRoot[root]! + 1;
  }
  const size = new Int32Array(family.length);
  for (let k = 0; k < family.length; k++) size[k] = ofRoot[findRoot(family, k)]!;
  return size;
}

/** Strokes without a loose end that run beside those of a family are of it, and so on from one to the next. */
function joinBranches(
  grid: InkGrid,
  owner: Owner,
  mask: Uint8Array,
  strokes: readonly Stroke[],
  seen: readonly Look[],
  inTexture: Uint8Array,
  branches: readonly Branch[],
  lineWidth: number,
): void {
  const all = [...strokes, ...branches];
  const known = new Uint8Array(all.length);
  known.set(inTexture);
  const isFresh = new Uint8Array(branches.length);
  for (let k = 0; k < branches.length; k++) {
    // What is mostly a stroke with a loose end was looked at already.
    if (freeIn(branches[k]!, owner, grid.width) < branches[k]!.x.length / 2) continue;
    paintStroke(owner, grid, branches[k]!, strokes.length + k + 1);
    isFresh[k] = 1;
  }
  const beside: (Look | null)[] = [];
  for (let k = 0; k < branches.length; k++)
    beside.push(isFresh[k] === 1 ? lookBeside(grid, owner, all, strokes.length + k, lineWidth) : null);
  seedFlicked(branches, beside, strokes.length, known);
  for (let found = true; found;) {
    found = false;
    for (let k = 0; k < branches.length; k++) {
      const own = strokes.length + k;
      if (beside[k] === null || known[own] === 1 || !runsBesideKnown(all, own, beside[k]!, known)) continue;
      known[own] = 1;
      found = true;
    }
  }
  for (let k = 0; k < branches.length; k++)
    if (known[strokes.length + k] === 1) paintStroke(mask, grid, branches[k]!, null);
  markRows(grid, mask, all, [...seen, ...beside]);
}

/** Whether a stroke has those of a family beside it, not much thinner than itself, for long enough. @param known 1 for these. */
function runsBesideKnown(all: readonly Stroke[], own: number, { links, rays }: Look, known: Uint8Array): boolean {
  let met = 0;
  for (const [other, count] of links)
    if (known[other] === 1 && all[own]!.radius[0]! <= MOST_WIDER * bodyRadius(all[other]!) + 0.5) met += count;
  return met >= LEAST_OVERLAP * rays;
}

/** At how many points of a stroke no other is painted yet. */
function freeIn({ x, y }: Stroke, owner: Owner, width: number): number {
  let free = 0;
  for (let p = 0; p < x.length; p++) if (owner[y[p]! * width + x[p]!] === 0) free++;
  return free;
}

/** Marks ink of strokes that stand beside others of their width, where it is not known as texture. */
function markRows(grid: InkGrid, mask: Uint8Array, all: readonly Stroke[], looks: readonly (Look | null)[]): void {
  const row = ownRoots(all.length);
  for (let k = 0; k < all.length; k++) if (looks[k] !== null) joinAlike(row, all, k, looks[k]!);
  const size = sizesOf(row);
  for (let k = 0; k < all.length; k++) {
    if (size[k]! > 1 && looks[k] !== null)
      paintStroke(mask, grid, all[k]!, IN_ROW + Math.min(MOST_IN_ROW, size[k]!), true);
  }
}

/** Joins a stroke's row with those of the strokes beside it that are about as wide. */
function joinAlike(row: Int32Array, all: readonly Stroke[], own: number, { links, rays }: Look): void {
  const r = bodyRadius(all[own]!);
  for (const [other, met] of links) {
    const s = bodyRadius(all[other]!);
    if (met < LEAST_OVERLAP * rays || Math.max(r, s) > MOST_WIDER * Math.min(r, s) + 0.5) continue;
    joinRoots(row, own, other);
  }
}

/** Three strokes side by side that thin out the same way are hatching, though all of their tips are hidden. */
function seedFlicked(
  branches: readonly Branch[],
  beside: readonly (Look | null)[],
  first: number,
  known: Uint8Array,
): void {
  const towards = branches.map(flickOf);
  const family = ownRoots(branches.length);
  for (let k = 0; k < branches.length; k++) {
    if (beside[k] !== null && towards[k] !== null) joinFlicked(family, towards, k, beside[k]!, first);
  }
  const size = sizesOf(family);
  for (let k = 0; k < branches.length; k++) if (size[k]! >= LEAST_FAMILY) known[first + k] = 1;
}

type Direction = readonly [number, number];

/** The direction a stroke thins out in; null where it does not. */
function flickOf({ taper, x, y }: Branch): Direction | null {
  if (taper < LEAST_TAPER && taper * LEAST_TAPER > 1) return null;
  const dx = x[x.length - 1]! - x[0]!;
  const dy = y[y.length - 1]! - y[0]!;
  const norm = (taper < 1 ? 1 : -1) * (Math.sqrt(dx * dx + dy * dy) || 1);
  return [dx / norm, dy / norm];
}

/** Joins a branch with those beside it that thin out the same way. @param first number of the first branch among all strokes. */
function joinFlicked(
  family: Int32Array,
  towards: readonly (Direction | null)[],
  own: number,
  { links, rays }: Look,
  first: number,
): void {
  const [dx, dy] = towards[own]!;
  for (const [other, met] of links) {
    const that = towards[other - first] ?? null;
    if (that === null || met < LEAST_OVERLAP * rays) continue;
    if (dx * that[0] + dy * that[1] > 0) joinRoots(family, own, other - first);
  }
}

/** A stroke thins out where its ends differ so many times in width. */
const LEAST_TAPER = 1.2;

/** Members of a family are at most so many times wider than their neighbours. */
const MOST_WIDER = 1.5;

function bodyRadius(stroke: Stroke): number {
  const { radius } = stroke;
  for (let p = 0; p < radius.length; p++) if (radius[p]! > 0) return radius[p]!;
  return 0;
}

interface Look {
  readonly links: ReadonlyMap<number, number>;
  readonly rays: number;
}

/** Which strokes run beside one, by how many rays met each, and how many rays there were. */
function lookBeside(
  { width, height }: InkGrid,
  owner: Owner,
  strokes: readonly Stroke[],
  k: number,
  lineWidth: number,
): Look {
  const stroke = strokes[k]!;
  const { x, y, radius, length } = stroke;
  const links = new Map<number, number>();
  let rays = 0;
  const every = Math.max(2, Math.round(RAY_EVERY * lineWidth));
  const reach = Math.min(MOST_SPACING * length, MOST_SPACING_WIDTHS * lineWidth);
  for (let p = Math.floor(every / 2); p < x.length; p += every) {
    const [dx, dy] = directionAt(stroke, p);
    rays++;
    const from = Math.ceil(radius[p]! + 1.5);
    for (let side = 1; side >= -1; side -= 2) {
      const ray = { x: x[p]!, y: y[p]!, dx: -dy * side, dy: dx * side, from, to: reach };
      const met = meet(owner, width, height, ray, k + 1, strokes, dx, dy);
      if (met >= 0) links.set(met, (links.get(met) ?? 0) + 1);
    }
  }
  return { links, rays };
}

function directionAt({ x, y }: Stroke, p: number): [number, number] {
  const from = Math.max(0, p - 4);
  const to = Math.min(x.length - 1, p + 4);
  const [dx, dy] = [x[to]! - x[from]!, y[to]! - y[from]!];
  const norm = Math.sqrt(dx * dx + dy * dy) || 1;
  return [dx / norm, dy / norm];
}

function directionNear(stroke: Stroke, x: number, y: number): [number, number] {
  const { x: xs, y: ys } = stroke;
  let best = Infinity;
  let near = 0;
  for (let p = 0; p < xs.length; p += 2) {
    const d = (xs[p]! - x) * (xs[p]! - x) + (ys[p]! - y) * (ys[p]! - y);
    if (d < best) {
      best = d;
      near = p;
    }
  }
  return directionAt(stroke, near);
}

interface Ray {
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
  /** Where it begins and ends, in px. */
  readonly from: number;
  readonly to: number;
}

/** Whether a stroke that a ray meets at a point runs beside another. @param dx @param dy the other's direction there. */
function runsBeside(
  that: Stroke,
  length: number,
  distance: number,
  px: number,
  py: number,
  dx: number,
  dy: number,
): boolean {
  if (that.length > MOST_RATIO * length || length > MOST_RATIO * that.length) return false;
  if (distance > MOST_SPACING * Math.min(length, that.length)) return false;
  const [ox, oy] = directionNear(that, px, py);
  return Math.abs(dx * ox + dy * oy) >= SAME_WAY;
}

/**
 * The first other stroke on a ray that runs beside; those that cross do not stand in its way. -1 for none.
 *
 * @param own the ray's stroke, counted from 1. @param dx @param dy its direction there.
 */
function meet(
  owner: Owner,
  width: number,
  height: number,
  ray: Ray,
  own: number,
  strokes: readonly Stroke[],
  dx: number,
  dy: number,
): number {
  const { length } = strokes[own - 1]!;
  let last = own;
  for (let t = ray.from; t <= ray.to; t++) {
    const px = Math.round(ray.x + ray.dx * t);
    const py = Math.round(ray.y + ray.dy * t);
    if (px < 0 || py < 0 || px >= width || py >= height) return -1;
    const stroke = owner[py * width + px]!;
    if (stroke === 0 || stroke === own || stroke === last) continue;
    last = stroke;
    if (runsBeside(strokes[stroke - 1]!, length, t, px, py, dx, dy)) return stroke - 1;
  }
  return -1;
}
