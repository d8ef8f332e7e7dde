import type { TrapTable } from '../trap/TrapTable.ts';
import type { Survey } from '../model/Survey.ts';
import { type CellPaint, MISSING } from './compose.ts';

/**
 * Turns parts and their colours into the tables that `compose` reads.
 *
 * @param partOfRegion part number of each region, -1 for none.
 * @param colourOfPart RGBA word of each part, 0 for "leave empty".
 */
export function paintOfRegions(
  survey: Pick<Survey, 'regions' | 'cellCount'>,
  partOfRegion: Int32Array,
  colourOfPart: Uint32Array,
  trap: TrapTable,
): CellPaint {
  const { ofCell } = survey.regions;
  const colour = new Uint32Array(survey.cellCount);
  const marks = new Uint8Array(survey.cellCount);
  for (let cell = 0; cell < survey.cellCount; cell++) {
    const part = partOfRegion[ofCell[cell]!]!;
    if (part < 0) marks[cell] = MISSING;
    else colour[cell] = colourOfPart[part]!;
  }
  return { colour, marks, trap };
}
