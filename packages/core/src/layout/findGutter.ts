import { Int32Stack } from '../raster/growable.ts';
import type { CoarseInk } from './coarseInk.ts';
import type { Point } from '../model/Point.ts';

/** A four-sided piece of the page between gutters: corners top left, top right, bottom right, bottom left. */
export interface Block {
  readonly corners: readonly [Point, Point, Point, Point];
}

/** Gutters lean by up to this much. */
const MOST_SLOPE = 0.27;
const SLOPE_STEP = 0.0075;
/** Slopes in the order they are tried: level first. */
export const SLOPES: readonly number[] = Array.from(
  { length: 2 * Math.floor(MOST_SLOPE / SLOPE_STEP) + 1 },
  (_, k) => (k % 2 === 0 ? -1 : 1) * Math.ceil(k / 2) * SLOPE_STEP + 0,
);
/** A level gutter as clear as this needs no slanted ones to be looked at. */
const CLEAR = 0.8;
/** A gutter is at least this wide, as a share of the page's longer side. */
const LEAST_GUTTER = 0.0012;
/** Share of a gutter's length that may be crossed by balloons and figures. */
const MOST_CROSSED = 0.34;
/** Share of a frame's length that must be there beside a gutter. */
const LEAST_FRAME = 0.48;
/** Less will do where both frames stand out at both ends: a figure may hide most of a short gutter. */
const LEAST_HIDDEN = 0.26;
const END_SHARE = 0.1;
const LEAST_AT_ENDS = 0.7;
/** Bins on either side of a gutter in which its frame stands. */
const FRAME_REACH = 4;

interface Gutter {
  readonly upright: boolean;
  readonly slope: number;
  /** Middle of the gutter where the block's middle is crossed. */
  readonly offset: number;
  readonly score: number;
}

/** Ink and length of the lines of one slope through a block. */
interface Profile {
  readonly ink: Int32Array;
  readonly length: Int32Array;
  readonly first: number;
}

/**
 * The clearest gutter across a block: a blank strip from one side to the other, with a frame along both of
 * its sides.
 *
 * @returns the two blocks it leaves, in reading order, or null.
 */
export function findGutter(page: CoarseInk, block: Block): readonly [Block, Block] | null {
  let best: Gutter | null = null;
  const views = [false, true].map((upright) => viewOf(page, block, upright));
  for (const slope of SLOPES) {
    if (best !== null && best.score > CLEAR) break;
    for (const view of views) {
      const { upright } = view;
      // Rows before columns, level before slanted, when as clear.
      const bonus = (upright ? 0 : 0.05) - Math.abs(slope) * 0.15;
      const found = bestStrip(view, slope, Math.max(page.width, page.height), (best?.score ?? -Infinity) - bonus);
      if (found === null) continue;
      const score = found.score + bonus;
      if (best === null || score > best.score) best = { upright, slope, offset: found.offset, score };
    }
  }
  return best === null ? null : split(block, best);
}

/** A block seen along one direction: for every step along, from where to where it reaches across. */
export interface View {
  readonly page: CoarseInk;
  readonly upright: boolean;
  readonly from: number;
  readonly to: number;
  readonly low: Int32Array;
  readonly high: Int32Array;
  readonly middle: number;
  /** The ink in it: how far along and how far across each px lies. */
  readonly along: Int32Array;
  readonly across: Int32Array;
}

