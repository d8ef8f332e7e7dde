import type { CoarseInk } from './coarseInk.ts';
import { profileOf, SLOPES, viewOf, type Block, type View } from './findGutter.ts';
import type { Panel } from './Panel.ts';
import type { Point } from '../model/Point.ts';

/** `a x + b y = c` */
type Line = readonly [a: number, b: number, c: number];

/** Share of a panel's side that must be inked to be its frame. */
const LEAST_FRAME = 0.58;
/** A level frame as clear as this needs no slanted ones to be looked at. */
const CLEAR = 0.86;
/** A piece of the page with less ink than this share of it is bare. */
const LEAST_INK = 0.004;

/** A panel with how many of its sides have a frame: others may run off the page. */
interface FittedPanel extends Panel {
  readonly frameSides: number;
}

/**
 * Closes a block in by the frame in it: on each side the outermost straight line that is there for most of
 * the side. Sides without a frame end where the drawing ends.
 *
 * @returns null for a block with nothing in it.
 */
export function fitFrame(page: CoarseInk, block: Block): FittedPanel | null {
  const content = contentBox(page, block);
  if (content === null) return null;
  const [x0, y0, x1, y1] = content;
  const [level, upright] = [viewOf(page, block, false), viewOf(page, block, true)];
  const sides: readonly Side[] = [
    { view: level, direction: 1, lengthPx: x1 - x0, size: page.height, open: [0, 1, y0] },
    { view: upright, direction: -1, lengthPx: y1 - y0, size: page.width, open: [1, 0, x1] },
    { view: level, direction: -1, lengthPx: x1 - x0, size: page.height, open: [0, 1, y1] },
    { view: upright, direction: 1, lengthPx: y1 - y0, size: page.width, open: [1, 0, x0] },
  ];
  const first = sides.map((side) => frameLine(side));
  // Frames end where they meet: what others run past is a line of the drawing.
  const kept = first.map((line, k) =>
    line === null || endsBeside(sides, first, k).some((end) => isPast(sides[k]!, line, end)) ? null : line,
  );
  const lines = kept.map((line, k) => line ?? missingSide(sides[k]!, endsBeside(sides, kept, k)));
  const found = kept.filter((line) => line !== null).length;
  const points = lines.map((line, k) => meet(lines[(k + 3) % 4]!, line));
  if (points.some((point) => point === null)) return null;
  return { points: points as Point[], framed: found >= 2, frameSides: found };
}

function meet([a, b, c]: Line, [d, e, f]: Line): Point | null {
  const det = a * e - b * d;
  return det === 0 ? null : [(c * e - b * f) / det, (a * f - c * d) / det];
}

/** Box of the ink inside a block, without single strays at its borders. */
function contentBox(page: CoarseInk, block: Block): readonly [number, number, number, number] | null {
  const view = viewOf(page, block, false);
  const rows = new Int32Array(page.height);
  const columns = new Int32Array(page.width);
  let ink = 0;
  let area = 0;
  for (let x = view.from; x < view.to; x++) {
    for (let y = view.low[x - view.from]!; y < view.high[x - view.from]!; y++) {
      area++;
      if (page.ink[y * page.width + x] === 0) continue;
      ink++;
      rows[y]!++;
      columns[x]!++;
    }
  }
  if (area === 0 || ink < LEAST_INK * area) return null;
  const ends = (counts: Int32Array): [number, number] => {
    // A hundredth of the ink may lie outside: page numbers, specks.
    const slack = Math.floor(ink * 0.003);
    let from = 0;
    for (let sum = counts[0]!; sum <= slack && from + 1 < counts.length; sum += counts[++from]!);
    let to = counts.length - 1;
    for (let sum = counts[to]!; sum <= slack && to > 0; sum += counts[--to]!);
    return [from, to + 1];
  };
  const [x0, x1] = ends(columns);
  const [y0, y1] = ends(rows);
  return [x0, y0, x1, y1];
}

/** One side of a block, top, right, bottom and left in this order. */
interface Side {
  readonly view: View;
  /** 1 looks from the top or the left, -1 from the bottom or the right. */
  readonly direction: 1 | -1;
  readonly lengthPx: number;
  /** Of the page, across this side. */
  readonly size: number;
  /** Where the drawing ends on this side. */
  readonly open: Line;
}

