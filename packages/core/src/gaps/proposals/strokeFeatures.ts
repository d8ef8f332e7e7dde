import { log } from '../../exact/exactMath.ts';
import { type InkPieces, pieceAt } from '../../ink/labelInk.ts';
import type { Proposal } from './Proposal.ts';
import type { InkGrid } from '../../skeleton/InkGrid.ts';
import { type LooseEnds, squaredRadiusAt } from '../../skeleton/traceStrokes.ts';
import type { EndNeighbours } from './weighEnds.ts';

/**
 * What is known of the strokes at both sides of a cut; 0 where none ends.
 *
 * - end, secondEnd: how much an end of a stroke stands at the one side and at the other, 0..1
 * - aim: how straight the worse of the ends looks along it; straightest: how straight the better one does
 * - facing: how straight the ends look at each other, 1 for a line that goes on
 * - blunt: how bluntly they stop: a stroke that thins out to a point ends of its own
 * - thick, secondThick: width of the strokes in line widths
 * - long: how far the stroke could be followed, in 5 line widths; free: it ends at its other end as well
 * - web: how much line hangs together with it
 * - parallel, near, around: ends beside it that look the same way, within 6 and within 15 line widths
 * - target: width of the line it runs onto, in line widths; square: how squarely it meets that
 * - rank: cost of the cheapest cut from the same end, by this one's
 * - line, edge: 1 where it runs onto a line, onto the page's edge
 * - onePiece: 1 where the ink at both sides hangs together: only then does it part anything by itself
 */
export const STROKE_FEATURES = [
  'end',
  'secondEnd',
  'aim',
  'straightest',
  'facing',
  'blunt',
  'thick',
  'secondThick',
  'long',
  'free',
  'web',
  'parallel',
  'near',
  'around',
  'target',
  'square',
  'rank',
  'line',
  'edge',
  'onePiece',
] as const;
export const NO_STROKE_FEATURES: readonly number[] = STROKE_FEATURES.map(() => 0);

/** Wider strokes say no more, in line widths. */
const MOST_THICK = 1.5;
/** The line that a cut runs onto is looked at this deep, in px. */
const TARGET_DEPTH = 40;
/** Ink within this distance tells which way a line runs, in px. */
const AROUND_PX = 4;

/** Reads the features of proposals; lengths in px of the grid. */
export class StrokeFeatureReader {
  /** Cost of the cheapest cut from each end. */
  private readonly cheapest: Float64Array;

  constructor(
    private readonly grid: InkGrid,
    private readonly ends: LooseEnds,
    private readonly neighbours: EndNeighbours,
    private readonly pieces: InkPieces,
    proposals: readonly Proposal[],
    private readonly lineWidth: number,
  ) {
    this.cheapest = new Float64Array(ends.count).fill(Infinity);
    for (const { ends: both, cost } of proposals) {
      for (const end of both) if (end >= 0) this.cheapest[end] = Math.min(this.cheapest[end]!, cost);
    }
  }

