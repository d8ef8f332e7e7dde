import { Int32Stack } from '../../raster/growable.ts';
import type { Cut } from '../../model/Cut.ts';
import type { Proposal } from './Proposal.ts';
import { pointOfCut } from './cutCurve.ts';

/** A cut this near to one that stands already, at both sides, is the same one (in line widths). */
const SAME = 1.2;
/** An end that is closed already is not closed again by a cut so many times longer. */
const LONGER = 2;

export interface CutPlacer {
  /** Carries a proposal over to the page; null for one that does not hold there. */
  place(proposal: Proposal): Cut | null;
}

/**
 * Takes proposals, the cheapest first, that cross none taken before, double none, and do not use an
 * end again that a much shorter cut has closed.
 *
 */
export function chooseCuts(proposals: readonly Proposal[], lineWidth: number, placer: CutPlacer): Cut[] {
  const costs = Float64Array.from(proposals, ({ cost }) => cost);
  const order = Int32Array.from(proposals.keys()).sort((a, b) => costs[a]! - costs[b]! || a - b);
  const chosen: Cut[] = [];
  const closedBy = new Map<number, number>();
  const standing = new StandingCuts(proposals, Math.max(8, 4 * lineWidth), SAME * lineWidth);
  for (let k = 0; k < order.length; k++) {
    const proposal = proposals[order[k]!]!;
    const length = lengthOf(proposal);
    const again = proposal.ends.some(
      (end) => end >= 0 && (closedBy.get(end) ?? Infinity) * LONGER + lineWidth < length,
    );
    if (again) continue;
    // What an end is closed with once, a cut to a mere line or neck need not close again.
    if (proposal.kind === 'line' && closedBy.has(proposal.ends[0])) continue;
    if (standing.clashes(proposal)) continue;
    const cut = placer.place(proposal);
    if (cut === null) continue;
    chosen.push(cut);
    for (const end of proposal.ends) if (end >= 0 && !closedBy.has(end)) closedBy.set(end, length);
    standing.add(order[k]!);
  }
  return straightenCrossing(chosen);
}

/** Cuts that were taken, by the square buckets they pass. */
class StandingCuts {
  private readonly proposals: readonly Proposal[];
  private readonly bucketPx: number;
  private readonly reach: number;
  private readonly columns: number;
  /** The last cut of each bucket, as a place in `cut`; 0 for none. A rim of one bucket all around stays empty. */
  private readonly last: Int32Array;
  /** Cuts in buckets, and the one in the same bucket before. */
  private readonly cut = new Int32Stack();
  private readonly before = new Int32Stack();
  /** Filled anew for every cut. */
  private readonly passed = new Int32Stack();

  /** @param reach cuts this near to each other at both sides are the same one. */
  constructor(proposals: readonly Proposal[], bucketPx: number, reach: number) {
    let [right, bottom] = [0, 0];
    for (const { x0, y0, x1, y1 } of proposals) {
      right = Math.max(right, x0, x1);
      bottom = Math.max(bottom, y0, y1);
    }
    this.proposals = proposals;
    this.bucketPx = bucketPx;
    this.reach = reach;
    this.columns = Math.floor(right / bucketPx) + 3;
    this.last = new Int32Array(this.columns * (Math.floor(bottom / bucketPx) + 3));
    this.cut.push(-1);
    this.before.push(0);
  }

  /** The buckets a cut passes, by points a bucket apart: cuts that cross pass buckets that touch. */
  private bucketsOf({ x0, y0, x1, y1 }: Proposal): Int32Stack {
    const { passed, columns, bucketPx } = this;
    const steps = Math.ceil(Math.max(Math.abs(x1 - x0), Math.abs(y1 - y0)) / bucketPx);
    passed.length = 0;
    for (let k = 0; k <= steps; k++) {
      const t = steps === 0 ? 0 : k / steps;
      const column = Math.max(0, Math.floor((x0 + (x1 - x0) * t) / bucketPx)) + 1;
      const row = Math.max(0, Math.floor((y0 + (y1 - y0) * t) / bucketPx)) + 1;
      const bucket = row * columns + column;
      if (k === 0 || bucket !== passed.data[passed.length - 1]) passed.push(bucket);
    }
    return passed;
  }

  /** Whether a cut crosses or doubles one that stands in the buckets it passes, or beside them. */
  clashes(proposal: Proposal): boolean {
    const { columns } = this;
    const buckets = this.bucketsOf(proposal);
    for (let k = 0; k < buckets.length; k++) {
      const bucket = buckets.data[k]!;
      for (let row = bucket - columns; row <= bucket + columns; row += columns) {
        for (let beside = row - 1; beside <= row + 1; beside++) {
          for (let at = this.last[beside]!; at > 0; at = this.before.data[at]!) {
            const other = this.proposals[this.cut.data[at]!]!;
            if (cross(proposal, other) || same(proposal, other, this.reach)) return true;
          }
        }
      }
    }
    return false;
  }

