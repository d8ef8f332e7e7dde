import { cosDegrees, sinDegrees } from '../../exact/exactMath.ts';
import { type Proposal, quantised } from './Proposal.ts';
import type { InkGrid } from '../../skeleton/InkGrid.ts';
import type { LooseEnds } from '../../skeleton/traceStrokes.ts';

/** Both ends may turn this far away from the chord. */
const LEAST_COSINE = cosDegrees(100);
/** What a full turn away from the chord adds to its length. */
const TURN_PENALTY = 0.9;
/** Rays of an end towards lines, in degrees. */
const FAN = [0, 10, -10, 20, -20, 30, -30, 40, -40, 50, -50, 60, -60, 70, -70] as const;
/** Rays turned farther than this (a cosine) may meet the stroke's own flank. */
const STEEP = 0.8;
const RAYS = FAN.map((turn) => [cosDegrees(turn), sinDegrees(turn)] as const);
/** An end this many line widths from the page's edge closes to it. */
const EDGE_REACH = 3.5;

/** Cuts from loose ends: to other ends, to lines, to the page's edge. @param limit longest cut in px of the grid. */
export function proposeFromEnds(grid: InkGrid, ends: LooseEnds, limit: number, lineWidth: number): Proposal[] {
  const proposals: Proposal[] = [];
  pairEnds(grid, ends, limit, proposals);
  for (let end = 0; end < ends.count; end++) reachLines(grid, ends, end, limit, lineWidth, proposals);
  return proposals;
}

function pairEnds(grid: InkGrid, ends: LooseEnds, limit: number, out: Proposal[]): void {
  const { x } = ends;
  const order = Int32Array.from({ length: ends.count }, (_, k) => k).sort((a, b) => x[a]! - x[b]! || a - b);
  for (let i = 0; i < order.length; i++) pairEnd(grid, ends, order, i, limit, out);
}

/** Pairs an end with those to the right of it. */
function pairEnd(
  grid: InkGrid,
  { x, y, dx, dy }: LooseEnds,
  order: Int32Array,
  i: number,
  limit: number,
  out: Proposal[],
): void {
  const a = order[i]!;
  for (let j = i + 1; j < order.length; j++) {
    const b = order[j]!;
    const vx = x[b]! - x[a]!;
    if (vx > limit) break;
    const vy = y[b]! - y[a]!;
    const d2 = vx * vx + vy * vy;
    if (d2 > limit * limit || d2 === 0) continue;
    const d = Math.sqrt(d2);
    const turnA = (dx[a]! * vx + dy[a]! * vy) / d;
    const turnB = -(dx[b]! * vx + dy[b]! * vy) / d;
    if (d > 2 && (turnA < LEAST_COSINE || turnB < LEAST_COSINE)) continue;
    if (!isClear(grid, x[a]!, y[a]!, x[b]!, y[b]!)) continue;
    const straight = 1 - (turnA + turnB) / 2;
    out.push({
      x0: x[a]!,
      y0: y[a]!,
      x1: x[b]!,
      y1: y[b]!,
      kind: 'ends',
      ends: [a, b],
      towards: [dx[a]!, dy[a]!, dx[b]!, dy[b]!],
      // Two ends that look at each other are worth a longer cut than one that runs onto a line.
      cost: quantised(d * (0.6 + (TURN_PENALTY / 2) * straight)),
    });
  }
}

/** Proposes the cheapest cut along the rays of an end, and the one straight ahead where that is another. */
function reachLines(
  grid: InkGrid,
  ends: LooseEnds,
  end: number,
  limit: number,
  lineWidth: number,
  out: Proposal[],
): void {
  const dx = ends.dx[end]!;
  const dy = ends.dy[end]!;
  let least = Infinity;
  let best: Proposal | null = null;
  let ahead: Proposal | null = null;
  for (let k = 0; k < RAYS.length; k++) {
    const cos = RAYS[k]![0];
    const sin = RAYS[k]![1];
    const factor = 1 + TURN_PENALTY * (1 - cos);
    const reach = Math.min(limit, least / factor);
    // Along the flank of its ragged tip is not yet out of its ink.
    const from = cos < STEEP ? 0.6 * ends.radius[end]! + 1.5 : 0;
    const rx = dx * cos - dy * sin;
    const ry = dx * sin + dy * cos;
    const t = castRay(grid, ends.x[end]!, ends.y[end]!, rx, ry, reach, from, EDGE_REACH * lineWidth);
    if (t === NO_HIT) continue;
    const cost = Math.abs(t) * factor;
    if (cost >= least && cos !== 1) continue;
    const found = cutAlong(grid, ends, end, rx, ry, t, cost);
    if (cost < least) {
      least = cost;
      best = found;
    }
    if (cos === 1) ahead = found;
  }
  if (best === null) return;
  out.push(best);
  if (ahead !== null && (ahead.x1 !== best.x1 || ahead.y1 !== best.y1)) out.push(ahead);
}

/** @param t as {@link castRay} has it. */
function cutAlong(
  { width, height }: InkGrid,
  { x, y }: LooseEnds,
  end: number,
  rx: number,
  ry: number,
  t: number,
  cost: number,
): Proposal {
  const isEdge = t < 0;
  const px = Math.round(x[end]! + rx * Math.abs(t));
  const py = Math.round(y[end]! + ry * Math.abs(t));
  return {
    x0: x[end]!,
    y0: y[end]!,
    x1: isEdge ? Math.min(width - 1, Math.max(0, px)) : px,
    y1: isEdge ? Math.min(height - 1, Math.max(0, py)) : py,
    kind: isEdge ? 'edge' : 'line',
    ends: [end, -1],
    towards: null,
    cost: quantised(cost),
  };
}

const NO_HIT = 0;

/**
 * How far it is to the first ink on a ray behind paper, from a distance on; as a negative number to the page's edge
 * where that is near; {@link NO_HIT} where nothing is met.
 *
 * @param edgeReach the edge is met up to this distance.
 */
function castRay(
  { width, height, ink }: InkGrid,
  x: number,
  y: number,
  rx: number,
  ry: number,
  reach: number,
  from: number,
  edgeReach: number,
): number {
  let outside = false;
  for (let t = 1; t <= reach; t++) {
    const px = Math.round(x + rx * t);
    const py = Math.round(y + ry * t);
    if (px < 0 || py < 0 || px >= width || py >= height) return t > edgeReach ? NO_HIT : -t;
    if (ink[py * width + px]! < 128) outside = true;
    else if (outside && t >= from) return t;
  }
  return NO_HIT;
}

/** Whether paper alone lies between two points of ink, but for the ink at both. */
export function isClear(grid: InkGrid, x0: number, y0: number, x1: number, y1: number): boolean {
  const { ink, width } = grid;
  const steps = Math.max(Math.abs(x1 - x0), Math.abs(y1 - y0));
  let state = 0;
  for (let k = 0; k <= steps; k++) {
    const px = Math.round(x0 + ((x1 - x0) * k) / steps);
    const py = Math.round(y0 + ((y1 - y0) * k) / steps);
    const inked = ink[py * width + px]! >= 128;
    // Ink, paper, ink: nothing else.
    if (state === 0 && !inked) state = 1;
    else if (state === 1 && inked) state = 2;
    else if (state === 2 && !inked) return false;
  }
  return state >= 1;
}