  read(proposal: Proposal): readonly number[] {
    const { grid, ends, neighbours, lineWidth, cheapest } = this;
    const { x0, y0, x1, y1, kind } = proposal;
    const onePiece = sameInk(this.pieces, proposal) ? 1 : 0;
    const a = proposal.ends[0];
    const b = proposal.ends[1];
    if (a < 0) return [...NO_STROKE_FEATURES.slice(0, -1), onePiece];
    const vx = x1 - x0;
    const vy = y1 - y0;
    const d = Math.sqrt(vx * vx + vy * vy) || 1;
    const turnA = (ends.dx[a]! * vx + ends.dy[a]! * vy) / d;
    const rank = Math.min(1, Math.min(cheapest[a]!, b < 0 ? Infinity : cheapest[b]!) / Math.max(1, proposal.cost));
    const firstIsOne = b < 0 || ends.weight[a]! >= ends.weight[b]!;
    const one = firstIsOne ? a : b;
    const two = firstIsOne ? b : a;
    const blunt = b < 0 ? ends.blunt[a]! : (ends.blunt[a]! + ends.blunt[b]!) / 2;
    const turnB = b < 0 ? turnA : -(ends.dx[b]! * vx + ends.dy[b]! * vy) / d;
    const strokeFeatures = [
      ends.weight[one]!,
      two < 0 ? 0 : ends.weight[two]!,
      Math.min(turnA, turnB),
      Math.max(turnA, turnB),
      b < 0 ? 0 : -(ends.dx[a]! * ends.dx[b]! + ends.dy[a]! * ends.dy[b]!),
      blunt,
      this.thick(one),
      two < 0 ? 0 : this.thick(two),
      Math.min(2, ends.length[one]! / (5 * lineWidth)),
      ends.free[one]!,
      Math.min(1.5, log(1 + ends.web[one]! / (5 * lineWidth)) / 4),
      Math.min(1, neighbours.parallel[one]! / 4),
      log(1 + neighbours.near[one]!),
      log(1 + neighbours.around[one]!),
      kind === 'line' ? Math.min(MOST_THICK, targetWidth(grid, proposal) / lineWidth) : 0,
      kind === 'line' ? squareness(grid, proposal) : 0,
      rank,
      kind === 'line' ? 1 : 0,
      kind === 'edge' ? 1 : 0,
      onePiece,
    ];
    // No negative zero: it is another number to whoever compares bit for bit.
    for (let k = 0; k < strokeFeatures.length; k++) strokeFeatures[k] = strokeFeatures[k]! + 0;
    return strokeFeatures;
  }

  private thick(end: number): number {
    return Math.min(MOST_THICK, (2 * this.ends.body[end]! + 0.5) / this.lineWidth);
  }
}

const CROSS = [
  [0, 0],
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
  [2, 0],
  [-2, 0],
  [0, 2],
  [0, -2],
] as const;

/** Whether the ink at both sides of a cut hangs together. */
function sameInk(pieces: InkPieces, { x0, y0, x1, y1 }: Proposal): boolean {
  return pieceNear(pieces, x0, y0) === pieceNear(pieces, x1, y1);
}

function pieceNear(pieces: InkPieces, x: number, y: number): number {
  for (let k = 0; k < CROSS.length; k++) {
    const piece = pieceAt(pieces, Math.round(x) + CROSS[k]![0], Math.round(y) + CROSS[k]![1]);
    if (piece >= 0) return piece;
  }
  return -1;
}

/** How thick the line is that a cut runs onto, in px. */
function targetWidth(grid: InkGrid, { x0, y0, x1, y1 }: Proposal): number {
  const d = Math.sqrt((x1 - x0) * (x1 - x0) + (y1 - y0) * (y1 - y0)) || 1;
  const ux = (x1 - x0) / d;
  const uy = (y1 - y0) / d;
  let deepest = 0;
  for (let t = 0; t < TARGET_DEPTH; t += 0.5) {
    const x = Math.round(x1 + ux * t);
    const y = Math.round(y1 + uy * t);
    if (x < 0 || y < 0 || x >= grid.width || y >= grid.height || grid.ink[y * grid.width + x]! < 128) break;
    deepest = Math.max(deepest, squaredRadiusAt(grid, x, y));
  }
  return Math.max(0, 2 * Math.sqrt(deepest) - 1);
}

/** How squarely a cut meets the line it runs onto: 1 at a right angle, 0 along it. */
function squareness({ ink, width, height }: InkGrid, { x0, y0, x1, y1 }: Proposal): number {
  let sx = 0;
  let sy = 0;
  for (let dy = -AROUND_PX; dy <= AROUND_PX; dy++) {
    for (let dx = -AROUND_PX; dx <= AROUND_PX; dx++) {
      const x = Math.round(x1) + dx;
      const y = Math.round(y1) + dy;
      if (x < 0 || y < 0 || x >= width || y >= height || dx * dx + dy * dy > AROUND_PX * AROUND_PX + 1) continue;
      if (ink[y * width + x]! < 128) continue;
      sx += dx;
      sy += dy;
    }
  }
  const norm = Math.sqrt((sx * sx + sy * sy) * ((x1 - x0) * (x1 - x0) + (y1 - y0) * (y1 - y0)));
  return norm === 0 ? 0 : (sx * (x1 - x0) + sy * (y1 - y0)) / norm;
}
