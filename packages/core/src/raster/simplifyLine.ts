import simplify from 'simplify-js';

type Point = readonly [x: number, y: number];

/** Leaves out points that lie within a tolerance of the line without them (Douglas and Peucker 1973); the ends stay. */
export function simplifyLine(points: readonly Point[], tolerancePx: number): Point[] {
  return simplify(
    points.map(([x, y]) => ({ x, y })),
    tolerancePx,
    true,
  ).map(({ x, y }) => [x, y]);
}
