import { cosDegrees, sinDegrees } from '../../exact/exactMath.ts';
import type { InkGrid } from '../../skeleton/InkGrid.ts';
import type { LooseEnds } from '../../skeleton/traceStrokes.ts';
import { type Proposal, quantised } from './Proposal.ts';
import { isClear } from './proposeFromEnds.ts';

/** The strokes of an open outline can be followed this far, in line widths ... */
const LEAST_LENGTH = 9;
/** ... and say so much that a line stops. */
const LEAST_WEIGHT = 0.1;
/** A line that ends this near to the page's edge, in line widths, runs off the page: that closes its shape. */
const OFF_PAGE = 2;
/** Chords beside others are at least so wide, in line widths. */
const LEAST_WIDTH = 3;
/** Both strokes run the same way, and squarely out of the opening, within so many degrees. */
const TURN = 50;
const LEAST_TOGETHER = cosDegrees(TURN);
const MOST_ALONG = sinDegrees(TURN);
/** So many partners of an end are looked at to each of its sides, the nearest first. */
const PARTNERS = 4;

/**
 * Chords across outlines that run out into the paper: a bust cut off below, a glass open at the top. Both strokes are
 * long, run the same way, and have nothing but paper between them. How wide they lie apart does not matter. Inner
 * lines often run out beside the outer ones: an end that has a chord to one side may have a narrower one to the other.
 *
 * @param inTexture 1 for ends of hatching: they are no outlines.
 * @param from narrower openings are gaps like any other; in px of the grid.
 */
export function proposeOutlines(
  grid: InkGrid,
  ends: LooseEnds,
  inTexture: Uint8Array,
  from: number,
  lineWidth: number,
): Proposal[] {
  const long: number[] = [];
  for (let k = 0; k < ends.count; k++) {
    if (inTexture[k] === 1 || ends.length[k]! < LEAST_LENGTH * lineWidth || ends.weight[k]! < LEAST_WEIGHT) continue;
    if (!isOffPage(grid, ends.x[k]!, ends.y[k]!, OFF_PAGE * lineWidth)) long.push(k);
  }
  const wide: Proposal[] = [];
  for (const end of long) proposePartners(grid, ends, end, long, [from, Infinity], wide);
  const narrow: Proposal[] = [];
  for (const end of long) proposePartners(grid, ends, end, long, [LEAST_WIDTH * lineWidth, from], narrow);
  const chorded = new Set(wide.flatMap((one) => one.ends));
  return [...wide, ...narrow.filter((one) => one.ends.some((end) => chorded.has(end)))];
}

function isOffPage({ width, height }: InkGrid, x: number, y: number, reach: number): boolean {
  return Math.min(x, y, width - 1 - x, height - 1 - y) < reach;
}

/** Proposes the chords from one end to partners with higher numbers. */
function proposePartners(
  grid: InkGrid,
  ends: LooseEnds,
  a: number,
  others: readonly number[],
  widths: Widths,
  out: Proposal[],
): void {
  const partners = [partnersOf(ends, a, others, widths, 1), partnersOf(ends, a, others, widths, -1)];
  const [x0, y0] = behindTip(ends, a);
  for (const side of partners) {
    let seen = 0;
    for (const { end: b, distance } of side) {
      if (seen === PARTNERS) break;
      const [x1, y1] = behindTip(ends, b);
      if (!isClear(grid, x0, y0, x1, y1)) continue;
      seen++;
      if (b < a) continue;
      out.push({
        ...{ x0, y0, x1, y1 },
        kind: 'outline',
        ends: [a, b],
        towards: [ends.dx[a]!, ends.dy[a]!, ends.dx[b]!, ends.dy[b]!],
        cost: quantised(distance),
      });
    }
  }
}

/** Where a chord leaves its stroke: right at the tip it might graze ragged ink, or miss it. */
function behindTip({ x, y, dx, dy, radius }: LooseEnds, end: number): readonly [number, number] {
  const back = radius[end]! + 1;
  return [x[end]! - back * dx[end]!, y[end]! - back * dy[end]!];
}

/** More than the first, at most the second, in px of the grid. */
type Widths = readonly [from: number, to: number];

interface Partner {
  readonly end: number;
  readonly distance: number;
}

/** Ends that could be the other side of an end's outline, the nearest first. @param side 1 for those to its left, -1 to its right. */
function partnersOf(
  { x, y, dx, dy }: LooseEnds,
  a: number,
  others: readonly number[],
  [from, to]: Widths,
  side: 1 | -1,
): Partner[] {
  const found: Partner[] = [];
  for (const b of others) {
    const vx = x[b]! - x[a]!;
    const vy = y[b]! - y[a]!;
    if (a === b || (dx[a]! * vy - dy[a]! * vx) * side <= 0) continue;
    if (dx[a]! * dx[b]! + dy[a]! * dy[b]! < LEAST_TOGETHER) continue;
    const distance = Math.sqrt(vx * vx + vy * vy);
    const along = MOST_ALONG * distance;
    if (distance <= from || distance > to) continue;
    if (Math.abs(dx[a]! * vx + dy[a]! * vy) > along || Math.abs(dx[b]! * vx + dy[b]! * vy) > along) continue;
    found.push({ end: b, distance });
  }
  return found.sort((one, two) => one.distance - two.distance || one.end - two.end);
}
