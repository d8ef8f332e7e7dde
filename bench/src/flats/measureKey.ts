import { proposeFromKey, registerKey } from '@jumble/core';
import type { Row } from '../printTable.ts';
import { crowdedPage } from './crowdedPage.ts';
import { KEY_PARTS, keyCases, type KeyCase } from './keyCases.ts';

/** Nobody mixes exactly the colours of the sheet. */
const OFF_RGB = 4;

/** Keys over the demo pages: which regions they get right, and whether their confidence is worth its name. */
export async function measureKey(): Promise<Row[]> {
  const bands = Array.from({ length: 5 }, () => ({ count: 0, right: 0, sum: 0 }));
  let right = 0;
  let regions = 0;
  let slowest = 0;
  let leastMatch = Infinity;
  let mostWrong = 0;
  const cases = await keyCases([21, 22, 23]);
  const offCases = await keyCases([24], OFF_RGB);
  for (const { page, survey, key, partOfRegion } of cases) {
    const started = performance.now();
    const match = registerKey(survey, key);
    const { proposals } = proposeFromKey(survey, key, match.place, KEY_PARTS);
    slowest = Math.max(slowest, performance.now() - started);
    leastMatch = Math.min(leastMatch, match.explained);
    const other = cases.find((one) => one.page !== page);
    if (other !== undefined) mostWrong = Math.max(mostWrong, registerKey(survey, other.key).explained);
    for (const { region, part, confidence } of proposals) {
      const good = part === partOfRegion[region];
      const band = bands[Math.min(4, Math.floor(confidence * 5))]!;
      band.count++;
      band.sum += confidence;
      if (good) {
        band.right++;
        right++;
      }
    }
    regions += survey.regions.count;
  }
  const rightOff = offCases.map(rightShare);
  const crowd = await crowdedPage();
  const crowdStarted = performance.now();
  const crowdRight = rightShare(crowd);
  const crowdMs = performance.now() - crowdStarted;
  const rows: Row[] = [
    {
      what: 'key at a tenth, blurred and shifted: regions right',
      value: right / regions,
      unit: '',
      target: { least: 0.95 },
      note: `${regions} regions with ${cases.length} keys; ${slowest.toFixed(0)} ms at most to lay it and read it`,
    },
    {
      what: 'key painted off the colours of the sheet: regions right',
      value: rightOff.reduce((sum, share) => sum + share, 0) / rightOff.length,
      unit: '',
      note: `by up to ${OFF_RGB} of 255 in each channel`,
    },
    {
      what: 'key of a 26-megapixel page of crowds, laid and read',
      value: crowdMs,
      unit: 'ms',
      target: { most: 1500 },
      note: `${crowd.survey.regions.count} regions, most of them smaller than what the key shows; ${crowdRight.toFixed(2)} right`,
    },
    {
      what: 'key of the page explains at least, that of another at most',
      value: leastMatch - mostWrong,
      unit: '',
      note: `${leastMatch.toFixed(2)} and ${mostWrong.toFixed(2)}`,
    },
  ];
  bands.forEach(({ count, right: good, sum }, k) => {
    if (count < 20) return;
    rows.push({
      what: `key, confidence ${(k / 5).toFixed(1)} to ${((k + 1) / 5).toFixed(1)}: off by`,
      value: Math.abs(good / count - sum / count),
      unit: '',
      target: { most: 0.05 },
      note: `${count} regions, ${(good / count).toFixed(2)} right`,
    });
  });
  return rows;
}

/** The share of regions that get the part they were drawn for. */
function rightShare({ survey, key, partOfRegion }: KeyCase): number {
  const { proposals } = proposeFromKey(survey, key, registerKey(survey, key).place, KEY_PARTS);
  return proposals.filter(({ region, part }) => part === partOfRegion[region]).length / survey.regions.count;
}
