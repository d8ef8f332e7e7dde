/** What the graph knows of each cell. */
export interface CellFacts {
  readonly count: number;
  readonly areaPx: Uint32Array;
  /** Largest distance to ink inside, in px. */
  readonly radiusPx: Float64Array;
  /** Length of inked border to other cells, in px. */
  readonly wallsPx: Float64Array;
}

/** Two cells with the openings between them, as columns; the lower cell is `a`. */
export interface CellPairs {
  readonly count: number;
  readonly a: Int32Array;
  readonly b: Int32Array;
  /** Length of border between them that is inked, in px. */
  readonly inkedPx: Float64Array;
  /** Pair of each cut, -1 for a cut that parts nothing. */
  readonly ofCut: Int32Array;
}

/** How a cut is to be taken. */
export type Ruling = 'closed' | 'open';
/** Of each cut; undefined, or none at all, where nobody has ruled. */
export type Rulings = readonly (Ruling | undefined)[];
