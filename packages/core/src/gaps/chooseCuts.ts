import type { Cut, Proposal } from './Cut.ts';
import { pointOfCut } from './cutCurve.ts';

/** A cut this near to one that stands already, at both sides, is the same one (in line widths). */
const SAME = 1.2;
/** An end that is closed already is not closed again by a cut so many times longer. */
const LONGER = 2;

/**
 * Takes proposals, the cheapest first, that cross none taken before, double none, and do not use an
 * end again that a much shorter cut has closed.
 *
 * @param place carries a proposal over to the page; null for one that does not hold there.
 */
export function chooseCuts(
  proposals: readonly Proposal[],
  lineWidth: number,
  place: (proposal: Proposal) => Cut | null,
): Cut[] {
  const sorted = proposals
    .map((proposal, k) => ({ proposal, k }))
    .sort((a, b) => a.proposal.cost - b.proposal.cost || a.k - b.k);
  const chosen: Cut[] = [];
  const closedBy = new Map<number, number>();
  const cell = Math.max(8, 4 * lineWidth);
  const buckets = new Map<number, Proposal[]>();
  const reach = SAME * lineWidth;
  for (const { proposal } of sorted) {
    const length = lengthOf(proposal);
    const again = proposal.ends.some(
      (end) => end >= 0 && (closedBy.get(end) ?? Infinity) * LONGER + lineWidth < length,
    );
    if (again) continue;
    // What an end is closed with once, a cut to a mere line or neck need not close again.
    if (proposal.kind === 'line' && closedBy.has(proposal.ends[0])) continue;
    const places = placesOf(proposal, cell);
    if (clashes(buckets, proposal, places, reach)) continue;
    const cut = place(proposal);
    if (cut === null) continue;
    chosen.push(cut);
    for (const end of proposal.ends) if (end >= 0 && !closedBy.has(end)) closedBy.set(end, length);
    for (const place of places) {
      const held = buckets.get(place);
      if (held === undefined) buckets.set(place, [proposal]);
      else held.push(proposal);
    }
  }
  return straightenCrossing(chosen);
}

/** The buckets a cut passes, by points a bucket apart: cuts that cross pass buckets that touch. */
function placesOf(cut: Proposal, cell: number): number[] {
  const steps = Math.ceil(Math.max(Math.abs(cut.x1 - cut.x0), Math.abs(cut.y1 - cut.y0)) / cell);
  const places: number[] = [];
  for (let k = 0; k <= steps; k++) {
    const t = steps === 0 ? 0 : k / steps;
    const bx = Math.floor((cut.x0 + (cut.x1 - cut.x0) * t) / cell);
    const by = Math.floor((cut.y0 + (cut.y1 - cut.y0) * t) / cell);
    const place = by * BUCKET_ROW + bx;
    if (place !== places.at(-1)) places.push(place);
  }
  return places;
}

/** Whether a cut crosses or doubles one that stands in the buckets it passes, or beside them. */
function clashes(
  buckets: ReadonlyMap<number, readonly Proposal[]>,
  proposal: Proposal,
  places: readonly number[],
  reach: number,
): boolean {
  for (const middle of places) {
    for (let row = middle - BUCKET_ROW; row <= middle + BUCKET_ROW; row += BUCKET_ROW) {
      for (let place = row - 1; place <= row + 1; place++) {
        const held = buckets.get(place);
        if (held === undefined) continue;
        for (const other of held) if (cross(proposal, other) || same(proposal, other, reach)) return true;
      }
    }
  }
  return false;
}

/** Pieces a curve is looked at by. */
const PIECES = 8;

/** Chords do not cross each other; a curve that crosses another cut goes back to its chord. */
function straightenCrossing(cuts: readonly Cut[]): Cut[] {
  const paths = cuts.map((cut) => {
    const points =
      cut.curve === null
        ? [cut.from, cut.to]
        : Array.from({ length: PIECES + 1 }, (_, k) => pointOfCut(cut, k / PIECES).slice(0, 2) as [number, number]);
    let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
    for (const [x, y] of points) {
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y);
    }
    return { points, left, top, right, bottom };
  });
  const order = paths.map((_, k) => k).sort((a, b) => paths[a]!.left - paths[b]!.left || a - b);
  const isStraight = new Uint8Array(cuts.length);
  order.forEach((a, i) => {
    for (let j = i + 1; j < order.length; j++) {
      const b = order[j]!;
      const [one, two] = [paths[a]!, paths[b]!];
      if (two.left > one.right) break;
      if (two.top > one.bottom || one.top > two.bottom) continue;
      if (cuts[a]!.curve === null && cuts[b]!.curve === null) continue;
      if (pathsCross(one.points, two.points)) isStraight[a] = isStraight[b] = 1;
    }
  });
  return cuts.map((cut, k) => (isStraight[k] === 1 && cut.curve !== null ? { ...cut, curve: null } : cut));
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

/** More buckets than a row can have. */
const BUCKET_ROW = 1 << 16;

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
