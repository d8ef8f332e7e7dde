import { NO_PAPER } from '../../raster/spreadIntoInk.ts';
import type { Survey } from '../../model/Survey.ts';
import type { Cut } from '../../model/Cut.ts';
import { NO_STROKE_FEATURES } from '../proposals/strokeFeatures.ts';
import type { InkGrid } from '../../skeleton/InkGrid.ts';

/** How colour gets from one place to another. */
export interface LeakTrace {
  /** Page points from the first place to the second, `[x0, y0, x1, y1, ...]`. */
  readonly path: Int32Array;
  /** The narrowest place of the way. */
  readonly narrowest: readonly [number, number];
  readonly widthPx: number;
  /** What would close it there; null where no ink lies on both sides. */
  readonly cut: Cut | null;
}

/**
 * The widest way through the paper of one region between two points: the one whose narrowest place is
 * as wide as can be (flooding in the order of falling distance to ink). There the leak is closed best.
 *
 * @param paper distances to ink at a reduced size. @param factor page px per px of `paper`.
 * @returns null when the two lie in different regions, or on ink.
 */
export function traceLeak(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
  paper: InkGrid,
  factor: number,
  from: readonly [number, number],
  to: readonly [number, number],
): LeakTrace | null {
  const { width, height, field, regions } = survey;
  const regionAt = (x: number, y: number): number => {
    const px = Math.min(width - 1, x * factor + (factor >> 1));
    const py = Math.min(height - 1, y * factor + (factor >> 1));
    const cell = field[py * width + px]!;
    return cell < 0 ? -1 : regions.ofCell[cell]!;
  };
  const onGrid = ([x, y]: readonly [number, number]): [number, number] => [
    Math.min(paper.width - 1, Math.floor(x / factor)),
    Math.min(paper.height - 1, Math.floor(y / factor)),
  ];
  const [sx, sy] = onGrid(from);
  const [tx, ty] = onGrid(to);
  const cell = field[from[1] * width + from[0]]!;
  const other = field[to[1] * width + to[0]]!;
  if (cell < 0 || other < 0 || regions.ofCell[cell] !== regions.ofCell[other]) return null;
  const region = regions.ofCell[cell]!;
  const start = sy * paper.width + sx;
  const goal = ty * paper.width + tx;

  // The widest pixel at the rim of the flood comes next; buckets by distance.
  const came = new Int32Array(paper.width * paper.height).fill(-1);
  const buckets: number[][] = [];
  const push = (at: number, step: number): void => {
    (buckets[step] ??= []).push(at);
  };
  came[start] = start;
  push(start, stepOf(paper, start));
  let level = buckets.length - 1;
  while (came[goal] === -1) {
    while (level >= 0 && (buckets[level]?.length ?? 0) === 0) level--;
    if (level < 0) return null;
    const at = buckets[level]!.pop()!;
    const x = at % paper.width;
    const y = (at - x) / paper.width;
    for (let dy = -1; dy <= 1; dy++) {
      for (let dx = -1; dx <= 1; dx++) {
        const [px, py] = [x + dx, y + dy];
        if (px < 0 || py < 0 || px >= paper.width || py >= paper.height) continue;
        const next = py * paper.width + px;
        if (came[next] !== -1 || (next !== goal && regionAt(px, py) !== region)) continue;
        came[next] = at;
        const step = stepOf(paper, next);
        push(next, step);
        if (step > level) level = step;
      }
    }
  }

  const way: number[] = [];
  for (let at = goal; ; at = came[at]!) {
    way.push(at);
    if (at === start) break;
  }
  way.reverse();
  const middle = narrowestOf(way, (at) => stepOf(paper, at));
  const onPage = (at: number): [number, number] => [
    (at % paper.width) * factor + (factor >> 1),
    Math.floor(at / paper.width) * factor + (factor >> 1),
  ];
  // The narrowest place first, then those beside it on the way, until a cut from ink to ink is found.
  const least = stepOf(paper, way[middle]!);
  let cut: Cut | null = null;
  for (let k = 0; k <= 2 * LOOK_ALONG && cut === null; k++) {
    const at = way[middle + (k % 2 === 0 ? 1 : -1) * Math.ceil(k / 2)];
    if (at === undefined || stepOf(paper, at) > least + STEPS_PER_PX) continue;
    cut = cutAcross(survey, ...onPage(at), Math.ceil((least / STEPS_PER_PX + 2) * factor * 1.6) + 2);
  }
  return {
    path: Int32Array.from(way.flatMap(onPage)),
    narrowest: cut === null ? onPage(way[middle]!) : [(cut.from[0] + cut.to[0]) >> 1, (cut.from[1] + cut.to[1]) >> 1],
    widthPx: cut?.widthPx ?? (2 * least * factor) / STEPS_PER_PX,
    cut,
  };
}

