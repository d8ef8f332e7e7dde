/** How straight two sides lie across from each other: the share of the way between them that is not a corner. */
const ACROSS_SHARE = 0.9;

// Not the hypotenuse of the platform: its last bit differs from one engine to another.
export function length(dx: number, dy: number): number {
  return Math.sqrt(dx * dx + dy * dy);
}

/**
 * The width of the line between two neighbouring pixels that take their colour from opposite sides of it, in px; 0 where
 * they do not lie across from each other.
 *
 * @param from, to nearest paper of `p` and `q`, all as pixel indices. @param width of the page.
 */
export function widthBetween(from: number, p: number, q: number, to: number, width: number): number {
  const [fx, tx, px, qx] = [from % width, to % width, p % width, q % width];
  const [fy, ty, py, qy] = [(from - fx) / width, (to - tx) / width, (p - px) / width, (q - qx) / width];
  const [ex, ey] = [tx - fx, ty - fy];
  // Each pixel lies between the two, not behind one of them.
  if ((px - fx) * ex + (py - fy) * ey < 0 || (qx - tx) * ex + (qy - ty) * ey > 0) return 0;
  const across = length(ex, ey);
  return across < ACROSS_SHARE * (length(px - fx, py - fy) + length(qx - tx, qy - ty) + 1) ? 0 : across - 1;
}
