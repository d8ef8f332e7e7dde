import { describe, expect, test } from '@jest/globals';
import { fillsAcrossClosures, fillsAfterDivision } from '../fills/fillsAfterDivision.ts';
import { regionAt } from '../fills/assignRegions.ts';
import { resolveFills } from '../fills/resolveFills.ts';
import { applyEdits } from '../page/records.ts';
import { readPageDocument } from '../page/readPageDocument.ts';
import { editFill } from '../page/pageEdits.ts';
import { DEFAULT_PREP, type Fill, NO_GAPS_PREP } from '../model/PageDocument.ts';
import { openSurvey, surveyPage } from '../survey/surveyPage.ts';
import { ruleSurvey } from '../survey/WorkingPage.ts';
import type { Survey } from '../model/Survey.ts';
import { inkGridOf } from '../tests/inkGrid.ts';
import { randomArt, roomWithGap, seeded, strokes } from '../tests/textGrid.ts';
import { cutRuns } from './cells/cutRuns.ts';
import { paperDistances } from '../skeleton/InkGrid.ts';
import { neighbourhood, thinInk } from '../skeleton/thinInk.ts';
import { UNREACHED, floodFrom } from './leak/floodFrom.ts';
import { snapToInk, traceLeak } from './leak/traceLeak.ts';

const INSIDE = [150, 150] as const;
const OUTSIDE = [20, 20] as const;
const apart = (
  survey: Survey,
  a: readonly [number, number] = INSIDE,
  b: readonly [number, number] = OUTSIDE,
): boolean => regionAt(survey, a[0], a[1]) !== regionAt(survey, b[0], b[1]);
const tablesOf = ({ regions, closures }: Survey): unknown => [
  regions.count,
  [...regions.areaPx],
  [...regions.anchor],
  closures.map(({ key, confidence, accepted }) => [key, confidence, accepted]),
];

describe('a gap in an outline', () => {
  test.each([3, 6, 12, 24])('of %i px at a line of 6 px is closed, measured, and sure', (gapPx) => {
    const survey = surveyPage(roomWithGap(gapPx), DEFAULT_PREP);
    expect(apart(survey)).toBe(true);
    const [closure] = survey.closures.filter((one) => one.accepted);
    expect(Math.abs(closure!.widthPx - gapPx)).toBeLessThanOrEqual(1.5);
    expect(closure!.confidence).toBeGreaterThan(0.7);
    const [x, y] = [(closure!.from[0] + closure!.to[0]) / 2, (closure!.from[1] + closure!.to[1]) / 2];
    expect(Math.abs(x - 240) + Math.abs(y - 150)).toBeLessThanOrEqual(4);
    expect([...closure!.separatesPx].sort((a, b) => a - b)[0]).toBeGreaterThan(170 * 170);
  });

  test('wider than the largest gap to close stays open', () => {
    expect(apart(surveyPage(roomWithGap(24), { ...DEFAULT_PREP, maxGapPx: 20 }))).toBe(false);
    expect(apart(surveyPage(roomWithGap(24), { ...DEFAULT_PREP, maxGapPx: 30 }))).toBe(true);
    expect(surveyPage(roomWithGap(3), NO_GAPS_PREP).closures).toEqual([]);
  });

  test('ruled open is open, ruled closed again is closed', () => {
    const survey = surveyPage(roomWithGap(12), DEFAULT_PREP);
    const key = survey.closures.find((one) => one.accepted)!.key;
    const open = ruleSurvey(survey, survey.maxGapPx, new Map([[key, 'open']]));
    expect(apart(open)).toBe(false);
    expect(open.closures.find((one) => one.key === key)).toMatchObject({ accepted: false, ruling: 'open' });
    expect(apart(ruleSurvey(survey, survey.maxGapPx, new Map([[key, 'closed']])))).toBe(true);
  });

  test('where a line stops short of another is closed to it', () => {
    const room = [
      [40, 40, 260, 40],
      [260, 40, 260, 260],
      [260, 260, 40, 260],
      [40, 260, 40, 40],
    ] as const;
    const art = strokes(300, 300, 6, [...room, [40, 150, 245, 150]]);
    expect(apart(surveyPage(art, DEFAULT_PREP), [150, 100], [150, 200])).toBe(true);
    expect(apart(surveyPage(art, NO_GAPS_PREP), [150, 100], [150, 200])).toBe(false);
  });

  test('at the edge of the page is closed to it', () => {
    const art = strokes(200, 200, 6, [
      [0, 60, 140, 60],
      [140, 60, 140, 190],
    ]);
    expect(apart(surveyPage(art, DEFAULT_PREP), [60, 130], [180, 30])).toBe(true);
  });
});

