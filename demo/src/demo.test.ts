import { beforeAll, describe, expect, test } from '@jest/globals';
import {
  DEFAULT_JOB_TRAP,
  findTrapFaults,
  findTrapInk,
  renderParts,
  trapOfRegions,
  type GreyRaster,
} from '@jumble/core';
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

  test('is trapped without halo and without show-through, whatever the rule', () => {
    const { survey, fills } = truthFills(ink, truth);
    const { field, inkAlpha, regions, width } = survey;
    const partOfRegion = Array<string | null>(regions.count).fill(null);
    for (const { region, part } of fills) partOfRegion[region] = part;
    const ids = [...new Set(fills.map(({ part }) => part))];
    const numbers = Int32Array.from(partOfRegion, (part) => (part === null ? -1 : ids.indexOf(part)));
    const parts = ids.map((id) => ({ id, empty: false }));
    const page = { trap: null, areas: new Map(), panels: null };
    const onPaper: number[] = [];
    for (const rule of [{ rule: 'middle' }, { rule: 'depth', depthPx: 4 }, { rule: 'max', marginPx: 1 }] as const) {
      const trap = trapOfRegions(survey, { job: { ...DEFAULT_JOB_TRAP, rule }, page, parts, partOfRegion, dpi: 300 });
      const trapInk = findTrapInk(survey, trap);
      const { data } = renderParts(survey, numbers, ids.length, trap, trapInk);
      const covered = new Set(trapInk.pinholes?.at);
      let [halo, through, paper] = [0, 0, 0];
      for (let at = 0; at < data.length; at++) {
        if (covered.has(at)) continue;
        const source = field[at]! >= 0 ? at : ~field[at]!;
        const own = numbers[regions.ofCell[field[source]!]!]! + 1;
        if (field[at]! >= 0) {
          if (data[at] !== own) through++;
          paper = (paper * 31 + data[at]!) % 1_000_003;
        } else if (inkAlpha[at]! < 255 && data[at] !== own) halo++;
      }
      onPaper.push(paper);
      expect({ rule, through }).toEqual({ rule, through: 0 });
      if (rule.rule !== 'depth') expect({ rule, halo }).toEqual({ rule, halo: 0 });
      // What a fixed depth leaves is listed, and nothing else is.
      const faults = findTrapFaults(survey, numbers, trap, trapInk);
      expect(faults.some(({ kind }) => kind === 'halo')).toBe(rule.rule === 'depth' && halo > 0);
      expect(faults.every(({ at: [x, y] }) => field[y * width + x]! < 0)).toBe(true);
    }
    // Colours on paper are the same under every rule.
    expect(new Set(onPaper).size).toBe(1);
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
