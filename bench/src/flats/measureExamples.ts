import {
  DEFAULT_PREP,
  describeRegions,
  findPanels,
  openSurvey,
  proposeFromExamples,
  type ExamplePage,
} from '@jumble/core';
import { PAGE_COUNT, renderInk, renderTruth, truthFills } from '@jumble/demo';
import type { Row } from '../printTable.ts';

/** Proposals for each demo page from the others: how many are right, and whether confidence is worth its name. */
export async function measureExamples(): Promise<Row[]> {
  const pages: ExamplePage[] = [];
  for (let page = 1; page <= PAGE_COUNT; page++) {
    const [ink, truth] = [await renderInk(page), await renderTruth(page)];
    const open = openSurvey(ink, DEFAULT_PREP);
    const { inkAlpha, width, height } = open.survey;
    const parts = truthFills(ink, truth, DEFAULT_PREP).fills.map((fill) => fill.part);
    pages.push({ traits: describeRegions(open, findPanels(inkAlpha, width, height)), parts });
  }
  const bands = Array.from({ length: 5 }, () => ({ count: 0, right: 0, sum: 0 }));
  for (const page of pages) {
    const others = pages.filter((one) => one !== page);
    for (const { region, part, confidence } of proposeFromExamples(page.traits, () => true, others)) {
      const band = bands[Math.min(4, Math.floor(confidence * 5))]!;
      band.count++;
      band.sum += confidence;
      if (part === page.parts[region]) band.right++;
    }
  }
  const count = bands.reduce((sum, band) => sum + band.count, 0);
  const rows: Row[] = [
    {
      what: 'from done pages: proposals right',
      value: bands.reduce((sum, band) => sum + band.right, 0) / count,
      unit: '',
      note: `${count} regions, each page from the ${PAGE_COUNT - 1} other; calibrated on the same pages`,
    },
  ];
  bands.forEach(({ count: n, right, sum }, k) => {
    if (n < 20) return;
    rows.push({
      what: `from done pages, confidence ${(k / 5).toFixed(1)} to ${((k + 1) / 5).toFixed(1)}: off by`,
      value: Math.abs(right / n - sum / n),
      unit: '',
      target: { most: 0.05 },
      note: `${n} regions, ${(right / n).toFixed(2)} right`,
    });
  });
  return rows;
}
