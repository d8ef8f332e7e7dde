import type { Point } from '../model/Point.ts';

/** Where the middle of a row of pixels crosses an outline, ascending: inside lies between the first and second, and so on. */
export function crossingsInRow(points: readonly Point[], y: number): number[] {
  // Corners lie between pixels: the row's middle never meets one.
  const middle = y + 0.5;
  const crossings: number[] = [];
  for (let k = 0; k < points.length; k++) {
    const [x0, y0] = points[k]!;
    const [x1, y1] = points[k + 1 === points.length ? 0 : k + 1]!;
    if (y0 > middle === y1 > middle) continue;
    crossings.push(x0 + ((middle - y0) / (y1 - y0)) * (x1 - x0));
  }
  return crossings.sort((a, b) => a - b);
}
