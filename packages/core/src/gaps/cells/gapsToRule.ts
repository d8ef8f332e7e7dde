import type { Closure } from '../../model/Regions.ts';
import { BOUNDS_FROM, SURE_FROM } from './rateOpening.ts';

/** Keys of closures that stand to be ruled on, those with most at stake first. */
export function gapsToRule(closures: readonly Closure[]): string[] {
  return closures
    .filter(
      (one) =>
        one.ruling === null &&
        one.kind !== 'hand' &&
        one.confidence >= BOUNDS_FROM &&
        // Where an outline runs out into the paper, it is for the flatter to say that it ends there.
        (one.confidence < SURE_FROM || one.kind === 'outline') &&
        one.accepted,
    )
    .sort((a, b) => Math.min(...b.separatesPx) - Math.min(...a.separatesPx) || (a.key < b.key ? -1 : 1))
    .map((one) => one.key);
}
