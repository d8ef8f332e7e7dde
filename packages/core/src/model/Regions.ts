import type { Cut } from './Cut.ts';
import type { Ruling } from './Ruling.ts';

/** What a flatter gives parts to: cells, with the crumbs they adopted. */
export interface Regions {
  readonly count: number;
  /** Paper pixels, crumbs included. */
  readonly areaPx: Uint32Array;
  /** `[x0, y0, x1, y1]` each, the last two exclusive, crumbs included. */
  readonly box: Int32Array;
  /** Pixel index of a point deep inside. */
  readonly anchor: Int32Array;
  /** 1 where a pixel of the region lies on the page's edge. */
  readonly touchesEdge: Uint8Array;
  /** Region of each cell. */
  readonly ofCell: Int32Array;
  readonly crumbs: { readonly count: number; readonly areaPx: number };
}

/** A cut with what came of it; what spoke for it is weighed. */
export interface Closure extends Omit<Cut, 'strokeFeatures'> {
  /** `x,y-x,y`: what a ruling on it is kept under. */
  readonly key: string;
  /** 0..1: how likely it parts two shapes. */
  readonly confidence: number;
  readonly ruling: Ruling | null;
  /** Whether it bounds regions now. */
  readonly accepted: boolean;
  /** Area of the cells on both sides, joined as they are, in px; the same region twice where it parts nothing. */
  readonly separatesPx: readonly [number, number];
  /** Regions on both sides, the lower first. */
  readonly regions: readonly [number, number];
}
