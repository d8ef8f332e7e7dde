import type { CoarseInk } from './coarseInk.ts';
import { viewOf, type Block } from './findGutter.ts';
import { boxOf, contains, type Panel } from './Panel.ts';
import type { Point } from '../model/Point.ts';
import { simplifyLine } from '../raster/simplifyLine.ts';

/** Pieces of the small picture's paper. */
export interface CoarsePaper {
  /** Number of each px's piece, 0 on ink. */
  readonly label: Int32Array;
  /** By number: area and `[x0, y0, x1, y1]`. */
  readonly areaPx: readonly number[];
  readonly box: readonly (readonly [number, number, number, number])[];
  /** 1 for pieces that reach the page's edge: margins and gutters. */
  readonly outer: readonly boolean[];
}

/** Labels the paper of the small picture, 4-connected. */
export function labelPaper({ ink, width, height }: CoarseInk): CoarsePaper {
  const label = new Int32Array(ink.length);
  const areaPx = [0];
  const box: [number, number, number, number][] = [[0, 0, 0, 0]];
  const outer = [false];
  const stack: number[] = [];
  for (let start = 0; start < ink.length; start++) {
    if (ink[start] === 1 || label[start] !== 0) continue;
    const id = areaPx.length;
    const bounds: [number, number, number, number] = [width, height, 0, 0];
    let area = 0;
    let edge = false;
    label[start] = id;
    stack.push(start);
    while (stack.length > 0) {
      const at = stack.pop()!;
      const x = at % width;
      const y = (at - x) / width;
      area++;
      bounds[0] = Math.min(bounds[0], x);
      bounds[1] = Math.min(bounds[1], y);
      bounds[2] = Math.max(bounds[2], x + 1);
      bounds[3] = Math.max(bounds[3], y + 1);
      edge ||= x === 0 || y === 0 || x === width - 1 || y === height - 1;
      for (const next of [x > 0 ? at - 1 : -1, x < width - 1 ? at + 1 : -1, at - width, at + width]) {
        if (next < 0 || next >= ink.length || ink[next] === 1 || label[next] !== 0) continue;
        label[next] = id;
        stack.push(next);
      }
    }
    areaPx.push(area);
    box.push(bounds);
    outer.push(edge);
  }
  return { label, areaPx, box, outer };
}

/** A piece must fill this share of its own outline's box of rows to be a panel. */
const LEAST_FILL = 0.86;

/**
 * What of a block is shut off from margins and gutters, when it is two panels or more: an L-shaped one
 * round a smaller one, for example.
 */
export function piecesIn(page: CoarseInk, paper: CoarsePaper, block: Block, leastPx: number): Panel[] {
  const { width } = page;
  const view = viewOf(page, block, false);
  const seen = new Uint8Array(page.ink.length);
  const inside = (x: number, y: number): boolean =>
    x >= view.from && x < view.to && y >= view.low[x - view.from]! && y < view.high[x - view.from]!;
  const shut = (at: number): boolean => !paper.outer[paper.label[at]!]!;
  const found: Panel[] = [];
  const stack: number[] = [];
  for (let x = view.from; x < view.to; x++) {
    for (let y = view.low[x - view.from]!; y < view.high[x - view.from]!; y++) {
      const start = y * width + x;
      if (seen[start] === 1 || !shut(start)) continue;
      const rows = new Map<number, [number, number]>();
      let area = 0;
      seen[start] = 1;
      stack.push(start);
      while (stack.length > 0) {
        const at = stack.pop()!;
        const px = at % width;
        const py = (at - px) / width;
        area++;
        const row = rows.get(py);
        if (row === undefined) rows.set(py, [px, px + 1]);
        else {
          row[0] = Math.min(row[0], px);
          row[1] = Math.max(row[1], px + 1);
        }
        for (const [nx, ny] of [
          [px - 1, py],
          [px + 1, py],
          [px, py - 1],
          [px, py + 1],
        ] as const) {
          const next = ny * width + nx;
          if (!inside(nx, ny) || seen[next] === 1 || !shut(next)) continue;
          seen[next] = 1;
          stack.push(next);
        }
      }
      if (area < leastPx) continue;
      let outline = 0;
      for (const [from, to] of rows.values()) outline += to - from;
      if (area < LEAST_FILL * outline) continue;
      const points = simplifyLine(outlineOf(rows), SIMPLIFY_PX);
      if (isStraight(points)) found.push({ points, framed: true });
    }
  }
  // From the top, then from the left.
  return found.sort((a, b) => boxOf(a.points)[1] - boxOf(b.points)[1] || boxOf(a.points)[0] - boxOf(b.points)[0]);
}

