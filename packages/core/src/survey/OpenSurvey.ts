import type { Survey } from '../model/Survey.ts';
import type { Cut } from '../model/Cut.ts';
import type { CutRuns } from '../gaps/cells/cutRuns.ts';
import type { BorderPoints } from '../gaps/borders/findBorderPoints.ts';
import type { FoundCuts } from '../gaps/hatching/FoundCuts.ts';
import type { GreyRaster } from '../raster/GreyRaster.ts';
import type { CellGraph } from '../model/CellGraph.ts';
import type { PaperRuns } from '../raster/scanRuns.ts';

/** What cutting a page anew needs: kept by whoever lets closures be drawn. */
export interface InkBase {
  readonly width: number;
  readonly height: number;
  /** What the ink was read from: level and even. */
  readonly grey: GreyRaster;
  /** What regions end at: bit 7 of each pixel, faint ink as well. */
  readonly inkMask: Uint8Array;
  readonly runs: PaperRuns;
  readonly field: Int32Array;
  readonly found: FoundCuts | null;
  readonly borderPoints: BorderPoints;
  /** As `fullBlocks` has them of the uncut page. */
  readonly blocks: Uint8Array;
  /** Pixels of each cut that was asked for. */
  readonly pixelsOfCuts: WeakMap<Cut, Int32Array>;
  /** The runs as they were parted last, with the graph that came of it. */
  readonly latest: { graph?: CellGraph; runs?: CellRuns };
  /** Median. */
  readonly lineWidthPx: number;
}

/** Runs of the whole page, parted at cuts, and the cell of each. */
export interface CellRuns {
  readonly split: CutRuns;
  readonly cellOf: Int32Array;
}

/** A survey with what it was made from; {@link WorkingPage} cuts it anew. */
export interface OpenSurvey {
  readonly base: InkBase;
  readonly survey: Survey;
}
