import { rimOf } from '../ink/findSolids.ts';
import type { Point } from '../model/Point.ts';
import { Int32Stack } from '../raster/growable.ts';
import { findRoot, joinRoots, ownRoots } from '../raster/unionFind.ts';
import type { InkGrid } from '../skeleton/InkGrid.ts';
import { neighbourhood, neighbourOffsets, type Skeleton } from '../skeleton/thinInk.ts';
import { NEIGHBOURS, squaredRadiusAt } from '../skeleton/traceStrokes.ts';
import type { LineEdits } from '../model/Holds.ts';

/** Pieces of the middle lines, as they hang together at junctions. */
export interface Segments {
  readonly count: number;
  /** 1 for the middles of solid blacks; lines end where they run into one. */
  readonly isSolid: Uint8Array;
  /** Pixels of the middle lines, by piece: `pixels[start[k] .. start[k + 1] - 1]`, unpadded indices. Junctions are in none. */
  readonly pixels: Int32Array;
  readonly start: Int32Array;
  readonly lengthPx: Float64Array;
  /** Mean half width along each, in px. */
  readonly radiusPx: Float64Array;
}

const [PATH, JUNCTION, CUT, SOLID, SEEN] = [1, 2, 3, 4, 5];
/** A cut or a join is meant for the middle line this near to its point, in line widths and px. */
const NEAR_WIDTHS = 4;
const NEAR_PX = 12;
/** Length of a spur into a corner by the fall of its half width: 1 / sin(half the angle), down to 54 degrees. */
const CORNER = 2.2;
const DIAGONAL = Math.SQRT2;
const SPUR_ROUNDS = 4;

/** A path between junctions: the ones at its ends, -1 for a free end. */
interface Path {
  readonly from: number;
  readonly to: number;
  readonly length: number;
  readonly nodes: readonly number[];
  /** Half width at its free end. */
  readonly thin: number;
  /** The node it is the middle of a solid black at; absent for lines. */
  readonly solid?: number;
}

/**
 * Divides middle lines at their junctions. Spurs shorter than the line is wide belong to their trunk, which goes on through
 * where they met it; so do bridges that are no longer than that, between crossings drawn as two.
 *
 * @param skeleton its `on` is written over. @param lineWidthPx median. @param solids a bit a pixel of the page: ink of solid
 * blacks behind their rims; null for none.
 */
export function segmentSkeleton(
  grid: InkGrid,
  skeleton: Skeleton,
  lineWidthPx: number,
  edits: LineEdits,
  solids: Uint8Array | null,
): Segments {
  const { on, stride, pixels } = skeleton;
  const offsets = neighbourOffsets(stride);
  const isJunction = new Uint8Array(pixels.length);
  for (let k = 0; k < pixels.length; k++)
    isJunction[k] = NEIGHBOURS[neighbourhood(on, pixels[k]!, stride)]! > 2 ? 1 : 0;
  for (let k = 0; k < pixels.length; k++) {
    const y = ((pixels[k]! / stride) | 0) - 1;
    const at = y * grid.width + pixels[k]! - (y + 1) * stride - 1;
    if (solids !== null && ((solids[at >> 3]! >> (at & 7)) & 1) === 1) on[pixels[k]!] = SOLID;
    else if (isJunction[k] === 1) on[pixels[k]!] = JUNCTION;
  }
  const reach = Math.max(NEAR_PX, Math.round(NEAR_WIDTHS * lineWidthPx));
  for (const point of edits.cuts) {
    const at = nearestOn(skeleton, grid, point, reach);
    if (at >= 0) on[at] = CUT;
  }
  const nodeOf = labelNodes(skeleton, offsets);
  const { paths, order, start } = labelPaths(grid, skeleton, offsets, nodeOf, rimOf(lineWidthPx));
  const parent = ownRoots(paths.length);
  mergePaths(paths, nodeOf, parent, lineWidthPx);
  for (const [one, two] of edits.joins) {
    const [a, b] = [one, two].map((point) => pathAt(nearestOn(skeleton, grid, point, reach), order, start));
    if (a! >= 0 && b! >= 0) joinRoots(parent, a!, b!);
  }
  return gather(grid, stride, paths, parent, order, start);
}

/** The pixel of a path nearest to a page point, as a padded index; -1 for none within reach. */
function nearestOn({ on, stride }: Skeleton, { width, height }: InkGrid, [x, y]: Point, reach: number): number {
  let best = reach * reach + 1;
  let nearest = -1;
  for (let py = Math.max(0, y - reach); py <= Math.min(height - 1, y + reach); py++) {
    for (let px = Math.max(0, x - reach); px <= Math.min(width - 1, x + reach); px++) {
      const at = (py + 1) * stride + px + 1;
      if (on[at] !== PATH) continue;
      const d2 = (px - x) * (px - x) + (py - y) * (py - y);
      if (d2 < best) [best, nearest] = [d2, at];
    }
  }
  return nearest;
}