export function viewOf(page: CoarseInk, { corners }: Block, upright: boolean): View {
  const turned = corners.map(([x, y]) => (upright ? [y, x] : [x, y]) as Point);
  const alongs = turned.map(([a]) => a);
  const from = Math.max(0, Math.floor(Math.min(...alongs)));
  const to = Math.min(upright ? page.height : page.width, Math.ceil(Math.max(...alongs)));
  const most = upright ? page.width : page.height;
  const low = new Int32Array(to - from);
  const high = new Int32Array(to - from);
  for (let a = from; a < to; a++) {
    let [least, greatest] = [Infinity, -Infinity];
    for (let k = 0; k < 4; k++) {
      const [p, q] = [turned[k]!, turned[(k + 1) % 4]!];
      const [first, last] = p[0] <= q[0] ? [p, q] : [q, p];
      if (a + 0.5 < first[0] || a + 0.5 > last[0] || last[0] === first[0]) continue;
      const c = first[1] + ((a + 0.5 - first[0]) * (last[1] - first[1])) / (last[0] - first[0]);
      least = Math.min(least, c);
      greatest = Math.max(greatest, c);
    }
    low[a - from] = Math.max(0, Math.round(least === Infinity ? 0 : least));
    high[a - from] = Math.min(most, Math.round(greatest === -Infinity ? 0 : greatest));
  }
  const along = new Int32Stack(4096);
  const across = new Int32Stack(4096);
  const step = upright ? 1 : page.width;
  const aside = upright ? page.width : 1;
  for (let a = from; a < to; a++) {
    for (let c = low[a - from]!; c < high[a - from]!; c++) {
      if (page.ink[a * aside + c * step] === 0) continue;
      along.push(a - from);
      across.push(c);
    }
  }
  return {
    page,
    upright,
    from,
    to,
    low,
    high,
    middle: (from + to) / 2,
    along: along.data.subarray(0, along.length),
    across: across.data.subarray(0, across.length),
  };
}

export function profileOf({ page, upright, from, to, low, high, middle, along, across }: View, slope: number): Profile {
  const size = upright ? page.width : page.height;
  const reach = Math.ceil((Math.abs(slope) * (to - from)) / 2) + 2;
  const ink = new Int32Array(size + 2 * reach + 2);
  const length = new Int32Array(size + 2 * reach + 2);
  const shift = new Int32Array(to - from);
  for (let k = 0; k < shift.length; k++) {
    shift[k] = reach - Math.round(slope * (from + k + 0.5 - middle));
    if (high[k]! <= low[k]!) continue;
    length[low[k]! + shift[k]!]!++;
    length[high[k]! + shift[k]!]!--;
  }
  for (let k = 1; k < length.length; k++) length[k] = length[k]! + length[k - 1]!;
  countInk(along, across, shift, ink);
  return { ink, length, first: -reach };
}

function countInk(along: Int32Array, across: Int32Array, shift: Int32Array, out: Int32Array): void {
  for (let k = 0; k < along.length; k++) out[across[k]! + shift[along[k]!]!]!++;
}

/** The clearest strip of a slope that is clearer than `toBeat`. */
function bestStrip(
  view: View,
  slope: number,
  pageSide: number,
  toBeat: number,
): { offset: number; score: number } | null {
  const { ink, length, first } = profileOf(view, slope);
  const full = view.to - view.from;
  const least = Math.max(1, Math.round(LEAST_GUTTER * pageSide));
  let best: { offset: number; score: number } | null = null;
  const blank = (k: number): boolean => length[k]! >= 0.9 * full && ink[k]! <= MOST_CROSSED * length[k]!;
  for (let k = 0; k < ink.length;) {
    if (!blank(k)) {
      k++;
      continue;
    }
    const start = k;
    while (k < ink.length && blank(k)) k++;
    if (k - start < least) continue;
    const frames = [frameBeside(ink, length, start - 1, -1), frameBeside(ink, length, k, 1)];
    const frame = Math.min(...frames);
    if (frame < LEAST_HIDDEN || frame <= (best?.score ?? toBeat)) continue;
    const crossed = crossings(view, slope, start + first, k + first, pageSide, frame < LEAST_FRAME);
    if (crossed === null) continue;
    const score = frame - crossed;
    if (best === null || score > best.score) best = { offset: (start + k) / 2 + first, score };
  }
  return best;
}

