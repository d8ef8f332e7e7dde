import type { Survey } from '../model/Survey.ts';
import { findPinholes } from './findPinholes.ts';
import { markSolids } from './markSolids.ts';
import type { RegionTrap } from './RegionTrap.ts';
import type { TrapInk } from './TrapTable.ts';

/** What of the ink a trap asks for: its pinholes up to the limit, and its solid blacks where these have a rule of their own. */
export function findTrapInk(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'graph' | 'cellCount' | 'lineWidthPx'>,
  { pinholePx2, solidDepthPx }: Pick<RegionTrap, 'pinholePx2' | 'solidDepthPx'>,
): TrapInk {
  return {
    pinholes: pinholePx2 <= 0 ? null : findPinholes(survey, pinholePx2),
    solids: solidDepthPx === null ? null : markSolids(survey),
  };
}
