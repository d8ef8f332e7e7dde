import { describe, expect, test } from '@jest/globals';
import { DEFAULT_PREP, NO_GAPS_PREP, surveyPage, type GreyRaster } from '@jumble/core';
import { naiveSurvey } from '../naiveSurvey.ts';
import { quantile } from '../printTable.ts';
import { compileForest, rate } from '@jumble/core/gaps';
import { generateDrawing, STYLES } from './generateDrawing.ts';
import { generateBars, generatePatch, PATCH_KINDS } from './generatePatch.ts';
import { growForest } from './growForest.ts';
import { scoreDivision } from './scoreDivision.ts';
import { distances, trappedBall } from './trappedBall.ts';
import { TruthOfCells, closuresThatPart } from './truthOfCells.ts';

/** Two rooms side by side; the wall between them has an opening or not. */
function rooms(open: boolean): GreyRaster {
  const [width, height] = [200, 120];
  const data = new Uint8Array(width * height).fill(255);
  const bar = (x0: number, y0: number, x1: number, y1: number): void => {
    for (let y = y0; y < y1; y++) data.fill(0, y * width + x0, y * width + x1);
  };
  bar(10, 10, 190, 15);
  bar(10, 105, 190, 110);
  bar(10, 10, 15, 110);
  bar(185, 10, 190, 110);
  bar(98, 10, 103, open ? 56 : 110);
  if (open) bar(98, 62, 103, 110);
  return { width, height, data };
}

describe('the score of a division', () => {
  const shut = surveyPage(rooms(false), NO_GAPS_PREP);

  test('is perfect for the truth itself', () => {
    expect(scoreDivision(shut, shut)).toEqual({ intended: 3, recovered: 1, spurious: 0, accuracy: 1, clicks: 1 });
  });

  test('loses both rooms where colour leaks', () => {
    const leaked = scoreDivision(surveyPage(rooms(true), NO_GAPS_PREP), shut);
    expect(leaked.recovered).toBeCloseTo(1 / 3, 5);
    expect(leaked.accuracy).toBeLessThan(0.8);
    expect(leaked.clicks).toBeLessThan(1);
  });

  test('has them back when the gap is closed', () => {
    const closed = scoreDivision(surveyPage(rooms(true), DEFAULT_PREP), shut);
    expect(closed).toMatchObject({ recovered: 1, spurious: 0 });
    expect(closed.accuracy).toBeGreaterThan(0.999);
  });

  test('knows a closure between two rooms, and which cells were meant to be apart', () => {
    const open = surveyPage(rooms(true), DEFAULT_PREP);
    const parting = closuresThatPart(open, shut);
    const between = open.closures.filter(({ regions: [a, b] }) => a !== b);
    expect(between.length).toBeGreaterThan(0);
    expect(between.every(({ key }) => parting.has(key))).toBe(true);

    const truth = new TruthOfCells(open, shut);
    const [left, right] = [open.field[60 * 200 + 50]!, open.field[60 * 200 + 150]!];
    const corner = open.field[20 * 200 + 20]!;
    expect(truth.areApart(left, right)).toBe(true);
    expect(truth.areApart(left, corner)).toBe(false);
    // Joined, they are where most of them lies: the rooms are as large, the outside is larger.
    truth.join(left, open.field[0]!);
    expect(truth.areApart(left, open.field[0]!)).toBe(false);
    // What was ink of the wall counts for nobody.
    expect(truth.areaOf(right) / open.graph.facts.areaPx[right]!).toBeCloseTo(1, 2);
  });

  test('knows which cells were meant to have the same part', () => {
    const open = surveyPage(rooms(true), DEFAULT_PREP);
    const [left, right] = [open.field[60 * 200 + 50]!, open.field[60 * 200 + 150]!];
    // Both rooms are of one part, the outside is of another.
    const parts = Uint8Array.from(open.field, (_, at) =>
      at % 200 < 10 || at % 200 >= 190 || at < 2000 || at >= 22_000 ? 1 : 2,
    );
    const truth = TruthOfCells.byPart(open, parts);
    expect(truth.areApart(left, right)).toBe(false);
    expect(truth.areApart(left, open.field[60 * 200]!)).toBe(true);
  });
});

