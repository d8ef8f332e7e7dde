/**
 * The pixels that a hard round pen covers on the way between two points: those whose middle lies within half
 * its size of the line. Each is visited once, row by row. A pen of an even size stands on corners of pixels,
 * so that it is as wide as it says.
 *
 * @param from, to pixels. @param sizePx at least 1.
 */
export function visitStroke(
  from: readonly [number, number],
  to: readonly [number, number],
  sizePx: number,
  width: number,
  height: number,
  visit: (x: number, y: number) => void,
): void {
  const shift = sizePx % 2 === 0 ? 0.5 : 0;
  const [ax, ay] = [from[0] + shift, from[1] + shift];
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const length2 = dx * dx + dy * dy;
  const reach = sizePx / 2;
  // A hair more than half, so that a line of one pixel has no gaps.
  const reach2 = reach * reach + 1e-6;
  const top = Math.max(0, Math.floor(Math.min(ay, ay + dy) - reach));
  const bottom = Math.min(height - 1, Math.ceil(Math.max(ay, ay + dy) + reach));
  const left = Math.max(0, Math.floor(Math.min(ax, ax + dx) - reach));
  const right = Math.min(width - 1, Math.ceil(Math.max(ax, ax + dx) + reach));
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const [px, py] = [x - ax, y - ay];
      let t = length2 === 0 ? 0 : (px * dx + py * dy) / length2;
      t = t < 0 ? 0 : t > 1 ? 1 : t;
      const [ox, oy] = [px - dx * t, py - dy * t];
      if (ox * ox + oy * oy <= reach2) visit(x, y);
    }
  }
}
