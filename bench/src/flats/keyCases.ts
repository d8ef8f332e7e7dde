import {
  DEFAULT_PREP,
  parseColour,
  surveyPage,
  type GreyRaster,
  type GuidePart,
  type GuideRaster,
  type Survey,
} from '@jumble/core';
import { DEMO_CAST, STEADY_PAGE_COUNT, renderInk, renderStagedPage, renderTruth, truthFills } from '@jumble/demo';
import { makeGuide } from './makeGuide.ts';

/** A page with a key and the part each region was drawn for. */
export interface GuideCase {
  readonly page: number;
  readonly survey: Survey;
  readonly key: GuideRaster;
  readonly partOfRegion: readonly string[];
}

export const GUIDE_PARTS: readonly GuidePart[] = DEMO_CAST.flatMap(({ id: group, parts }) =>
  parts.map((part) => ({ ...part, group })),
).map(({ id, lamplight, group }) => ({
  id,
  group,
  rgb: parseColour(lamplight),
}));

/** Each demo page with some keys. @param offRgb how far they are painted off the sheet's colours. */
export async function guideCases(seeds: readonly number[], offRgb = 0): Promise<GuideCase[]> {
  const cases: GuideCase[] = [];
  for (let page = 1; page <= STEADY_PAGE_COUNT; page++) {
    cases.push(...(await casesOf(page, await renderInk(page), await renderTruth(page), seeds, offRgb)));
  }
  return cases;
}

/** Pages staged by chance with some keys each. @param pages their seeds. */
export async function stagedGuideCases(pages: readonly number[], seeds: readonly number[]): Promise<GuideCase[]> {
  const cases: GuideCase[] = [];
  for (const page of pages) {
    const { ink, truth } = await renderStagedPage(page);
    cases.push(...(await casesOf(page, ink, truth, seeds, 0)));
  }
  return cases;
}

async function casesOf(
  page: number,
  ink: GreyRaster,
  truth: Uint8Array,
  seeds: readonly number[],
  offRgb: number,
): Promise<GuideCase[]> {
  const survey = surveyPage(ink, DEFAULT_PREP);
  const partOfRegion = truthFills(ink, truth, DEFAULT_PREP).fills.map((fill) => fill.part);
  const cases: GuideCase[] = [];
  for (const seed of seeds) {
    const key = await makeGuide(truth, survey.width, survey.height, seed, { blurPx: 0.6 + (seed % 3) * 0.5, offRgb });
    cases.push({ page, survey, key, partOfRegion });
  }
  return cases;
}
