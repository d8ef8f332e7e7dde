import type { Cut } from '../../model/Cut.ts';
import { NO_STROKE_FEATURES } from './strokeFeatures.ts';

/** The cut that a closure drawn by hand stands for. @throws RangeError when the key is none. */
export function cutOfKey(key: string): Cut {
  const match = /^(\d+),(\d+)-(\d+),(\d+)$/.exec(key);
  if (match === null) throw new RangeError(`\`key\` must look like x,y-x,y; received ${JSON.stringify(key)}`);
  const [x0, y0, x1, y1] = match.slice(1).map(Number) as [number, number, number, number];
  const widthPx = Math.max(1, Math.sqrt((x1 - x0) * (x1 - x0) + (y1 - y0) * (y1 - y0)) - 1);
  return { from: [x0, y0], to: [x1, y1], curve: null, widthPx, kind: 'hand', strokeFeatures: NO_STROKE_FEATURES };
}

/** Two ends this near are one, in px. */
const SAME_PX = 4;

/** Whether two cuts cross or lie upon each other: the one drawn by hand then stands for both. */
export function crosses(a: Pick<Cut, 'from' | 'to'>, b: Pick<Cut, 'from' | 'to'>): boolean {
  type Point = readonly [number, number];
  const side = (p: Point, q: Point, r: Point): number => (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
  const apart = side(a.from, a.to, b.from) * side(a.from, a.to, b.to);
  const across = side(b.from, b.to, a.from) * side(b.from, b.to, a.to);
  if (apart < 0 && across < 0) return true;
  const near = (p: Point, q: Point): boolean =>
    (p[0] - q[0]) * (p[0] - q[0]) + (p[1] - q[1]) * (p[1] - q[1]) <= SAME_PX * SAME_PX;
  return (near(a.from, b.from) && near(a.to, b.to)) || (near(a.from, b.to) && near(a.to, b.from));
}
