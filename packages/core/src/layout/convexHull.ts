import type { Point } from '../model/Point.ts';

/** Corners of the smallest convex outline around points, counter-clockwise on paper (Andrew 1979); a point or a line for fewer. */
export function convexHull(points: readonly Point[]): Point[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  if (sorted.length < 3) return sorted;
  const half = (all: readonly Point[]): Point[] => {
    const hull: Point[] = [];
    for (const point of all) {
      while (hull.length > 1 && turn(hull.at(-2)!, hull.at(-1)!, point) <= 0) hull.pop();
      hull.push(point);
    }
    hull.pop();
    return hull;
  };
  return [...half(sorted), ...half(sorted.reverse())];
}

function turn([ax, ay]: Point, [bx, by]: Point, [cx, cy]: Point): number {
  return (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
}
