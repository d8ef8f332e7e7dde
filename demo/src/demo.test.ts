import { beforeAll, describe, expect, test } from '@jest/globals';
import {
  DEFAULT_JOB_TRAP,
  DEFAULT_PREP,
  findTrapFaults,
  findTrapInk,
  renderParts,
  trapOfRegions,
  type GreyRaster,
} from '@jumble/core';
import { DEMO_PARTS } from './castOfDemo.ts';
import type { DeliberateGap } from './Drawing.ts';
import { drawPage, PAGE_COUNT, renderInk, renderStagedPage, renderTruth } from './renderPage.ts';
import { sampleDays, sampleLogbook, type MeasuredPage } from './sampleLogbook.ts';
import { truthDecisions, truthFills } from './truthFills.ts';

/** What each page is to be like: its regions at least and at most, its deliberate gaps, and how much of it is black. */
const PAGES = [
  { number: 1, regions: [250, 800], gapCount: 12, black: [0.05, 0.3] },
  { number: 2, regions: [250, 800], gapCount: 12, black: [0.05, 0.3] },
  { number: 3, regions: [600, 1200], gapCount: 11, black: [0.03, 0.12] },
  { number: 4, regions: [250, 2000], gapCount: 9, black: [0.15, 0.35] },
  { number: 5, regions: [250, 3000], gapCount: 8, black: [0.3, 0.45] },
  { number: 6, regions: [120, 400], gapCount: 9, black: [0.05, 0.2] },
] as const;

describe.each(PAGES)('demo page $number', ({ number, regions: [least, most], gapCount, black: blacks }) => {
  let ink: GreyRaster;
  let truth: Uint8Array;
  let gaps: readonly DeliberateGap[];
  let filled: ReturnType<typeof truthFills>;
  beforeAll(async () => {
    [ink, truth] = await Promise.all([renderInk(number), renderTruth(number)]);
    ({ gaps } = drawPage(number));
    filled = truthFills(ink, truth);
  });

  test('is a 300-dpi page with so much black', () => {
    expect([ink.width, ink.height]).toEqual([2060, 3130]);
    const black = ink.data.reduce((n, tone) => n + (tone < 128 ? 1 : 0), 0) / ink.data.length;
    expect(black).toBeGreaterThan(blacks[0]);
    expect(black).toBeLessThan(blacks[1]);
  });

  test('has its regions, and nearly all of the page is what it was meant to be', () => {
    const { survey, fills } = filled;
    expect(survey.regions.count).toBeGreaterThanOrEqual(least);
    expect(survey.regions.count).toBeLessThanOrEqual(most);
    const right = fills.reduce((sum, fill) => sum + fill.share * survey.regions.areaPx[fill.region]!, 0);
    const all = survey.regions.areaPx.reduce((sum, area) => sum + area, 0);
    // Through the deliberate gaps some regions run together, and on the splash her coat with the paper.
    expect(right / all).toBeGreaterThan(number === 6 ? 0.7 : 0.85);
    // A character recurs in every page: some of her is on it.
    expect(fills.some((fill) => fill.part.startsWith('wren-'))).toBe(true);
  });

  test('has deliberate gaps of known width: paper there, ink where the outline is drawn shut', async () => {
    expect(gaps).toHaveLength(gapCount);
    const shut = await renderInk(number, 1, true);
    for (const { at, widthPx } of gaps) {
      expect(widthPx).toBeGreaterThan(0);
      const spot = Math.round(at[1]) * ink.width + Math.round(at[0]);
      expect({ at, paper: ink.data[spot]! > 240, ink: shut.data[spot]! < 100 }).toEqual({ at, paper: true, ink: true });
    }
  });

  test('is trapped without halo and without show-through, whatever the rule', () => {
    const { survey, fills } = filled;
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
      expect(faults.every(({ at: [x, y] }) => field[y * width + x]! < 0 || covered.has(y * width + x))).toBe(true);
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

describe('the splash', () => {
  test('has a coat that runs out into the paper: its open outline is offered, and parts it from the ground', async () => {
    const [ink, truth] = await Promise.all([renderInk(6), renderTruth(6)]);
    const { survey, fills, rulings } = truthDecisions(ink, truth, DEFAULT_PREP);
    const outlines = survey.closures.filter(({ kind, accepted }) => kind === 'outline' && accepted);
    expect(outlines.length).toBeGreaterThanOrEqual(1);
    expect(outlines.every(({ key }) => rulings.get(key) === 'closed')).toBe(true);
    const coat = fills.filter(({ part }) => part === 'wren-coat');
    const largest = Math.max(...coat.map(({ region }) => survey.regions.areaPx[region]!));
    expect(largest).toBeGreaterThan(300_000);
    expect(coat.every(({ share }) => share > 0.9)).toBe(true);
  });
});

describe('the sample logbook', () => {
  // A Wednesday.
  const now = new Date('2026-12-02T10:00:00Z');
  const page = (id: string, state: MeasuredPage['state'], regions = 400, gaps = 30): MeasuredPage => ({
    ...{ id, number: Number(id), state, regions, gaps },
  });
  const pages = [page('1', 'half flatted'), page('3', 'handed off', 867, 21), page('4', 'in check'), page('5', 'gaps'), page('6', 'fresh', 0, 0)]; // prettier-ignore
  const times = sampleDays(pages, now);

  test('follows from what was measured, lies on working days of the last two weeks, and says what it is', () => {
    const minutes = (id: string): number =>
      times.filter(({ pageId }) => pageId === id).reduce((sum, one) => sum + one.minutes, 0);
    // 24 minutes of any page, 9 of a hundred regions, 3 of ten gaps.
    expect(minutes('3')).toBeCloseTo(24 + 9 * 8.67 + 3 * 2.1, -1);
    expect(minutes('4')).toBeLessThan(minutes('3'));
    expect(minutes('6')).toBe(0);
    for (const { day, note } of times) {
      expect([0, 6]).not.toContain(new Date(day).getUTCDay());
      expect(day >= '2026-11-18' && day < '2026-12-02').toBe(true);
      expect(note).toBe('sample data');
    }
    const stages = (id: string): Set<string> =>
      new Set(times.filter(({ pageId }) => pageId === id).map(({ stage }) => stage));
    expect([...stages('3')]).toEqual(['lineart', 'gaps', 'flats', 'trap', 'check', 'handoff']);
    expect([...stages('5')]).toEqual(['lineart', 'gaps']);
  });

  test('tells of the pages with their figures, in order, and of nothing that is yet to come', () => {
    const entries = sampleLogbook(pages, now);
    expect(entries.map(({ at }) => at)).toEqual(entries.map(({ at }) => at).sort());
    expect(entries.every(({ at, why }) => at < now.toISOString() && why === 'sample data')).toBe(true);
    expect(entries.find(({ pageId }) => pageId === '3')!.what).toBe('Begun; 867 regions, 21 gaps to rule on');
    expect(entries.some(({ pageId }) => pageId === '6')).toBe(false);
  });
});

test('a page that does not exist is refused', () => {
  expect(() => drawPage(PAGE_COUNT + 1)).toThrow(RangeError);
});