interface Nodes {
  readonly count: number;
  readonly of: ReadonlyMap<number, number>;
  /** Where a line was cut by hand: what meets there stays two. */
  readonly isCut: readonly boolean[];
  /** Its pixels, where it is the middle of a solid black; null elsewhere. */
  readonly body: readonly (readonly number[] | null)[];
  /** Largest half width at each, in px. */
  readonly radius: Float64Array;
}

/** Junction pixels that touch are one node. */
function labelNodes({ on, pixels }: Skeleton, offsets: readonly number[]): Nodes {
  const of = new Map<number, number>();
  const isCut: boolean[] = [];
  const body: (number[] | null)[] = [];
  for (let k = 0; k < pixels.length; k++) {
    const first = pixels[k]!;
    const kind = on[first]!;
    if (kind === PATH || of.has(first)) continue;
    const node = isCut.push(kind === CUT) - 1;
    const own = [first];
    body.push(kind === SOLID ? own : null);
    const stack = [first];
    of.set(first, node);
    for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
      for (const offset of offsets) {
        if (on[at + offset] !== kind || of.has(at + offset)) continue;
        of.set(at + offset, node);
        own.push(at + offset);
        stack.push(at + offset);
      }
    }
  }
  return { count: isCut.length, of, isCut, body, radius: new Float64Array(isCut.length) };
}

interface LabelledPaths {
  readonly paths: Path[];
  /** Padded indices of path pixels, path by path. */
  readonly order: Int32Stack;
  readonly start: number[];
}

/** Path pixels that touch are one path. */
function labelPaths(
  grid: InkGrid,
  { on, stride, pixels }: Skeleton,
  offsets: readonly number[],
  nodes: Nodes,
  rimPx: number,
): LabelledPaths {
  const radiusOf = (at: number): number => {
    const y = (at / stride) | 0;
    return Math.sqrt(squaredRadiusAt(grid, at - y * stride - 1, y - 1)) - 0.5;
  };
  // A line that runs into a solid black meets its rim, not its middle.
  for (const [at, node] of nodes.of)
    nodes.radius[node] = nodes.body[node] === null ? Math.max(nodes.radius[node]!, radiusOf(at)) : rimPx;
  const order = new Int32Stack(pixels.length);
  const start: number[] = [];
  const paths: Path[] = [];
  for (let k = 0; k < pixels.length; k++) {
    if (on[pixels[k]!] !== PATH) continue;
    const from = order.length;
    start.push(from);
    order.push(pixels[k]!);
    on[pixels[k]!] = SEEN;
    const met: number[] = [];
    let length = 1;
    let thin = Infinity;
    for (let j = from; j < order.length; j++) {
      const at = order.data[j]!;
      let neighbours = 0;
      for (let n = 0; n < 8; n++) {
        const next = at + offsets[n]!;
        const kind = on[next]!;
        if (kind === 0) continue;
        neighbours++;
        if (kind === JUNCTION || kind === CUT || kind === SOLID) met.push(nodes.of.get(next)!);
        else if (kind === PATH) {
          on[next] = SEEN;
          order.push(next);
          length += (n & 1) === 0 ? 1 : DIAGONAL;
        }
      }
      if (neighbours < 2) thin = Math.min(thin, radiusOf(at));
    }
    const around = [...new Set(met)];
    const isLoop = around.length === 1 && thin === Infinity && met.length > 1;
    paths.push({ from: around[0] ?? -1, to: isLoop ? around[0]! : (around[1] ?? -1), length, nodes: around, thin });
  }
  // A solid black is a path of its own, which lines end at.
  const bodies = paths.length;
  nodes.body.forEach((own, node) => {
    if (own === null) return;
    start.push(order.length);
    for (const at of own) order.push(at);
    paths.push({ from: node, to: node, length: own.length, nodes: [], thin: Infinity, solid: node });
  });
  start.push(order.length);
  for (let p = 0; p < bodies; p++) for (let j = start[p]!; j < start[p + 1]!; j++) on[order.data[j]!] = PATH;
  return { paths, order, start };
}

/** The path a padded pixel belongs to, -1 for none. Only joins by hand ask. */
function pathAt(at: number, order: Int32Stack, start: readonly number[]): number {
  const place = at < 0 ? -1 : order.data.subarray(0, order.length).indexOf(at);
  return place < 0 ? -1 : start.findIndex((from, p) => place >= from && place < start[p + 1]!);
}

