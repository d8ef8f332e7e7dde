import { cubicOfCut, cutOfKey, pointOfCut, type Closure } from '@jumble/core';
import { CLOSURE_NUMBERS, STROKE } from '../../engine/messages.ts';

/** A closure less likely than this is not shown unless someone ruled on it. */
const SHOWN_FROM = 0.1;

/** Closures as they are drawn and pointed at. */
export function shownClosures(closures: readonly Closure[]): readonly Closure[] {
  return closures.filter(
    (one) => one.kind === 'hand' || one.accepted || one.ruling !== null || one.confidence >= SHOWN_FROM,
  );
}

/** Closures as the drawing worker takes them: a cubic and a stroke each. */
export function strokesOf(shown: readonly Closure[]): Float32Array {
  const closures = new Float32Array(shown.length * CLOSURE_NUMBERS);
  shown.forEach((one, k) => {
    const stroke =
      one.kind === 'hand'
        ? STROKE.hand
        : one.accepted
          ? STROKE.closed
          : one.ruling === 'open'
            ? STROKE.ruledOpen
            : STROKE.proposed;
    closures.set([...cubicOfCut(one), stroke], k * CLOSURE_NUMBERS);
  });
  return closures;
}

/** The closure nearest to a page point within a reach, in page px. */
export function closureNear(closures: readonly Closure[], x: number, y: number, reachPx: number): Closure | null {
  let best = reachPx * reachPx;
  let found: Closure | null = null;
  for (const closure of closures) {
    const pieces = closure.curve === null ? 1 : 6;
    let [ax, ay] = closure.from;
    for (let piece = 1; piece <= pieces; piece++) {
      const [bx, by] = pointOfCut(closure, piece / pieces);
      const length2 = (bx - ax) ** 2 + (by - ay) ** 2 || 1;
      const t = Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length2));
      const d = (x - ax - (bx - ax) * t) ** 2 + (y - ay - (by - ay) * t) ** 2;
      if (d < best) {
        best = d;
        found = closure;
      }
      [ax, ay] = [bx, by];
    }
  }
  return found;
}

/** One end of a closure that was drawn by hand. */
export interface ClosureEnd {
  readonly key: string;
  readonly end: 'from' | 'to';
}

/** The end that lies nearest to a point within a reach, in page px. @param drawn keys of closures drawn by hand. */
export function endNear(drawn: readonly string[], x: number, y: number, reachPx: number): ClosureEnd | null {
  let best = reachPx * reachPx;
  let found: ClosureEnd | null = null;
  for (const key of drawn) {
    const cut = cutOfKey(key);
    for (const end of ['from', 'to'] as const) {
      const d = (cut[end][0] - x) ** 2 + (cut[end][1] - y) ** 2;
      if (d > best) continue;
      best = d;
      found = { key, end };
    }
  }
  return found;
}
