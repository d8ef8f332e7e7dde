import { DEFAULT_PREP } from '@jumble/core';
import { truthFills } from '@jumble/demo';
import { tiledPage } from '../tiledPage.ts';
import type { GuideCase } from './keyCases.ts';
import { makeGuide } from './makeGuide.ts';

/** So many demo pages beside each other: as many regions as a large page of crowds has. */
const ACROSS = 3;

/** A 26-megapixel page of thousands of regions, with a key at a tenth. */
export async function crowdedPage(): Promise<GuideCase> {
  const { ink, truth } = await tiledPage(ACROSS);
  const { survey, fills } = truthFills(ink, truth, DEFAULT_PREP);
  const key = await makeGuide(truth, ink.width, ink.height, 25);
  return { page: 0, survey, key, partOfRegion: fills.map((fill) => fill.part) };
}
