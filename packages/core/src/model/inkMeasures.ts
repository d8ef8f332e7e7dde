/** Line width of a page in px; all zero where there is no line. */
export interface LineWidth {
  readonly median: number;
  readonly p10: number;
  readonly p90: number;
}

/** The grey values that become full ink and clean paper. */
export interface InkPoints {
  /** At or below this grey a pixel is solid ink, 0..254. */
  readonly blackPoint: number;
  /** At or above this grey a pixel is paper, 1..255, above `blackPoint`. */
  readonly whitePoint: number;
}

/** The paper of a page as it came, by tiles. */
export interface PaperTone {
  /** Side of a tile, in px. */
  readonly tilePx: number;
  readonly columns: number;
  readonly rows: number;
  /** Grey of the bare paper in each tile. */
  readonly tone: Uint8Array;
  /** Grey of the paper on most of the page. */
  readonly median: number;
  /** Between the darkest and the brightest twentieth of the tiles, in greys. */
  readonly spread: number;
  /** How much single paper pixels differ from their surroundings, in greys (standard deviation). */
  readonly noise: number;
}

/** Strokes that are printed but do not bound regions. */
export interface DetailRule {
  /** Strokes thinner than this, in px; 0 for none. */
  readonly thinnerThanPx: number;
  /** Strokes of their own shorter than this, in px; 0 for none. */
  readonly shorterThanPx: number;
}