describe('generated patches', () => {
  const regions = ({ ink }: { ink: GreyRaster }): number => surveyPage(ink, NO_GAPS_PREP).regions.count;
  const inked = (raster: GreyRaster): number => raster.data.reduce((n, tone) => n + (tone < 128 ? 1 : 0), 0);

  test.each(PATCH_KINDS)(
    'of %s are the same every time, thicker where asked for, and shut without them',
    async (kind) => {
      const [one, two, thick] = await Promise.all([
        generatePatch(kind, 5),
        generatePatch(kind, 5),
        generatePatch(kind, 5, 1.5),
      ]);
      expect(Buffer.compare(Buffer.from(one.ink.data), Buffer.from(two.ink.data))).toBe(0);
      expect(regions({ ink: one.shut })).toBe(2);
      expect(inked(one.ink)).toBeGreaterThan(inked(one.shut));
      if (kind !== 'stipple') expect(inked(thick.ink)).toBeGreaterThan(inked(one.ink));
    },
  );

  test('of lines side by side divide the shape from outline to outline', async () => {
    for (const seed of [1, 2, 3, 4, 5]) expect(regions(await generateBars(seed))).toBeGreaterThan(5);
  });
});

describe('generated drawings', () => {
  test('leave strokes out that something later would cover, and nothing else', async () => {
    const options = { gapWidths: 0, gapShare: 0 };
    const regions = ({ ink }: { ink: GreyRaster }): number => surveyPage(ink, NO_GAPS_PREP).regions.count;
    const added = { left: 0, covered: 0 };
    for (const seed of [342, 343]) {
      const left = await generateDrawing(seed, 'feathered', options);
      const covered = await generateDrawing(seed, 'feathered', { ...options, covering: true });
      expect(Buffer.compare(left.shut.data, covered.shut.data)).toBe(0);
      // What is drawn is drawn alike: where a stroke is left out there is paper or a line behind it.
      const darker = left.ink.data.filter((tone, at) => tone < covered.ink.data[at]!).length;
      const lighter = left.ink.data.filter((tone, at) => tone > covered.ink.data[at]!).length;
      expect(darker).toBeLessThan(lighter / 20);
      const meant = regions({ ink: left.shut });
      added.left += regions(left) - meant;
      added.covered += regions(covered) - meant;
    }
    expect(added.left).toBeLessThan(added.covered);
  });

  test('are as large as the width of their lines asks for, with the same regions', async () => {
    const options = { gapWidths: 0, gapShare: 0 };
    const own = await generateDrawing(5, 'round', options);
    const large = await generateDrawing(5, 'round', { ...options, linePx: 12 });
    expect(own.scale).toBe(1);
    expect(large.ink.width).toBe(Math.round(own.ink.width * large.scale));
    const [before, after] = [own.ink, large.ink].map((ink) => surveyPage(ink, NO_GAPS_PREP));
    expect(after!.lineWidthPx.median / before!.lineWidthPx.median / large.scale).toBeCloseTo(1, 1);
    const scored = scoreDivision(after!, surveyPage(large.shut, NO_GAPS_PREP), large.scale);
    expect(scored.intended).toBe(scoreDivision(before!, surveyPage(own.shut, NO_GAPS_PREP)).intended);
  });

  test.each(STYLES)('of style %s are the same every time, drawn open and shut', async (style) => {
    const options = { gapWidths: 2, gapShare: 1 };
    const [one, two] = await Promise.all([generateDrawing(7, style, options), generateDrawing(7, style, options)]);
    expect(Buffer.compare(Buffer.from(one.ink.data), Buffer.from(two.ink.data))).toBe(0);
    expect(one.gaps.length).toBeGreaterThan(3);
    const inked = (raster: GreyRaster): number => raster.data.reduce((n, tone) => n + (tone < 128 ? 1 : 0), 0);
    // Shut, there is ink in the gaps, but it is not another drawing; what bounds nothing is left away.
    const closed = one.shut.data.filter((value, at) => value < 128 && one.ink.data[at]! >= 128).length;
    expect(closed).toBeGreaterThan(0);
    expect(inked(one.shut)).toBeGreaterThan(inked(one.ink) * 0.5);
    expect(inked(one.shut)).toBeLessThan(inked(one.ink) * 1.25);
  });
});