function mergePaths(paths: readonly Path[], nodes: Nodes, parent: Int32Array, lineWidthPx: number): void {
  /** Path of the solid black at each node, -1 for none. */
  const bodyAt = new Int32Array(nodes.count).fill(-1);
  paths.forEach(({ solid }, p) => {
    if (solid !== undefined) bodyAt[solid] = p;
  });
  const at: number[][] = Array.from({ length: nodes.count }, () => []);
  paths.forEach((path, p) => path.nodes.forEach((node) => at[node]!.push(p)));
  const isSpur = new Uint8Array(paths.length);
  const liveAt = (node: number): number[] => at[node]!.filter((p) => isSpur[p] === 0);
  /** How wide the line is at an end of a path; null where others go on from there. */
  const freeEnd = (node: number, thin: number): number | null => {
    if (node < 0) return thin === Infinity ? 0 : thin;
    return bodyAt[node]! < 0 && liveAt(node).length === 1 ? nodes.radius[node]! : null;
  };
  // A spur may end in a fork of spurs: once these are gone it is seen for one.
  for (let round = 0; round < SPUR_ROUNDS; round++) {
    const found: number[] = [];
    paths.forEach(({ from, to, length, thin }, p) => {
      if (isSpur[p] === 1 || from < 0 || from === to) return;
      // A line ends where a solid black begins, however wide that is.
      const ends = [freeEnd(to, thin), freeEnd(from, thin)] as const;
      const free = ends[0] ?? ends[1];
      // On both sides it ends: it is a line by itself.
      if (free === null || (ends[0] !== null && ends[1] !== null)) return;
      const thick = nodes.radius[ends[0] === null ? to : from]!;
      // Beyond the edge of the line it stands on, shorter than that is wide, or than lines are here.
      if (length <= Math.max(thick + Math.min(2 * thick, lineWidthPx), CORNER * (thick - free) + 1)) found.push(p);
    });
    if (found.length === 0) break;
    for (const p of found) isSpur[p] = 1;
  }
  const longest = (some: readonly number[]): number =>
    some.reduce((best, p) => (best < 0 || paths[p]!.length > paths[best]!.length ? p : best), -1);
  for (let node = 0; node < nodes.count; node++) {
    if (nodes.isCut[node]) continue;
    const here = at[node]!;
    const stay = liveAt(node);
    const trunk = bodyAt[node]! >= 0 ? bodyAt[node]! : longest(stay.length > 0 ? stay : here);
    for (const p of here) if (isSpur[p] === 1) joinRoots(parent, trunk, p);
    if (bodyAt[node]! >= 0) continue;
    // What two paths meet in is no junction any more; a path that comes back to it is one by itself.
    if (stay.length === 2) joinRoots(parent, stay[0]!, stay[1]!);
    for (const p of stay) {
      const { from, to, length } = paths[p]!;
      const isBridge =
        from >= 0 && to >= 0 && from !== to && length <= Math.max(nodes.radius[from]!, nodes.radius[to]!) + 1;
      const next = isBridge ? longest(stay.filter((one) => one !== p)) : -1;
      if (next >= 0) joinRoots(parent, next, p);
    }
  }
}

function gather(
  grid: InkGrid,
  stride: number,
  paths: readonly Path[],
  parent: Int32Array,
  order: Int32Stack,
  start: readonly number[],
): Segments {
  const number = new Int32Array(paths.length).fill(-1);
  let count = 0;
  for (let p = 0; p < paths.length; p++) {
    const root = findRoot(parent, p);
    if (number[root]! < 0) number[root] = count++;
  }
  const sizes = new Int32Array(count + 1);
  const of = (p: number): number => number[findRoot(parent, p)]!;
  for (let p = 0; p < paths.length; p++) sizes[of(p) + 1] = sizes[of(p) + 1]! + start[p + 1]! - start[p]!;
  for (let k = 0; k < count; k++) sizes[k + 1] = sizes[k + 1]! + sizes[k]!;
  const next = sizes.slice();
  const pixels = new Int32Array(order.length);
  const lengthPx = new Float64Array(count);
  const radiusPx = new Float64Array(count);
  for (let p = 0; p < paths.length; p++) {
    const piece = of(p);
    lengthPx[piece] = lengthPx[piece]! + paths[p]!.length;
    for (let j = start[p]!; j < start[p + 1]!; j++) {
      const at = order.data[j]!;
      const y = ((at / stride) | 0) - 1;
      const x = at - (y + 1) * stride - 1;
      pixels[next[piece]!] = y * grid.width + x;
      next[piece] = next[piece]! + 1;
      radiusPx[piece] = radiusPx[piece]! + Math.sqrt(squaredRadiusAt(grid, x, y)) - 0.5;
    }
  }
  for (let k = 0; k < count; k++) radiusPx[k] = radiusPx[k]! / Math.max(1, sizes[k + 1]! - sizes[k]!);
  const isSolid = new Uint8Array(count);
  paths.forEach(({ solid }, p) => {
    if (solid !== undefined) isSolid[of(p)] = 1;
  });
  return { count, pixels, start: sizes, lengthPx, radiusPx, isSolid };
}
