import { DEFAULT_PREP, NO_GAPS_PREP, surveyPage } from '@jumble/core';
import type { Row } from '../printTable.ts';
import { generateBars, generatePatch, PATCH_KINDS } from './generatePatch.ts';

const PATCHES_A_KIND = 12;
const FIRST_SEED = 901;
/** Outside and inside of the shape that the patch is drawn in. */
const INTENDED = 2;

/** How many regions a patch of texture adds to the shape it lies in, or takes from it. */
export async function measureTexture(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const kind of PATCH_KINDS) {
    let added = 0;
    for (let seed = FIRST_SEED; seed < FIRST_SEED + PATCHES_A_KIND; seed++) {
      const { ink } = await generatePatch(kind, seed);
      added += Math.abs(surveyPage(ink, DEFAULT_PREP).regions.count - INTENDED);
    }
    rows.push({
      what: `a patch of ${kind}: regions added or lost`,
      value: added / PATCHES_A_KIND,
      unit: '',
      target: { most: 0.5 },
    });
  }
  let lost = 0;
  for (let seed = FIRST_SEED; seed < FIRST_SEED + PATCHES_A_KIND; seed++) {
    const { ink, shut } = await generateBars(seed);
    lost += Math.abs(surveyPage(ink, DEFAULT_PREP).regions.count - surveyPage(shut, NO_GAPS_PREP).regions.count);
  }
  rows.push({
    what: 'a shape divided by lines side by side: regions added or lost',
    value: lost / PATCHES_A_KIND,
    unit: '',
    target: { most: 0.5 },
  });
  return rows;
}