function frameBeside(ink: Int32Array, length: Int32Array, from: number, direction: 1 | -1): number {
  let most = 0;
  for (let d = 0; d < FRAME_REACH; d++) {
    const k = from + d * direction;
    if (k < 0 || k >= ink.length || length[k]! <= 0) continue;
    most = Math.max(most, ink[k]! / length[k]!);
  }
  return most;
}

/** Share of the strip that is crossed by ink, its frames `hidden` for the most part; null where an end of it is shut: such a strip lies inside a panel. */
function crossings(
  view: View,
  slope: number,
  from: number,
  to: number,
  pageSide: number,
  hidden: boolean,
): number | null {
  const { page, upright, middle } = view;
  const step = upright ? 1 : page.width;
  const aside = upright ? page.width : 1;
  const size = upright ? page.width : page.height;
  const width = to - from;
  let crossed = 0;
  let firstFrame = -1;
  let lastFrame = -1;
  const shut: number[] = [];
  const framed: number[] = [];
  for (let a = view.from; a < view.to; a++) {
    const shift = Math.round(slope * (a + 0.5 - middle));
    let ink = 0;
    for (let c = Math.max(0, from + shift); c < Math.min(size, to + shift); c++) {
      if (page.ink[a * aside + c * step] === 1) ink++;
    }
    if (ink > 0) crossed++;
    if (ink * 2 > width) shut.push(a);
    // Where both frames begin and end.
    const beside = [from - 1, to].map((edge, side) => {
      for (let d = 0; d < FRAME_REACH; d++) {
        const c = edge + (side === 0 ? -d : d) + shift;
        if (c >= 0 && c < size && page.ink[a * aside + c * step] === 1) return true;
      }
      return false;
    });
    if (beside[0]! && beside[1]!) {
      if (firstFrame < 0) firstFrame = a;
      lastFrame = a;
      framed.push(a);
    }
  }
  if (firstFrame < 0 || crossed > MOST_CROSSED * (view.to - view.from)) return null;
  if (hidden) {
    const reach = END_SHARE * (lastFrame - firstFrame);
    const atStart = framed.filter((a) => a <= firstFrame + reach).length;
    const atEnd = framed.filter((a) => a >= lastFrame - reach).length;
    if (Math.min(atStart, atEnd) < LEAST_AT_ENDS * reach) return null;
  }
  // At its ends a gutter opens into another gutter or the margin: no line stands across it there.
  const corner = Math.max(4, Math.round(0.012 * pageSide));
  for (const a of shut) if (a <= firstFrame + corner || a >= lastFrame - corner) return null;
  return crossed / (view.to - view.from);
}

function split({ corners: [tl, tr, br, bl] }: Block, { upright, slope, offset }: Gutter): readonly [Block, Block] {
  if (!upright) {
    const middle = (Math.min(tl[0], bl[0]) + Math.max(tr[0], br[0])) / 2;
    const yAt = (x: number): number => offset + slope * (x - middle);
    const left = crossing(tl, bl, ([x, y]) => y - yAt(x));
    const right = crossing(tr, br, ([x, y]) => y - yAt(x));
    return [{ corners: [tl, tr, right, left] }, { corners: [left, right, br, bl] }];
  }
  const middle = (Math.min(tl[1], tr[1]) + Math.max(bl[1], br[1])) / 2;
  const xAt = (y: number): number => offset + slope * (y - middle);
  const top = crossing(tl, tr, ([x, y]) => x - xAt(y));
  const bottom = crossing(bl, br, ([x, y]) => x - xAt(y));
  return [{ corners: [tl, top, bottom, bl] }, { corners: [top, tr, br, bottom] }];
}

/** Where a side crosses the gutter's middle. */
function crossing(a: Point, b: Point, side: (point: Point) => number): Point {
  const [sa, sb] = [side(a), side(b)];
  const t = sa === sb ? 0.5 : Math.min(1, Math.max(0, sa / (sa - sb)));
  return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t];
}