/** So many places either way of the narrowest are tried for a cut. */
const LOOK_ALONG = 12;

/** Index of the middle of the longest narrowest stretch; the two ends of the way do not count. */
function narrowestOf(way: readonly number[], step: (at: number) => number): number {
  let least = Infinity;
  for (let k = 1; k < way.length - 1; k++) least = Math.min(least, step(way[k]!));
  let best = 0;
  let chosen = way.length >> 1;
  for (let k = 1; k < way.length - 1; k++) {
    if (step(way[k]!) !== least) continue;
    let end = k;
    while (end + 1 < way.length - 1 && step(way[end + 1]!) === least) end++;
    if (end - k + 1 > best) {
      best = end - k + 1;
      chosen = (k + end) >> 1;
    }
    k = end;
  }
  return chosen;
}

const STEPS_PER_PX = 4;

function stepOf(paper: InkGrid, at: number): number {
  const source = paper.nearest[at]!;
  if (source >= 0) return 0;
  if (source === NO_PAPER) return 1 << 16;
  const s = ~source;
  const x = at % paper.width;
  const y = (at - x) / paper.width;
  const sx = s % paper.width;
  const sy = (s - sx) / paper.width;
  return Math.floor(Math.sqrt((x - sx) * (x - sx) + (y - sy) * (y - sy)) * STEPS_PER_PX);
}

/** Directions of a half turn, as whole steps. */
const HALF_TURN: readonly (readonly [number, number])[] = [
  [1, 0],
  [4, 1],
  [2, 1],
  [3, 2],
  [1, 1],
  [2, 3],
  [1, 2],
  [1, 4],
  [0, 1],
  [-1, 4],
  [-1, 2],
  [-2, 3],
  [-1, 1],
  [-3, 2],
  [-2, 1],
  [-4, 1],
];

/** The shortest straight cut through a point, from ink to ink. */
function cutAcross(
  survey: Pick<Survey, 'width' | 'height' | 'field'>,
  x: number,
  y: number,
  reach: number,
): Cut | null {
  let best: Cut | null = null;
  for (const [dx, dy] of HALF_TURN) {
    const norm = Math.sqrt(dx * dx + dy * dy);
    const from = firstInk(survey, x, y, -dx / norm, -dy / norm, reach);
    const to = firstInk(survey, x, y, dx / norm, dy / norm, reach);
    if (from === null || to === null) continue;
    const widthPx = Math.max(1, Math.sqrt((to[0] - from[0]) ** 2 + (to[1] - from[1]) ** 2) - 1);
    if (best === null || widthPx < best.widthPx)
      best = { from, to, widthPx, curve: null, kind: 'hand', strokeFeatures: NO_STROKE_FEATURES };
  }
  return best;
}

function firstInk(
  { width, height, field }: Pick<Survey, 'width' | 'height' | 'field'>,
  x: number,
  y: number,
  dx: number,
  dy: number,
  reach: number,
): [number, number] | null {
  for (let t = 0.5; t <= reach; t += 0.5) {
    const px = Math.round(x + dx * t);
    const py = Math.round(y + dy * t);
    if (px < 0 || py < 0 || px >= width || py >= height) return null;
    if (field[py * width + px]! < 0) return [px, py];
  }
  return null;
}

/** The ink pixel nearest to a point within a reach; null where there is none. */
export function snapToInk(
  survey: Pick<Survey, 'width' | 'height' | 'field'>,
  x: number,
  y: number,
  reach: number,
): { readonly at: readonly [number, number]; readonly distancePx: number } | null {
  const { width, height, field } = survey;
  let best = reach * reach + 1;
  let at: [number, number] | null = null;
  for (let py = Math.max(0, y - reach); py <= Math.min(height - 1, y + reach); py++) {
    for (let px = Math.max(0, x - reach); px <= Math.min(width - 1, x + reach); px++) {
      const d = (px - x) * (px - x) + (py - y) * (py - y);
      if (d < best && field[py * width + px]! < 0) {
        best = d;
        at = [px, py];
      }
    }
  }
  return at === null ? null : { at, distancePx: Math.sqrt(best) };
}