/** Where the two sides that should meet this one end towards it, of those that are there. */
function endsBeside(sides: readonly Side[], lines: readonly (Line | null)[], k: number): number[] {
  return [(k + 1) % 4, (k + 3) % 4].flatMap((n) => {
    const line = lines[n]!;
    return line === null ? [] : [inkedSpan(sides[n]!.view, line)[sides[k]!.direction === 1 ? 0 : 1]];
  });
}

/** Whether a frame beside ends clearly outside of a line. */
function isPast({ view, direction, size }: Side, line: Line, end: number): boolean {
  const low = offsetOf(line, view.upright, view.from);
  const high = offsetOf(line, view.upright, view.to);
  return direction === 1 ? end < Math.min(low, high) - 0.02 * size : end > Math.max(low, high) + 0.02 * size;
}

/** A side whose first guess was none: the page's edge where the others run off it, or a frame where they end. */
function missingSide(side: Side, ends: readonly number[]): Line {
  const { view, direction, size, open } = side;
  const near = 0.008 * size;
  if (ends.length === 0) return open;
  const edge = direction === 1 ? 0 : size;
  if (ends.every((end) => Math.abs(end - edge) <= near)) return view.upright ? [1, 0, edge] : [0, 1, edge];
  const outer = direction === 1 ? Math.min(...view.low) : Math.max(...view.high);
  const across = Math.max(...view.high) - Math.min(...view.low);
  const middle = ends.reduce((sum, end) => sum + Math.abs(end - outer), 0) / ends.length;
  return frameLine(side, middle + (ends.length === 2 ? 0.04 : 0.12) * across) ?? open;
}

/** How far across a line lies at a place along it. */
function offsetOf([a, b, c]: Line, upright: boolean, along: number): number {
  return upright ? (c - b * along) / a : (c - a * along) / b;
}

/** From where to where a frame is inked, along it. */
function inkedSpan(view: View, line: Line): readonly [number, number] {
  const { page, upright, from, to } = view;
  const there = new Uint8Array(to - from);
  for (let k = 0; k < there.length; k++) {
    const along = from + k + 0.5;
    const across = offsetOf(line, upright, along);
    for (let d = -2; d <= 2; d++) {
      const at = Math.floor(across) + d;
      const [x, y] = upright ? [at, from + k] : [from + k, at];
      if (x >= 0 && y >= 0 && x < page.width && y < page.height && page.ink[y * page.width + x] === 1) there[k] = 1;
    }
  }
  // An end is where the line goes on: single marks beyond it do not count.
  const run = Math.max(4, Math.round(0.06 * there.length));
  const goesOn = (k: number, step: 1 | -1): boolean => {
    let count = 0;
    for (let d = 0; d < run; d++) count += there[k + d * step] ?? 0;
    return count >= 0.8 * run;
  };
  let first = 0;
  while (first < there.length && !(there[first] === 1 && goesOn(first, 1))) first++;
  let last = there.length - 1;
  while (last >= 0 && !(there[last] === 1 && goesOn(last, -1))) last--;
  return [from + first, from + last + 1];
}

/** The outermost clear line on one side of a block, up to `reachPx` into it. */
function frameLine({ view, direction, lengthPx }: Side, reachPx = Infinity): Line | null {
  const across = Math.max(...view.high) - Math.min(...view.low);
  const outer = direction === 1 ? Math.min(...view.low) : Math.max(...view.high);
  let best: { score: number; slope: number; offset: number } | null = null;
  for (const slope of SLOPES) {
    if (best !== null && best.score > CLEAR) break;
    const { ink, first } = profileOf(view, slope);
    const reach = Math.round(Math.min(reachPx, 0.45 * across));
    for (let d = -Math.round((Math.abs(slope) * (view.to - view.from)) / 2); d < reach; d++) {
      // Nothing farther in can be better.
      if (best !== null && 1 - (1.1 * d) / across <= best.score) break;
      const place = (direction === 1 ? outer + d : outer - 1 - d) - first;
      const coverage = (ink[place] ?? 0) / lengthPx;
      if (coverage < LEAST_FRAME) continue;
      const score = Math.min(1, coverage) - (1.1 * Math.max(0, d)) / across - Math.abs(slope) * 0.4;
      if (best === null || score > best.score) best = { score, slope, offset: place + first };
    }
  }
  if (best === null) return null;
  const c = best.offset + 0.5 - best.slope * view.middle;
  return view.upright ? [1, -best.slope, c] : [-best.slope, 1, c];
}