test('the naive reference and the survey agree on every ink pixel’s distance to paper', () => {
  const art = rooms(true);
  const { labels, nearest } = naiveSurvey(art);
  const survey = surveyPage(art, NO_GAPS_PREP);
  const distance2 = (i: number, j: number): number =>
    ((i % 200) - (j % 200)) ** 2 + (Math.floor(i / 200) - Math.floor(j / 200)) ** 2;
  let differing = 0;
  survey.field.forEach((value, i) => {
    if (value >= 0 !== labels[i]! > 0) differing++;
    else if (value < 0 && distance2(i, ~value) !== distance2(i, nearest[i]!)) differing++;
  });
  expect(differing).toBe(0);
});

test('quantiles are those of the sorted samples', () => {
  const samples = [5, 1, 4, 2, 3, 6, 7, 8, 9, 10];
  expect([quantile(samples, 0.5), quantile(samples, 0.95), quantile(samples, 0.1), quantile([4], 0.95)]).toEqual([
    5, 10, 1, 4,
  ]);
});

describe('the trapped ball', () => {
  test('closes what it does not pass through, and gives every pixel of the paper to a region', () => {
    const found = trappedBall(surveyPage(rooms(true), NO_GAPS_PREP));
    expect(found.field[60 * 200 + 50]).not.toBe(found.field[60 * 200 + 150]);
    expect(scoreDivision(found, surveyPage(rooms(false), NO_GAPS_PREP)).accuracy).toBeGreaterThan(0.99);
    const paper = surveyPage(rooms(true), NO_GAPS_PREP).field;
    expect(found.field.findIndex((label, at) => label >= 0 !== paper[at]! >= 0)).toBe(-1);
  });

  test('measures distances as looking at every pixel does', () => {
    const [width, height] = [23, 17];
    const set = Uint8Array.from({ length: width * height }, (_, k) => ((k * 7919) % 31 === 0 ? 1 : 0));
    const { squared, nearest } = distances(set, width, height);
    const far = (a: number, b: number): number =>
      ((a % width) - (b % width)) ** 2 + (Math.floor(a / width) - Math.floor(b / width)) ** 2;
    for (let at = 0; at < set.length; at++) {
      let least = Infinity;
      set.forEach((one, other) => one === 1 && (least = Math.min(least, far(at, other))));
      expect(squared[at]).toBe(least);
      expect(far(at, nearest[at]!)).toBe(least);
    }
  });
});

describe('a grown forest', () => {
  const samples = Array.from({ length: 4000 }, (_, k) => {
    const [a, b] = [((k * 7919) % 1000) / 1000, ((k * 104_729) % 997) / 997];
    // Neither feature says anything alone.
    return { features: [1, a, b], right: a > 0.5 !== b > 0.5, weight: 1 };
  });

  test('learns what no sum of features can, and is the same every time', () => {
    const rows = growForest(samples, { trees: 40, rate: 0.3, leastInLeaf: 20 });
    const forest = compileForest(rows);
    const good = samples.filter(({ features, right }) => rate(forest, features) > 0 === right).length;
    expect(good / samples.length).toBeGreaterThan(0.95);
    expect(growForest(samples, { trees: 40, rate: 0.3, leastInLeaf: 20 })).toEqual(rows);
  });

  test('of samples that say nothing comes to their share', () => {
    const dull = samples.map((one, k) => ({ ...one, features: [1, 0, 0], right: k % 4 === 0 }));
    const forest = compileForest(growForest(dull, { trees: 5, rate: 0.1, leastInLeaf: 20 }));
    expect(1 / (1 + Math.exp(-rate(forest, [1, 0, 0])))).toBeCloseTo(0.25, 2);
  });
});
