import { beforeAll, describe, expect, test } from '@jest/globals';
import type { GreyRaster } from '@jumble/core';
import { DEMO_PARTS } from './castOfDemo.ts';
import type { DeliberateGap } from './Drawing.ts';
import { drawPage, PAGE_COUNT, renderInk, renderStagedPage, renderTruth } from './renderPage.ts';
import { truthFills } from './truthFills.ts';

const pages = Array.from({ length: PAGE_COUNT }, (_, k) => k + 1);

describe.each(pages)('demo page %i', (number) => {
  let ink: GreyRaster;
  let truth: Uint8Array;
  let gaps: readonly DeliberateGap[];
  beforeAll(async () => {
    [ink, truth] = await Promise.all([renderInk(number), renderTruth(number)]);
    ({ gaps } = drawPage(number));
  });

  test('is a 300-dpi page with 5 to 30% black', () => {
    expect([ink.width, ink.height]).toEqual([2060, 3130]);
    const black = ink.data.reduce((n, tone) => n + (tone < 128 ? 1 : 0), 0) / ink.data.length;
    expect(black).toBeGreaterThan(0.05);
    expect(black).toBeLessThan(0.3);
  });

  test('has 250 to 800 regions, and nearly all of the page is what it was meant to be', () => {
    const { survey, fills } = truthFills(ink, truth);
    expect(survey.regions.count).toBeGreaterThanOrEqual(250);
    expect(survey.regions.count).toBeLessThanOrEqual(800);
    const right = fills.reduce((sum, fill) => sum + fill.share * survey.regions.areaPx[fill.region]!, 0);
    const all = survey.regions.areaPx.reduce((sum, area) => sum + area, 0);
    // Through the deliberate gaps some regions run together, so not all of it.
    expect(right / all).toBeGreaterThan(0.85);
    // A character recurs in every page: her coat is on it.
    expect(fills.some((fill) => fill.part === 'wren-coat')).toBe(true);
  });

  test('has twelve deliberate gaps of known width: paper there, ink where the outline is drawn shut', async () => {
    expect(gaps).toHaveLength(12);
    const shut = await renderInk(number, 1, true);
    for (const { at, widthPx } of gaps) {
      expect(widthPx).toBeGreaterThan(0);
      const spot = Math.round(at[1]) * ink.width + Math.round(at[0]);
      expect({ at, tone: ink.data[spot], ink: shut.data[spot]! < 100 }).toEqual({ at, tone: 255, ink: true });
    }
  });

  test('knows the intended part of every pixel', () => {
    expect(truth).toHaveLength(ink.data.length);
    expect(truth.every((part) => part < DEMO_PARTS.length)).toBe(true);
  });
});

describe('a staged page', () => {
  test('is the same every time, is another for another seed, and is drawn of the same cast', async () => {
    const [one, again, other] = await Promise.all([1, 1, 2].map(renderStagedPage));
    expect(Buffer.compare(Buffer.from(one!.ink.data), Buffer.from(again!.ink.data))).toBe(0);
    const differing = one!.ink.data.filter((tone, at) => Math.abs(tone - other!.ink.data[at]!) > 64).length;
    expect(differing).toBeGreaterThan(one!.ink.data.length / 50);
    const { survey, fills } = truthFills(one!.ink, one!.truth);
    expect(survey.regions.count).toBeGreaterThan(250);
    expect(fills.filter((fill) => fill.part.startsWith('wren-')).length).toBeGreaterThan(10);
    // Nearly every region is all one part.
    expect(fills.filter((fill) => fill.share > 0.95).length).toBeGreaterThan(fills.length * 0.85);
  });
});

test('a page that does not exist is refused', () => {
  expect(() => drawPage(PAGE_COUNT + 1)).toThrow(RangeError);
});
