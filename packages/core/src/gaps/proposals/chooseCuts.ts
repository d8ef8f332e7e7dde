import Flatbush from 'flatbush';
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
 * end again that a much shorter cut has closed. Chords of open outlines, of which an end has one to either side, come
 * before what is wider than gaps usually are.
 *
 * @param wideFrom such a cut is this long, in px of the grid.
 */
export function chooseCuts(
  proposals: readonly Proposal[],
  lineWidth: number,
  placer: CutPlacer,
  wideFrom = Infinity,
): Cut[] {
  const costs = Float64Array.from(proposals, ({ cost }) => cost);
  const turn = Uint8Array.from(proposals, (one) => (one.kind === 'outline' ? 1 : lengthOf(one) > wideFrom ? 2 : 0));
  const order = Int32Array.from(proposals.keys()).sort((a, b) => turn[a]! - turn[b]! || costs[a]! - costs[b]! || a - b);
  const chosen: Cut[] = [];
  const closedBy = new Map<number, number>();
  const chordAt = new Set<string>();
  const standing = new StandingCuts(proposals, SAME * lineWidth);
  for (let k = 0; k < order.length; k++) {
    const proposal = proposals[order[k]!]!;
    const length = lengthOf(proposal);
    const isChord = proposal.kind === 'outline';
    const sides = isChord ? sidesOfChord(proposal) : [];
    if (sides.some((side) => chordAt.has(side))) continue;
    const again =
      !isChord &&
      proposal.ends.some((end) => end >= 0 && (closedBy.get(end) ?? Infinity) * LONGER + lineWidth < length);
    if (again) continue;
    // What an end is closed with once, a cut to a mere line or neck need not close again.
    if (proposal.kind === 'line' && closedBy.has(proposal.ends[0])) continue;
    if (standing.clashes(proposal)) continue;
    const cut = placer.place(proposal);
    if (cut === null) continue;
    chosen.push(cut);
    for (const side of sides) chordAt.add(side);
    if (!isChord) for (const end of proposal.ends) if (end >= 0 && !closedBy.has(end)) closedBy.set(end, length);
    standing.add(order[k]!);
  }
  return straightenCrossing(chosen);
}

/** Each end of a chord with the side of it that the chord runs to. */
function sidesOfChord({ x0, y0, x1, y1, ends, towards }: Proposal): string[] {
  const [ax, ay, bx, by] = towards!;
  const [vx, vy] = [x1 - x0, y1 - y0];
  return [`${ends[0]} ${ax * vy - ay * vx > 0}`, `${ends[1]} ${by * vx - bx * vy > 0}`];
}

/** Which proposals were taken, found by where they lie. */
class StandingCuts {
  private readonly index: Flatbush | null;
  private readonly stands: Uint8Array;

  /** @param reach cuts this near to each other at both sides are the same one. */
  constructor(
    private readonly proposals: readonly Proposal[],
    private readonly reach: number,
  ) {
    this.stands = new Uint8Array(proposals.length);
    this.index = indexOf(
      proposals.map(({ x0, y0, x1, y1 }) => [Math.min(x0, x1), Math.min(y0, y1), Math.max(x0, x1), Math.max(y0, y1)]),
    );
  }

  /** Whether a cut crosses or doubles one that stands. */
  clashes(proposal: Proposal): boolean {
    const { x0, y0, x1, y1 } = proposal;
    const { reach, proposals, stands } = this;
    let isTaken = false;
    this.index?.search(
      Math.min(x0, x1) - reach,
      Math.min(y0, y1) - reach,
      Math.max(x0, x1) + reach,
      Math.max(y0, y1) + reach,
      (other) => {
        isTaken ||= stands[other] === 1 && clash(proposal, proposals[other]!, reach);
        return false;
      },
    );
    return isTaken;
  }

  /** @param cut its place among the proposals. */
  add(cut: number): void {
    this.stands[cut] = 1;
  }
}

/** Finds boxes by where they lie; null where there are none. */
function indexOf(boxes: readonly Box[]): Flatbush | null {
  if (boxes.length === 0) return null;
  const index = new Flatbush(boxes.length);
  for (let k = 0; k < boxes.length; k++) index.add(...boxes[k]!);
  index.finish();
  return index;
}

/** Pieces a curve is looked at by. */
const PIECES = 8;
/** Chords do not cross each other; a curve that crosses another cut goes back to its chord. */
function straightenCrossing(cuts: readonly Cut[]): Cut[] {
  const paths = cuts.map(pathOf);
  const boxes = paths.map(boxOf);
  const index = indexOf(boxes);
  const isStraight = new Uint8Array(cuts.length);
  cuts.forEach(({ curve }, a) => {
    if (curve === null) return;
    index!.search(...boxes[a]!, (b) => {
      if (a !== b && pathsCross(paths[a]!, paths[b]!)) isStraight[a] = isStraight[b] = 1;
      return false;
    });
  });
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

function clash(a: Proposal, b: Proposal, reach: number): boolean {
  return cross(a, b) || same(a, b, reach);
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
