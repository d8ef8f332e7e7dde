import { NO_GAPS_PREP, surveyPage, type GreyRaster, type Prep, type Survey } from '@jumble/core';
import { DEMO_PARTS } from './castOfDemo.ts';

/** A region with the part it was drawn for. */
export interface TrueFill {
  readonly region: number;
  readonly x: number;
  readonly y: number;
  readonly part: string;
  /** Share of the region's paper that was meant for this part; lower where colour leaks through a gap. */
  readonly share: number;
}

/** What each region of a page was meant to be: the part of most of its paper. */
export function truthFills(
  grey: GreyRaster,
  truth: Uint8Array,
  prep: Prep = NO_GAPS_PREP,
): { survey: Survey; fills: TrueFill[] } {
  const survey = surveyPage(grey, prep);
  const { regions, field, width } = survey;
  const votes = new Uint32Array(regions.count * DEMO_PARTS.length);
  for (let i = 0; i < field.length; i++) {
    const cell = field[i]!;
    if (cell >= 0) votes[regions.ofCell[cell]! * DEMO_PARTS.length + truth[i]!]!++;
  }
  const fills = Array.from({ length: regions.count }, (_, region): TrueFill => {
    const row = votes.subarray(region * DEMO_PARTS.length, (region + 1) * DEMO_PARTS.length);
    let best = 0;
    row.forEach((count, part) => {
      if (count > row[best]!) best = part;
    });
    const at = regions.anchor[region]!;
    return {
      region,
      x: at % width,
      y: Math.floor(at / width),
      part: DEMO_PARTS[best]!.id,
      share: row[best]! / regions.areaPx[region]!,
    };
  });
  return { survey, fills };
}