describe('what is no gap', () => {
  test('a patch of hatching adds no region', () => {
    const lines = Array.from({ length: 12 }, (_, k) => [60 + k * 14, 80, 60 + k * 14, 220] as const);
    const survey = surveyPage(strokes(300, 300, 4, lines), DEFAULT_PREP);
    expect(survey.regions.count).toBe(1);
  });

  test.each<[string, ReturnType<typeof strokes>]>([
    ['an empty page', strokes(100, 100, 4, [])],
    ['a page of ink', { width: 100, height: 100, data: new Uint8Array(10_000) }],
    ['a single dot', strokes(100, 100, 6, [[50, 50, 54, 50]])],
    ['a scrap of one pixel', { width: 1, height: 1, data: Uint8Array.of(255) }],
  ])('%s has none', (_name, art) => {
    const survey = surveyPage(art, DEFAULT_PREP);
    expect(survey.closures.filter((one) => one.accepted)).toEqual([]);
    expect(survey.regions.count).toBeLessThanOrEqual(1);
  });
});

describe('regions at cuts', () => {
  test.each([1, 2, 3, 4, 5, 6])('hold every paper pixel once, whatever is ruled (drawing %i)', (seed) => {
    const art = randomArt(seed, 220, 180);
    const survey = surveyPage(art, DEFAULT_PREP);
    const random = seeded(seed);
    const rulings = new Map(
      survey.closures.flatMap((one) =>
        random() < 0.4 ? [[one.key, random() < 0.5 ? 'open' : 'closed'] as const] : [],
      ),
    );
    for (const each of [survey, ruleSurvey(survey, survey.maxGapPx, rulings)]) {
      const counted = new Uint32Array(each.regions.count);
      each.field.forEach((cell) => {
        if (cell >= 0) counted[each.regions.ofCell[cell]!]!++;
      });
      expect([...counted]).toEqual([...each.regions.areaPx]);
      each.regions.anchor.forEach((at, region) => expect(each.regions.ofCell[each.field[at]!]).toBe(region));
    }
    // Ruling later is the same as having ruled before.
    expect(tablesOf(ruleSurvey(survey, survey.maxGapPx, rulings))).toEqual(
      tablesOf(surveyPage(art, DEFAULT_PREP, { rulings })),
    );
  });

  test('a closure drawn by hand parts a region; taken away, all is as before', () => {
    const art = strokes(300, 200, 6, [
      [20, 20, 280, 20],
      [280, 20, 280, 180],
      [280, 180, 20, 180],
      [20, 180, 20, 20],
    ]);
    const first = openSurvey(art, DEFAULT_PREP);
    const before = tablesOf(first.survey);
    const key = '150,20-150,180';
    first.cut([key], first.survey.maxGapPx, new Map());
    expect(apart(first.survey, [80, 100], [220, 100])).toBe(true);
    expect(tablesOf(first.survey)).toEqual(tablesOf(surveyPage(art, DEFAULT_PREP, { drawn: [key] })));
    first.cut([], first.survey.maxGapPx, new Map());
    expect(tablesOf(first.survey)).toEqual(before);
  });

  test('splitting runs keeps every pixel, each once', () => {
    const runs = { count: 2, start: Int32Array.of(2, 0), end: Int32Array.of(9, 4), row: Int32Array.of(0, 1, 2) };
    const split = cutRuns(runs, Int32Array.of(5, 13, 4, 10), 10, 2);
    const pieces = Array.from({ length: split.count }, (_, k) => [split.start[k], split.end[k], split.onCut[k]]);
    expect(pieces).toEqual([
      [2, 4, 0],
      [4, 6, 1],
      [6, 9, 0],
      [0, 1, 1],
      [1, 3, 0],
      [3, 4, 1],
    ]);
    expect([...split.row]).toEqual([0, 3, 6]);
  });
});

