/** What speaks for a closure. An `outline` runs out into the paper and is closed by a chord, however wide. */
export type GapKind = 'ends' | 'line' | 'edge' | 'neck' | 'outline' | 'hand';

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
  /** What speaks for it, one number for each of `STROKE_FEATURES`. */
  readonly strokeFeatures: readonly number[];
  /** The key of the chord it is a part of, where closures drawn by hand divide one: its ruling is that of each part. */
  readonly partOf?: string;
}