/** Down along the right ends of the rows, up along the left ones. */
function outlineOf(rows: ReadonlyMap<number, readonly [number, number]>): Point[] {
  const sorted = [...rows].sort(([a], [b]) => a - b);
  return [
    ...sorted.flatMap(([y, [, to]]): Point[] => [
      [to, y],
      [to, y + 1],
    ]),
    ...sorted.reverse().flatMap(([y, [from]]): Point[] => [
      [from, y + 1],
      [from, y],
    ]),
  ];
}

/** Corners of a panel may lie so far off its outline. */
const SIMPLIFY_PX = 2;

/** A side of a frame is at least so long, as a share of its box's longer side, and such sides make up so much of an outline. */
const LONG_SIDE = 0.2;
const LEAST_STRAIGHT = 0.6;

/** Whether an outline is a frame's, with figures across it or not: the wings of a moth are shut off from the margins as well. */
function isStraight(points: readonly Point[]): boolean {
  const [x0, y0, x1, y1] = boxOf(points);
  const longPx = LONG_SIDE * Math.max(x1 - x0, y1 - y0);
  let all = 0;
  let straight = 0;
  points.forEach(([x, y], k) => {
    const [nextX, nextY] = points[(k + 1) % points.length]!;
    const length = Math.sqrt((nextX - x) * (nextX - x) + (nextY - y) * (nextY - y));
    all += length;
    if (length >= longPx) straight += length;
  });
  return straight >= LEAST_STRAIGHT * all;
}

/** A ring's gutter takes at most this share of its box. */
const MOST_RING = 0.5;

/** Panels that stand inside another one with a blank ring around them. */
export function insetsIn(page: CoarseInk, paper: CoarsePaper, panel: Panel, leastPx: number): Panel[] {
  const found: Panel[] = [];
  paper.box.forEach((box, id) => {
    const [x0, y0, x1, y1] = box;
    const size = (x1 - x0) * (y1 - y0);
    if (id === 0 || paper.outer[id]! || size < leastPx || paper.areaPx[id]! > MOST_RING * size) return;
    if (!contains(panel.points, (x0 + x1) / 2, (y0 + y1) / 2)) return;
    const inner = innerBox(page, paper, id);
    if (inner === null) return;
    const [ix0, iy0, ix1, iy1] = inner;
    const points: Point[] = [
      [ix0, iy0],
      [ix1, iy0],
      [ix1, iy1],
      [ix0, iy1],
    ];
    found.push({ points, framed: true });
  });
  return found;
}

/** What a ring of paper goes round: its box without the ring, or null where it is no ring. */
function innerBox(
  { width, ink }: CoarseInk,
  { label, box }: CoarsePaper,
  id: number,
): readonly [number, number, number, number] | null {
  const [x0, y0, x1, y1] = box[id]!;
  const thickness = (x: number, y: number, dx: number, dy: number, most: number): number => {
    let k = 0;
    // Hand-drawn lines waver by a px or two.
    while (k < 3 && label[(y + k * dy) * width + x + k * dx] !== id) k++;
    if (k === 3) return 0;
    while (k < most && label[(y + k * dy) * width + x + k * dx] === id) k++;
    // And half of the line behind it: a panel ends in the middle of its frame.
    let inked = 0;
    while (inked < 12 && ink[(y + (k + inked) * dy) * width + x + (k + inked) * dx] === 1) inked++;
    return k + (inked < 12 ? inked / 2 : 0);
  };
  const side = (count: number, at: (k: number) => number): number | null => {
    const all = Array.from({ length: count }, (_, k) => at(k));
    const there = all.filter((t) => t > 0).sort((a, b) => a - b);
    // A ring is there along each whole side, and thin.
    return there.length < 0.9 * count ? null : there[there.length >> 1]!;
  };
  const [w, h] = [x1 - x0, y1 - y0];
  const top = side(w, (k) => thickness(x0 + k, y0, 0, 1, h));
  const bottom = side(w, (k) => thickness(x0 + k, y1 - 1, 0, -1, h));
  const left = side(h, (k) => thickness(x0, y0 + k, 1, 0, w));
  const right = side(h, (k) => thickness(x1 - 1, y0 + k, -1, 0, w));
  if (top === null || bottom === null || left === null || right === null) return null;
  if (top + bottom > 0.4 * h || left + right > 0.4 * w) return null;
  return [x0 + left, y0 + top, x1 - right, y1 - bottom];
}
