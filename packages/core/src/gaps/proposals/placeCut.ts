import { cosDegrees, sinDegrees } from '../../exact/exactMath.ts';
import type { Cut } from '../../model/Cut.ts';
import type { Proposal } from './Proposal.ts';
import { curveBetween, walkCut } from './cutCurve.ts';
import { NO_STROKE_FEATURES } from './strokeFeatures.ts';

/** Turns of a neck's cut about its middle that are tried for a shorter one, in degrees. */
const TURNS = [0, 5, -5, 10, -10, 15, -15, 20, -20, 25, -25].map(
  (turn) => [cosDegrees(turn), sinDegrees(turn)] as const,
);

/**
 * Carries a proposal from a reduced grid over to the page: from its middle outwards to the first
 * ink on either side.
 *
 * @param factor page px per grid px.
 * @returns the cut without its features, null where the page shows no paper between two pieces of ink there.
 */
export function placeCut(
  proposal: Proposal,
  factor: number,
  ink: Uint8Array,
  width: number,
  height: number,
  limitPx: number,
): Cut | null {
  const onPage = (v: number): number => v * factor + (factor - 1) / 2;
  const [ax, ay] = [onPage(proposal.x0), onPage(proposal.y0)];
  const [bx, by] = [onPage(proposal.x1), onPage(proposal.y1)];
  const length = Math.sqrt((bx - ax) * (bx - ax) + (by - ay) * (by - ay));
  const [ux, uy] = length === 0 ? [1, 0] : [(bx - ax) / length, (by - ay) / length];
  const reach = length / 2 + 3 * factor + 2;
  let best: Cut | null = null;
  const middle = middleOf(ax, ay, bx, by, ink, width, height);
  if (middle !== null) {
    for (const [cos, sin] of TURNS) {
      // A neck's cut is turned to where it is shortest; others only where the straight one misses.
      if (best !== null && proposal.kind !== 'neck') break;
      const [rx, ry] = [ux * cos - uy * sin, ux * sin + uy * cos];
      // What is farther off than the best cut is wide cannot be shorter.
      const far = best === null ? reach : Math.min(reach, best.widthPx + 3);
      const from = firstInk(middle, -rx, -ry, far, ink, width, height);
      if (from === null) continue;
      // Both together are no shorter than the best where the second is longer than this, with three px for rounding.
      const rest = best === null ? far : Math.min(far, best.widthPx + 4 - from.t);
      const to = firstInk(middle, rx, ry, rest, ink, width, height);
      if (to === null || (from.edge && to.edge)) continue;
      const [dx, dy] = [to.x - from.x, to.y - from.y];
      const widthPx = Math.max(1, Math.sqrt(dx * dx + dy * dy) - 1);
      if (widthPx > limitPx || (best !== null && widthPx >= best.widthPx)) continue;
      const kind = from.edge || to.edge ? 'edge' : proposal.kind === 'edge' ? 'line' : proposal.kind;
      best = {
        // What was rounded up to zero is no less than it.
        from: [from.x + 0, from.y + 0],
        to: [to.x + 0, to.y + 0],
        curve: null,
        widthPx,
        kind,
        strokeFeatures: NO_STROKE_FEATURES,
      };
    }
  }
  if (best === null || best.kind === 'edge' || best.kind === 'outline' || proposal.towards === null) return best;
  // The chord where the curve would cross ink.
  const curved = { ...best, curve: curveBetween(best.from, best.to, proposal.towards) };
  return curved.curve !== null && crossesPaperOnly(curved, ink, width, height) ? curved : best;
}

/** Whether a cut passes ink, paper and ink, and nothing else. */
function crossesPaperOnly(cut: Cut, ink: Uint8Array, width: number, height: number): boolean {
  let state = 0;
  let clear = true;
  walkCut(cut, (x, y) => {
    if (x < 0 || y < 0 || x >= width || y >= height) clear = false;
    const inked = ink[y * width + x]! >= 128;
    if (state === 0 && !inked) state = 1;
    else if (state === 1 && inked) state = 2;
    else if (state === 2 && !inked) clear = false;
  });
  return clear;
}

/** The middle of a cut, or, where ink lies on it, the paper of the chord nearest to the middle. */
function middleOf(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  ink: Uint8Array,
  width: number,
  height: number,
): readonly [number, number] | null {
  const steps = Math.max(1, Math.ceil(Math.max(Math.abs(bx - ax), Math.abs(by - ay))));
  for (let k = 0; k <= steps; k++) {
    const t = 0.5 + ((k % 2 === 0 ? 1 : -1) * Math.ceil(k / 2)) / steps;
    if (t < 0 || t > 1) continue;
    const x = ax + (bx - ax) * t;
    const y = ay + (by - ay) * t;
    const [px, py] = [Math.round(x), Math.round(y)];
    if (px >= 0 && py >= 0 && px < width && py < height && ink[py * width + px]! < 128) return [x, y];
  }
  return null;
}

function firstInk(
  [x, y]: readonly [number, number],
  dx: number,
  dy: number,
  reach: number,
  ink: Uint8Array,
  width: number,
  height: number,
): { x: number; y: number; t: number; edge: boolean } | null {
  let lastX = x;
  let lastY = y;
  for (let t = 0.5; t <= reach; t += 0.5) {
    const px = Math.round(x + dx * t);
    const py = Math.round(y + dy * t);
    // Half a step stays on the same px every other time.
    if (px === lastX && py === lastY) continue;
    if (px < 0 || py < 0 || px >= width || py >= height) return { x: lastX, y: lastY, t, edge: true };
    if (ink[py * width + px]! >= 128) return { x: px, y: py, t, edge: false };
    lastX = px;
    lastY = py;
  }
  return null;
}

/** The paper pixels of a cut. */
export function pixelsOfCut(
  cut: Pick<Cut, 'from' | 'to' | 'curve'>,
  ink: Uint8Array,
  width: number,
  visit: (at: number) => void,
): void {
  walkCut(cut, (x, y) => {
    const at = y * width + x;
    if (ink[at]! < 128) visit(at);
  });
}
