import { DEFAULT_PREP, parseColour, surveyPage, type KeyPart, type KeyRaster, type Survey } from '@jumble/core';
import { DEMO_CAST, PAGE_COUNT, renderInk, renderTruth, truthFills } from '@jumble/demo';
import { makeKey } from './makeKey.ts';

/** A page with a key and the part each region was drawn for. */
export interface KeyCase {
  readonly page: number;
  readonly survey: Survey;
  readonly key: KeyRaster;
  readonly partOfRegion: readonly string[];
}

export const KEY_PARTS: readonly KeyPart[] = DEMO_CAST.flatMap(({ id: group, parts }) =>
  parts.map((part) => ({ ...part, group })),
).map(({ id, lamplight, group }) => ({
  id,
  group,
  rgb: parseColour(lamplight),
}));

/** Each demo page with some keys. @param offRgb how far they are painted off the sheet's colours. */
export async function keyCases(seeds: readonly number[], offRgb = 0): Promise<KeyCase[]> {
  const cases: KeyCase[] = [];
  for (let page = 1; page <= PAGE_COUNT; page++) {
    const [ink, truth] = [await renderInk(page), await renderTruth(page)];
    const survey = surveyPage(ink, DEFAULT_PREP);
    const partOfRegion = truthFills(ink, truth, DEFAULT_PREP).fills.map((fill) => fill.part);
    for (const seed of seeds) {
      const key = await makeKey(truth, survey.width, survey.height, seed, {
        blurPx: 0.6 + (seed % 3) * 0.5,
        offRgb,
      });
      cases.push({ page, survey, key, partOfRegion });
    }
  }
  return cases;
}
