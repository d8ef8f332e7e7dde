/** What speaks for a closure. */
export type GapKind = 'ends' | 'line' | 'edge' | 'neck' | 'hand';

/** A possible closure: a cut through paper from ink to ink. */
export interface Cut {
  /** The ink (or page edge) pixels at both sides, in px of the page. */
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
  /** Inner points `[x1, y1, x2, y2]` of a cubic between them; null for a straight cut. */
  readonly curve: readonly [number, number, number, number] | null;
  /** Paper between them along the chord, in px of the page. */
  readonly widthPx: number;
  readonly kind: GapKind;
  /** What speaks for it, one number for each of `SIGNS`. */
  readonly signs: readonly number[];
}

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
