import type { Cut } from './Cut.ts';
import type { Cells } from '../raster/labelRuns.ts';

/** The inked border of two cells; lengths in px, counted by pixel pairs. */
export interface InkedBorder {
  px: number;
  /** How much of it is ink thinner than the page's lines, and ink of hatching. */
  thinPx: number;
  texturePx: number;
  /** Sums of the ink's widths along it and of their squares, and the least of them, in line widths. */
  widths: number;
  squares: number;
  narrowest: number;
  /** Sum of how many strokes stand in a row with those along it. */
  rows: number;
}

/** All of them by {@link keyOfBorder}; the border of a cell with itself is the thin ink in it. */
export type CellBorders = ReadonlyMap<number, Readonly<InkedBorder>>;

/** Inked borders of thin cells, as columns of {@link InkedBorder}. */
export interface TextureBorders extends Readonly<Record<keyof InkedBorder, Float64Array>> {
  /** Pairs of cells, at least one of them thin, or twice the same cell. The columns may be longer. */
  readonly count: number;
  readonly a: Int32Array;
  readonly b: Int32Array;
}

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

/** What a page is divided by, from its ink alone: cells at all cuts and what stands between them. */
export interface CellGraph {
  readonly cells: Cells;
  readonly facts: CellFacts;
  /** Index of the pixel of each cell that is farthest from ink, -1 where that was not measured. */
  readonly deepest: Int32Array;
  /** Pixel index deep inside each cell. */
  readonly anchor: Int32Array;
  readonly cuts: readonly Cut[];
  /** All inked borders between cells. */
  readonly borders: CellBorders;
  readonly pairs: CellPairs;
  readonly textureBorders: TextureBorders;
  /** 0..1 for each cut: how much of it lies in hatching. */
  readonly texture: Float64Array;
}