describe('fills', () => {
  const given = (at: readonly [number, number]): ReadonlyMap<string, Fill> =>
    new Map([[`${at[0]},${at[1]}`, { part: 'coat', anchors: [[...at]], stamp: 0 }]]);
  const apply = (fills: ReadonlyMap<string, Fill>, edits: ReturnType<typeof fillsAfterDivision>) => {
    const records = applyEdits(
      new Map(),
      [...fills].map(([key, fill]) => editFill(key, fill)),
    ).records;
    return readPageDocument(applyEdits(records, edits).records).fills;
  };

  test('stay in both pieces when a gap is closed after all', () => {
    const survey = surveyPage(roomWithGap(12), DEFAULT_PREP);
    const key = survey.closures.find((one) => one.accepted)!.key;
    const open = ruleSurvey(survey, survey.maxGapPx, new Map([[key, 'open']]));
    const fills = given(INSIDE);
    const before = resolveFills(open, fills, (part) => part);
    const edits = fillsAfterDivision(before, survey, fills, (at) => open.regions.ofCell[open.field[at]!]!);
    const after = resolveFills(survey, apply(fills, edits), (part) => part);
    expect(after.partOfRegion[regionAt(survey, ...INSIDE)!]).toBe('coat');
    expect(after.partOfRegion[regionAt(survey, ...OUTSIDE)!]).toBe('coat');
  });

  test('stay in both pieces when a closure is drawn', () => {
    const art = strokes(300, 200, 6, [
      [20, 20, 280, 20],
      [280, 20, 280, 180],
      [280, 180, 20, 180],
      [20, 180, 20, 20],
    ]);
    const key = '150,20-150,180';
    const survey = surveyPage(art, DEFAULT_PREP, { drawn: [key] });
    const fills = given([80, 100]);
    const after = resolveFills(
      survey,
      apply(fills, fillsAcrossClosures(survey, new Set([key]), fills)),
      (part) => part,
    );
    expect(after.partOfRegion[regionAt(survey, 220, 100)!]).toBe('coat');
  });
});

describe('a leak', () => {
  test('is traced through its narrowest place, and closed there', () => {
    const survey = surveyPage(roomWithGap(14), NO_GAPS_PREP);
    const paper = paperDistances(survey.inkAlpha, survey.width, survey.height);
    const leak = traceLeak(survey, paper, 1, INSIDE, OUTSIDE)!;
    expect(Math.abs(leak.narrowest[0] - 240)).toBeLessThanOrEqual(5);
    expect(Math.abs(leak.widthPx - 14)).toBeLessThanOrEqual(2);
    const { from, to } = leak.cut!;
    const closed = surveyPage(roomWithGap(14), NO_GAPS_PREP, { drawn: [`${from.join()}-${to.join()}`] });
    expect(apart(closed)).toBe(true);
    // The way goes from the one to the other, over paper alone.
    for (let k = 0; k < leak.path.length; k += 2)
      expect(survey.field[leak.path[k + 1]! * 300 + leak.path[k]!]).toBeGreaterThanOrEqual(0);
  });

  test('is none between places that are apart, or on ink', () => {
    const survey = surveyPage(roomWithGap(0), NO_GAPS_PREP);
    const paper = paperDistances(survey.inkAlpha, survey.width, survey.height);
    expect(traceLeak(survey, paper, 1, INSIDE, OUTSIDE)).toBeNull();
    expect(traceLeak(survey, paper, 1, [240, 150], OUTSIDE)).toBeNull();
  });

  test('snapping finds the nearest ink within reach', () => {
    const survey = surveyPage(roomWithGap(0), NO_GAPS_PREP);
    expect(snapToInk(survey, 230, 150, 20)).toMatchObject({ at: [238, 150], distancePx: 8 });
    expect(snapToInk(survey, 150, 150, 20)).toBeNull();
  });
});