  /** @param cut its place among the proposals. */
  add(cut: number): void {
    const buckets = this.bucketsOf(this.proposals[cut]!);
    for (let k = 0; k < buckets.length; k++) {
      const bucket = buckets.data[k]!;
      this.before.push(this.last[bucket]!);
      this.last[bucket] = this.cut.length;
      this.cut.push(cut);
    }
  }
}

/** Pieces a curve is looked at by. */
const PIECES = 8;
/** Left, top, right and bottom of a cut. */
const SIDES = 4;

/** Chords do not cross each other; a curve that crosses another cut goes back to its chord. */
function straightenCrossing(cuts: readonly Cut[]): Cut[] {
  const boxes = new Float64Array(SIDES * cuts.length);
  cuts.forEach((cut, k) => boxes.set(boxOf(pathOf(cut)), SIDES * k));
  const order = Int32Array.from(cuts.keys()).sort((a, b) => boxes[SIDES * a]! - boxes[SIDES * b]! || a - b);
  const isCurved = Uint8Array.from(cuts, ({ curve }) => (curve === null ? 0 : 1));
  const isStraight = new Uint8Array(cuts.length);
  for (let i = 0; i < order.length; i++) {
    const a = order[i]!;
    const [top, right, bottom] = [boxes[SIDES * a + 1]!, boxes[SIDES * a + 2]!, boxes[SIDES * a + 3]!];
    for (let j = i + 1; j < order.length; j++) {
      const b = order[j]!;
      if (boxes[SIDES * b]! > right) break;
      if ((isCurved[a]! | isCurved[b]!) === 0) continue;
      if (boxes[SIDES * b + 1]! > bottom || top > boxes[SIDES * b + 3]!) continue;
      if (pathsCross(pathOf(cuts[a]!), pathOf(cuts[b]!))) isStraight[a] = isStraight[b] = 1;
    }
  }
  return cuts.map((cut, k) => (isStraight[k] === 1 && cut.curve !== null ? { ...cut, curve: null } : cut));
}

type Box = [left: number, top: number, right: number, bottom: number];

function boxOf(path: Path): Box {
  const box: Box = [Infinity, Infinity, -Infinity, -Infinity];
  for (let k = 0; k < path.length; k++) {
    const [x, y] = path[k]!;
    box[0] = Math.min(box[0], x);
    box[1] = Math.min(box[1], y);
    box[2] = Math.max(box[2], x);
    box[3] = Math.max(box[3], y);
  }
  return box;
}

function pathOf(cut: Cut): Path {
  if (cut.curve === null) return [cut.from, cut.to];
  return Array.from({ length: PIECES + 1 }, (_, k) => pointOfCut(cut, k / PIECES).slice(0, 2) as [number, number]);
}

type Path = readonly (readonly [number, number])[];

function pathsCross(a: Path, b: Path): boolean {
  for (let k = 0; k + 1 < a.length; k++) {
    const [[ax, ay], [bx, by]] = [a[k]!, a[k + 1]!];
    for (let m = 0; m + 1 < b.length; m++) {
      const [[cx, cy], [dx, dy]] = [b[m]!, b[m + 1]!];
      if (
        side(ax, ay, bx, by, cx, cy) * side(ax, ay, bx, by, dx, dy) < 0 &&
        side(cx, cy, dx, dy, ax, ay) * side(cx, cy, dx, dy, bx, by) < 0
      )
        return true;
    }
  }
  return false;
}

function lengthOf({ x0, y0, x1, y1 }: Proposal): number {
  return Math.sqrt((x1 - x0) * (x1 - x0) + (y1 - y0) * (y1 - y0));
}

function side(ax: number, ay: number, bx: number, by: number, px: number, py: number): number {
  return (bx - ax) * (py - ay) - (by - ay) * (px - ax);
}

/** Whether two cuts cross inside, not where they merely meet. */
function cross(a: Proposal, b: Proposal): boolean {
  const d1 = side(a.x0, a.y0, a.x1, a.y1, b.x0, b.y0);
  const d2 = side(a.x0, a.y0, a.x1, a.y1, b.x1, b.y1);
  const d3 = side(b.x0, b.y0, b.x1, b.y1, a.x0, a.y0);
  const d4 = side(b.x0, b.y0, b.x1, b.y1, a.x1, a.y1);
  return d1 * d2 < 0 && d3 * d4 < 0;
}

function same(a: Proposal, b: Proposal, reach: number): boolean {
  return (
    (areNear(a.x0, a.y0, b.x0, b.y0, reach) && areNear(a.x1, a.y1, b.x1, b.y1, reach)) ||
    (areNear(a.x0, a.y0, b.x1, b.y1, reach) && areNear(a.x1, a.y1, b.x0, b.y0, reach))
  );
}

function areNear(x0: number, y0: number, x1: number, y1: number, reach: number): boolean {
  return (x0 - x1) * (x0 - x1) + (y0 - y1) * (y0 - y1) <= reach * reach;
}
