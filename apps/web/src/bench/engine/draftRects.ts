import type { OverlayMark, OverlayWay } from './messages.ts';
import type { Rect } from './Picture.ts';

type Point = readonly [number, number];

/** Half the width of a draft's line and its rim, in picture px. */
const DRAFT_REACH = 6;
/** A slanting line is touched in so many pieces: the box round all of it would be most of the picture. */
const CLOSING_PIECES = 12;

/**
 * What has to be drawn anew where a draft becomes another one: where it only grew, its end and what closes it.
 *
 * @param scale picture px a page px. @returns page px, or null where the draft did not only grow.
 */
export function draftRects(
  before: OverlayMark | OverlayWay | null,
  next: OverlayMark | OverlayWay | null,
  scale: number,
): Rect[] | null {
  if (before === null || next === null || before.points.length > next.points.length) return null;
  // What is held by its points moves as a whole.
  if ([before, next].some((one) => 'handles' in one && one.handles === true)) return null;
  const end = next.points.slice(Math.max(0, before.points.length - 1));
  const reach = DRAFT_REACH / scale + 1;
  const around = (points: readonly Point[]): Rect => {
    const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
    const [x, y] = [Math.min(...xs) - reach, Math.min(...ys) - reach];
    return { x, y, width: Math.max(...xs) + reach - x, height: Math.max(...ys) + reach - y };
  };
  const rects = [around(end)];
  if (!('closed' in next) || !next.closed || end.length < 2) return rects;
  const first = next.points[0]!;
  for (const last of [end[0]!, end.at(-1)!]) {
    for (let k = 0; k < CLOSING_PIECES; k++) rects.push(around([between(last, first, k), between(last, first, k + 1)]));
  }
  return rects;
}

function between([ax, ay]: Point, [bx, by]: Point, piece: number): Point {
  const t = piece / CLOSING_PIECES;
  return [ax + (bx - ax) * t, ay + (by - ay) * t];
}