describe('thinning', () => {
  test.each([1, 2, 3])('leaves lines one px wide that hang together as the ink does (drawing %i)', (seed) => {
    const art = randomArt(seed, 120, 100);
    const grid = inkGridOf(art);
    const { on, stride, pixels } = thinInk(grid);
    expect(pixels.length).toBeGreaterThan(0);
    const pieces = (inked: (x: number, y: number) => boolean): number => {
      const seen = new Set<number>();
      let count = 0;
      for (let y = 0; y < 100; y++) {
        for (let x = 0; x < 120; x++) {
          if (!inked(x, y) || seen.has(y * 120 + x)) continue;
          count++;
          const stack = [[x, y]];
          seen.add(y * 120 + x);
          while (stack.length > 0) {
            const [px, py] = stack.pop()! as [number, number];
            for (let dy = -1; dy <= 1; dy++) {
              for (let dx = -1; dx <= 1; dx++) {
                const [nx, ny] = [px + dx, py + dy];
                if (nx < 0 || ny < 0 || nx >= 120 || ny >= 100 || !inked(nx, ny) || seen.has(ny * 120 + nx)) continue;
                seen.add(ny * 120 + nx);
                stack.push([nx, ny]);
              }
            }
          }
        }
      }
      return count;
    };
    const thin = (x: number, y: number): boolean => on[(y + 1) * stride + x + 1] === 1;
    expect(pieces(thin)).toBe(pieces((x, y) => grid.nearest[y * 120 + x]! < 0));
    // No block of two by two is left.
    for (const at of pixels) expect(on[at]! + on[at + 1]! + on[at + stride]! + on[at + stride + 1]!).toBeLessThan(4);
    expect(pixels.some((at) => neighbourhood(on, at, stride) === 0b11111111)).toBe(false);
  });
});

describe('the leak test', () => {
  const spread = (gapPx: number, maxGapPx: number | 'auto'): ReturnType<typeof floodFrom> => {
    const { survey } = openSurvey(roomWithGap(gapPx), { ...DEFAULT_PREP, maxGapPx });
    return floodFrom(survey, { width: 300, height: 300 }, 1, [150, 150]);
  };

  test('spreads step by step over what is open, and stays inside what is shut', () => {
    const shut = spread(0, 0)!;
    expect(shut.steps[150 * 300 + 150]).toBe(0);
    expect(shut.steps[150 * 300 + 180]).toBe(30);
    expect(shut.steps[20 * 300 + 20]).toBe(UNREACHED);
    expect(shut.mostSteps).toBeLessThan(100);
    const leaking = spread(12, 0)!;
    // Through the opening on the right, and round the room.
    expect(leaking.steps[150 * 300 + 280]).toBe(130);
    expect(leaking.steps[20 * 300 + 20]).toBeGreaterThan(300);
    expect(leaking.areaPx).toBeGreaterThan(shut.areaPx);
  });

  test('does not start on ink', () => {
    const { survey } = openSurvey(roomWithGap(0), DEFAULT_PREP);
    expect(floodFrom(survey, { width: 300, height: 300 }, 1, [60, 150])).toBeNull();
  });
});
