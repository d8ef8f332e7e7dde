import { type InkGrid, inkDistances } from '../skeleton/InkGrid.ts';
import { findFaintInk } from '../ink/findFaintInk.ts';
import { NO_GAPS_PREP } from '../model/PageDocument.ts';
import type { GreyRaster } from '../raster/GreyRaster.ts';
import { markFaintInk } from '../raster/scanRuns.ts';
import { surveyPage } from '../survey/surveyPage.ts';

/** The ink of a drawing as lines are traced in it at true size: with its faint px marked. */
export function inkGridOf(art: GreyRaster): InkGrid {
  const ink = surveyPage(art, NO_GAPS_PREP).inkAlpha.slice();
  markFaintInk(ink, findFaintInk(ink, art.width, art.height), true);
  return inkDistances(ink, art.width, art.height);
}
