import { inkFromGrey } from '../ink/inkFromGrey.ts';
import { findFaintInk } from '../ink/findFaintInk.ts';
import { measureInkPoints, type InkPoints } from '../ink/measureInkPoints.ts';
import { measureLineWidth, type LineWidth } from '../ink/measureLineWidth.ts';
import type { Prep } from '../page/PageDocument.ts';
import { checkGreyRaster, type GreyRaster } from '../raster/GreyRaster.ts';
import { adoptCrumbs } from '../regions/adoptCrumbs.ts';
import { buildRegions, type Regions } from '../regions/buildRegions.ts';
import { findAnchors } from '../regions/findAnchors.ts';
import { labelRuns } from '../regions/labelRuns.ts';
import { paintCells } from '../regions/paintCells.ts';
import { scanRuns } from '../regions/scanRuns.ts';
import { spreadIntoInk } from '../trap/spreadIntoInk.ts';

/** Everything about a page that depends on its line art and prep settings alone. */
export interface Survey {
  readonly width: number;
  readonly height: number;
  /** Ink 0..255 a pixel. */
  readonly inkAlpha: Uint8Array;
  /** On paper the cell (>= 0), on ink `~index` of the nearest paper pixel, `NO_PAPER` where there is none. */
  readonly field: Int32Array;
  readonly cellCount: number;
  readonly regions: Regions;
  readonly lineWidthPx: LineWidth;
  readonly inkPoints: InkPoints;
  /** Cells below this area are crumbs. */
  readonly crumbLimitPx2: number;
  readonly paperPx: number;
}

export type SurveyStep = 'ink' | 'label' | 'trap' | 'measure';

export interface SurveyOptions {
  /**
   * Makes the memory of the two page-sized rasters; give shared memory to read them from several threads.
   * @default plain array buffers
   */
  readonly allocate?: (bytes: number) => ArrayBufferLike;
  /** Called when a step is done, in the order ink, label, trap, measure. */
  readonly onStep?: (step: SurveyStep) => void;
}

/**
 * Reads a page: ink, regions, and for each ink pixel where its colour will come from.
 *
 * Cost on line art: about ten passes over the bytes of the page.
 *
 * @throws RangeError for a raster that contradicts itself or exceeds the page limit.
 */
export function surveyPage(grey: GreyRaster, prep: Prep, options: SurveyOptions = {}): Survey {
  checkGreyRaster(grey);
  const { width, height } = grey;
  const pixels = width * height;
  const allocate = options.allocate ?? ((bytes: number) => new ArrayBuffer(bytes));
  const done = options.onStep ?? (() => undefined);

  const inkPoints = prep.inkPoints === 'auto' ? measureInkPoints(grey) : prep.inkPoints;
  const inkAlpha = inkFromGrey(grey, inkPoints, new Uint8Array(allocate(pixels)));
  const faintInk = findFaintInk(inkAlpha, width, height);
  done('ink');

  const runs = scanRuns(inkAlpha, faintInk, width, height);
  const { cells, cellOfRun } = labelRuns(runs, width, height);
  const field = new Int32Array(allocate(pixels * 4));
  paintCells(runs, cellOfRun, width, height, field);
  const cellAnchor = findAnchors(field, runs, cellOfRun, cells.count, width, height);
  done('label');

  spreadIntoInk(field, runs, width, height);
  done('trap');

  const lineWidthPx = measureLineWidth(field, runs, width, height);
  const crumbLimitPx2 =
    prep.crumbLimitPx2 === 'auto' ? Math.floor(lineWidthPx.median * lineWidthPx.median) : prep.crumbLimitPx2;
  const adopter = adoptCrumbs(field, cells, cellAnchor, width, height, crumbLimitPx2);
  const regions = buildRegions(cells, adopter, cellAnchor, width, height);
  let paperPx = 0;
  for (let c = 0; c < cells.count; c++) paperPx += cells.areaPx[c]!;
  done('measure');

  return {
    width,
    height,
    inkAlpha,
    field,
    cellCount: cells.count,
    regions,
    lineWidthPx,
    inkPoints,
    crumbLimitPx2,
    paperPx,
  };
}
