import { type InkGrid, inkDistances } from '../skeleton/InkGrid.ts';
import { findFaintInk } from '../ink/findFaintInk.ts';
import { NO_GAPS_PREP } from '../model/PageDocument.ts';
import type { GreyRaster } from '../raster/GreyRaster.ts';
import { withFaintInk } from '../raster/scanRuns.ts';
import { surveyPage } from '../survey/surveyPage.ts';

/** The ink of a drawing as lines are traced in it at true size: with its faint px marked. */
export function inkGridOf(art: GreyRaster): InkGrid {
  const { inkAlpha } = surveyPage(art, NO_GAPS_PREP);
  const ink = withFaintInk(inkAlpha, findFaintInk(inkAlpha, art.width, art.height));
  return inkDistances(ink, art.width, art.height);
}
