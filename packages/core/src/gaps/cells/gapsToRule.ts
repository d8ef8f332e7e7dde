import type { Closure } from '../../model/Regions.ts';
import { BOUNDS_FROM, SURE_FROM } from './rateOpening.ts';

/** Where an outline runs out into the paper, it is for the flatter to say that it ends there, from this confidence on. */
const OUTLINES_FROM = 0.25;

/** Keys of closures that stand to be ruled on, those with most at stake first. */
export function gapsToRule(closures: readonly Closure[]): string[] {
  return closures
    .filter((one) => one.ruling === null && isDoubtful(one))
    .sort((a, b) => Math.min(...b.separatesPx) - Math.min(...a.separatesPx) || (a.key < b.key ? -1 : 1))
    .map((one) => one.key);
}

function isDoubtful({ kind, confidence, accepted }: Closure): boolean {
  // One that is likely enough and bounds nothing parts nothing: closing it would change nothing.
  if (kind === 'outline') return accepted || (confidence >= OUTLINES_FROM && confidence < BOUNDS_FROM);
  return kind !== 'hand' && confidence >= BOUNDS_FROM && confidence < SURE_FROM && accepted;
}
