import { GUIDE_FEATURES, guideEvidence, registerGuide } from '@jumble/core';
import { fitLogistic } from '../fitLogistic.ts';
import { range } from '../gaps/lessons.ts';
import { GUIDE_PARTS, guideCases, stagedGuideCases } from './keyCases.ts';

/**
 * Fits the confidence of key proposals on keys nothing is measured with (four minutes):
 * `node --import tsx bench/src/flats/fitKey.ts`.
 */
/** Some of the keys are painted off the colours of the sheet. Of every blur there are as many. */
const OFF_RGB = 4;
const STAGED = [1, 2];
const samples = [
  ...(await guideCases(range(1, 9))),
  ...(await guideCases([10, 11, 12], OFF_RGB)),
  ...(await stagedGuideCases(STAGED, [13, 14, 15])),
].flatMap(({ survey, key, partOfRegion }) => {
  const { place } = registerGuide(survey, key);
  return guideEvidence(survey, key, place, GUIDE_PARTS).map(({ region, part, terms: features }) => ({
    features,
    right: part === partOfRegion[region],
    weight: 1,
  }));
});
const weights = fitLogistic(samples, new Array<number>(GUIDE_FEATURES.length).fill(0), 1);
process.stdout.write(`${samples.length} regions, ${samples.filter((one) => one.right).length} right\n`);
process.stdout.write(`[${weights.map((v) => v.toFixed(2)).join(', ')}]\n`);
