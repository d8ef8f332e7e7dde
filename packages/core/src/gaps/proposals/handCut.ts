import type { Cut } from '../../model/Cut.ts';
import type { Closure } from '../../model/Regions.ts';
import { walkCut } from './cutCurve.ts';
import { NO_STROKE_FEATURES } from './strokeFeatures.ts';

/** What a closure is called: `x,y-x,y`, in px of the page. */
export function keyOfCut({ from, to }: Segment): string {
  return `${from[0]},${from[1]}-${to[0]},${to[1]}`;
}

/** The cut that a closure drawn by hand stands for. @throws RangeError when the key is none. */
export function cutOfKey(key: string): Cut {
  const match = /^(\d+),(\d+)-(\d+),(\d+)$/.exec(key);
  if (match === null) throw new RangeError(`\`key\` must look like x,y-x,y; received ${JSON.stringify(key)}`);
  const [x0, y0, x1, y1] = match.slice(1).map(Number) as [number, number, number, number];
  const [from, to] = [
    [x0, y0],
    [x1, y1],
  ] as const;
  return { from, to, curve: null, widthPx: widthBetween(from, to), kind: 'hand', strokeFeatures: NO_STROKE_FEATURES };
}

/** Two ends this near are one, in px. */
const SAME_PX = 4;

/**
 * What is left of a cut that was found beside those drawn by hand. Where these cross it or lie upon it they stand for
 * it, but the chord of an open outline goes on to both sides of them: without it the shape would be open.
 */
export function leftBeside(cut: Cut, hand: readonly Cut[]): readonly Cut[] {
  const met = hand.filter((one) => cross(one, cut) || isSame(one, cut));
  if (met.length === 0) return [cut];
  if (cut.kind !== 'outline' || met.some((one) => isSame(one, cut))) return [];
  const { from, to } = cut;
  const along = ([x, y]: Point): number => (x - from[0]) * (to[0] - from[0]) + (y - from[1]) * (to[1] - from[1]);
  const stops = [from, ...met.map((one) => meetingPoint(one, cut)).sort((a, b) => along(a) - along(b)), to];
  return stops.slice(1).flatMap((end, k) => {
    const start = stops[k]!;
    return end[0] === start[0] && end[1] === start[1]
      ? []
      : [{ ...cut, from: start, to: end, widthPx: widthBetween(start, end), partOf: keyOfCut(cut) }];
  });
}

/** Keys of open outlines closed by themselves that closures drawn by hand cross: only a ruling keeps them closed there. */
export function outlinesAcross(closures: readonly Closure[], drawn: readonly string[]): string[] {
  const hand = drawn.map(cutOfKey);
  return closures
    .filter((one) => one.kind === 'outline' && one.accepted && one.ruling === null)
    .filter((one) => hand.some((other) => cross(other, one)))
    .map(({ key }) => key);
}

type Point = readonly [number, number];
type Segment = Pick<Cut, 'from' | 'to'>;

function widthBetween(a: Point, b: Point): number {
  return Math.max(1, Math.sqrt((b[0] - a[0]) * (b[0] - a[0]) + (b[1] - a[1]) * (b[1] - a[1])) - 1);
}

/** Above 0 to one side of the line through a and b, below to the other. */
const side = (a: Point, b: Point, p: Point): number => (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]);

function cross(a: Segment, b: Segment): boolean {
  const apart = side(a.from, a.to, b.from) * side(a.from, a.to, b.to);
  const across = side(b.from, b.to, a.from) * side(b.from, b.to, a.to);
  return apart < 0 && across < 0;
}

function isSame(a: Segment, b: Segment): boolean {
  const near = (p: Point, q: Point): boolean =>
    (p[0] - q[0]) * (p[0] - q[0]) + (p[1] - q[1]) * (p[1] - q[1]) <= SAME_PX * SAME_PX;
  return (near(a.from, b.from) && near(a.to, b.to)) || (near(a.from, b.to) && near(a.to, b.from));
}

/** The pixel of a cut where another one crosses it. */
function meetingPoint(cut: Cut, other: Segment): Point {
  let nearest = cut.from;
  let least = Infinity;
  walkCut(cut, (x, y) => {
    const off = Math.abs(side(other.from, other.to, [x, y]));
    if (off >= least) return;
    least = off;
    nearest = [x, y];
  });
  return nearest;
}
