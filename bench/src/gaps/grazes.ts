import type { Point } from '@jumble/demo';

/** Nearer than so many pens, two lines that do not cross leave less than a line's width of paper between them. */
export const NEAR_PENS = 2.2;
/** Lines that cross at less than about 25 degrees run beside each other for more than so many times that distance. */
const LONGEST_CROSSING = 4.7;
/** Points of lines that cross come this near to each other's segments, in px. */
const CROSSING_PX = 3;

/**
 * Whether a line grazes one of others: comes near without crossing it, or crosses it at a narrow angle. Who draws
 * avoids both, and nobody could say whether the paper on either side of such a place was meant to be one.
 *
 * @param line points a few px apart.
 */
export function grazes(line: readonly Point[], others: readonly (readonly Point[])[], pen: number): boolean {
  const near = NEAR_PENS * pen;
  return others.some((other) => {
    let [run, least] = [0, Infinity];
    for (let k = 0; k <= line.length; k++) {
      const distance = k < line.length ? distanceTo(line[k]!, other) : Infinity;
      if (distance < near) {
        run += k === 0 ? 0 : Math.hypot(line[k]![0] - line[k - 1]![0], line[k]![1] - line[k - 1]![1]);
        least = Math.min(least, distance);
      } else {
        if (least < Infinity && (least > CROSSING_PX || run > LONGEST_CROSSING * near)) return true;
        [run, least] = [0, Infinity];
      }
    }
    return false;
  });
}

/** From a point to the nearest segment of a line. */
export function distanceTo([x, y]: Point, line: readonly Point[]): number {
  let least = Infinity;
  for (let k = 1; k < line.length; k++) {
    const from = line[k - 1]!;
    const to = line[k]!;
    const [ux, uy] = [to[0] - from[0], to[1] - from[1]];
    const [vx, vy] = [x - from[0], y - from[1]];
    const along = (vx * ux + vy * uy) / (ux * ux + uy * uy || 1);
    const t = along < 0 ? 0 : along > 1 ? 1 : along;
    const [dx, dy] = [vx - t * ux, vy - t * uy];
    const square = dx * dx + dy * dy;
    if (square < least) least = square;
  }
  return Math.sqrt(least);
}
