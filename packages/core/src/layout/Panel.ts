/** A panel of a page. */
export interface Panel {
  /** Corners in px, in order round it; at least three. */
  readonly points: readonly (readonly [number, number])[];
  /** False where it was found by what is drawn in it, not by a frame. */
  readonly framed: boolean;
}

/** Whether a point lies inside a polygon (even-odd rule). */
export function contains(points: Panel['points'], x: number, y: number): boolean {
  let inside = false;
  for (let k = 0, j = points.length - 1; k < points.length; j = k++) {
    const [ax, ay] = points[k]!;
    const [bx, by] = points[j]!;
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}

/** Area of a polygon in px². */
export function areaOf(points: Panel['points']): number {
  let twice = 0;
  for (let k = 0, j = points.length - 1; k < points.length; j = k++) {
    twice += points[j]![0] * points[k]![1] - points[k]![0] * points[j]![1];
  }
  return Math.abs(twice) / 2;
}

/** `[x0, y0, x1, y1]` of a polygon. */
export function boxOf(points: Panel['points']): readonly [number, number, number, number] {
  const xs = points.map(([x]) => x);
  const ys = points.map(([, y]) => y);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

/**
 * Number of the panel each point lies in, -1 for none; where panels overlap, the smallest one (an inset) has it.
 *
 * @param at pixel indices.
 */
export function panelOfPoints(panels: readonly Panel[], at: ArrayLike<number>, width: number): Int32Array {
  const order = panels.map((panel, k) => ({ k, area: areaOf(panel.points), panel }));
  order.sort((a, b) => a.area - b.area || a.k - b.k);
  return Int32Array.from(at, (one) => {
    const x = one % width;
    const y = (one - x) / width;
    return order.find(({ panel }) => contains(panel.points, x + 0.5, y + 0.5))?.k ?? -1;
  });
}
