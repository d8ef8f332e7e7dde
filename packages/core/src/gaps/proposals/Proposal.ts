import type { GapKind } from '../../model/Cut.ts';

/** A cut as it is proposed, in px of the grid it was found on. */
export interface Proposal {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
  readonly kind: GapKind;
  /** Loose ends at both sides, -1 for none. */
  readonly ends: readonly [number, number];
  /** Unit directions in which the strokes at both sides end; null where only one ends. */
  readonly towards: readonly [number, number, number, number] | null;
  /** Lower is taken first; in px of the grid, quantised. */
  readonly cost: number;
}

/** Costs are compared in steps of 1/256 px, so that no last bit decides. */
export function quantised(cost: number): number {
  return Math.round(cost * 256);
}
