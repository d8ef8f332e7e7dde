import type { Cut } from '../../model/Cut.ts';
import type { InkGrid } from '../../skeleton/InkGrid.ts';
import type { LineWidth } from '../../model/inkMeasures.ts';

/** All cuts worth a ruling, and what was measured on the way. */
export interface FoundCuts {
  readonly cuts: Cut[];
  /** Distances to ink at the size necks were found at. */
  readonly paper: InkGrid;
  /** Page px per px of `paper`. */
  readonly paperFactor: number;
  /** The lines without hatching. */
  readonly lines: LineWidth;
  /** The widest cut looked for, in px of the page. */
  readonly foundToPx: number;
  readonly looseEnds: number;
  /** `[x, y]` of each loose end, in px of the page. */
  readonly endAt: Int32Array;
  /** How much each says that a line stops there, 0..1; ends of hatching say little. */
  readonly endWeight: Float64Array;
  /** As `Texture.mask`, on a grid of `textureWidth` px a row. */
  readonly textureMask: Uint8Array;
  readonly textureWidth: number;
  readonly textureFactor: number;
}

/** Where hatching is. */
export type GapTexture = Pick<FoundCuts, 'textureMask' | 'textureWidth' | 'textureFactor'>;
