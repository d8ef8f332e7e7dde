import { describe, expect, test } from '@jest/globals';
import { readPageDocument } from '../page/readPageDocument.ts';
import { editMark } from '../page/pageEdits.ts';
import { DEFAULT_PREP, type Mark, NO_GAPS_PREP } from '../model/PageDocument.ts';
import { applyEdits } from '../page/records.ts';
import type { Records } from '../model/records.ts';
import { measureBorders } from '../regions/measureBorders.ts';
import { neighbourRegions } from '../survey/neighbourRegions.ts';
import { openSurvey, surveyPage } from '../survey/surveyPage.ts';
import { ruleSurvey, type WorkingPage } from '../survey/WorkingPage.ts';
import { strokes, textGrid } from '../tests/textGrid.ts';
import { findIslands } from './findIslands.ts';
import { looseSpread } from './looseSpread.ts';
import { groupsInLoop } from './groupsInLoop.ts';
import { regionsLike } from './regionsLike.ts';
import { cellsInContour, contourGroups, regionsOfCells, silhouetteInLoop } from './silhouetteInLoop.ts';
import { resolveFills } from './resolveFills.ts';
import { editsOfSpread, solveMarks } from './solveMarks.ts';

const KEEP_ALL = { ...NO_GAPS_PREP, crumbLimitPx2: 0 };
type Line = [number, number, number, number];
const box = (x0: number, y0: number, x1: number, y1: number): Line[] => [
  [x0, y0, x1, y0],
  [x1, y0, x1, y1],
  [x1, y1, x0, y1],
  [x0, y1, x0, y0],
];
const loopOf = (x0: number, y0: number, x1: number, y1: number): [number, number][] => [
  [x0, y0],
  [x1, y0],
  [x1, y1],
  [x0, y1],
];

describe('a loop', () => {
  const survey = surveyPage(
    strokes(400, 300, 5, [...box(60, 60, 160, 160), ...box(220, 60, 320, 160), ...box(90, 90, 120, 120)]),
    NO_GAPS_PREP,
  );
  const at = (x: number, y: number): number => survey.regions.ofCell[survey.field[y * survey.width + x]!]!;

  test('takes what it encloses, holes and all, and leaves what runs out of it', () => {
    const taken = groupsInLoop(survey, survey.regions, loopOf(40, 40, 190, 180), 0.9);
    expect(taken).toEqual([at(70, 70), at(105, 105)].sort((a, b) => a - b));
  });

  test('takes half a region only when the threshold says so', () => {
    const half = loopOf(40, 40, 112, 180);
    expect(groupsInLoop(survey, survey.regions, half, 0.9)).not.toContain(at(70, 70));
    expect(groupsInLoop(survey, survey.regions, half, 0.4)).toContain(at(70, 70));
  });

  test('that encloses nothing, or has no inside, takes nothing', () => {
    expect(groupsInLoop(survey, survey.regions, loopOf(5, 5, 20, 20), 0.9)).toEqual([]);
    expect(groupsInLoop(survey, survey.regions, [[10, 10], [50, 50]], 0.5)).toEqual([]); // prettier-ignore
    expect(groupsInLoop(survey, survey.regions, loopOf(-900, -900, -10, -10), 0.5)).toEqual([]);
  });

  test('agrees with counting every pixel', () => {
    const diamond: [number, number][] = [
      [110, 20],
      [210, 110],
      [110, 200],
      [10, 110],
    ];
    const inside = new Float64Array(survey.regions.count);
    for (let y = 0; y < survey.height; y++) {
      for (let x = 0; x < survey.width; x++) {
        const cell = survey.field[y * survey.width + x]!;
        if (cell < 0) continue;
        if (Math.abs(x + 0.5 - 110) / 100 + Math.abs(y + 0.5 - 110) / 90 < 1) inside[survey.regions.ofCell[cell]!]!++;
      }
    }
    for (const share of [0.2, 0.5, 0.8, 1]) {
      const expected = [...inside.keys()].filter((r) => inside[r]! >= share * survey.regions.areaPx[r]!);
      expect(groupsInLoop(survey, survey.regions, diamond, share)).toEqual(expected);
    }
  });
});

describe('a silhouette', () => {
  // A figure with a hole, and an opening in its contour so wide that it hardly looks like a gap.
  const art = { width: 400, height: 300, data: new Uint8Array(400 * 300).fill(255) };
  for (const [x0, y0, x1, y1] of [
    [60, 60, 226, 66],
    [60, 60, 66, 206],
    [60, 200, 226, 206],
    [220, 60, 226, 103],
    [220, 163, 226, 206],
    [90, 100, 130, 103],
    [90, 147, 130, 150],
    [90, 100, 93, 150],
    [127, 100, 130, 150],
  ] as const)
    for (let y = y0; y < y1; y++) art.data.fill(0, y * 400 + x0, y * 400 + x1);
  const LIMIT_PX = 80;
  const { survey } = openSurvey(art, { ...DEFAULT_PREP, maxGapPx: LIMIT_PX });
  const cellAt = (x: number, y: number): number => survey.field[y * survey.width + x]!;
  const round = loopOf(40, 40, 245, 225);

  test('is all inside the outer contour, holes and all, and names the gap that has to be closed', () => {
    expect(groupsInLoop(survey, survey.regions, round, 0.9)).toEqual([survey.regions.ofCell[cellAt(110, 120)]]);
    const { cells, closures } = silhouetteInLoop(survey, 0.02, round, 0.9);
    const lies = cellsInContour(survey, contourGroups(survey, 0.02), round, 0.9).box;
    expect([...cells]).toEqual([cellAt(75, 75), cellAt(110, 120)].sort((a, b) => a - b));
    expect(closures).toHaveLength(1);
    expect(lies![0]).toBeGreaterThan(55);
    expect(lies![3]).toBeLessThan(210);
    // Once the gap is closed the figure is a region of its own.
    const closed = ruleSurvey(survey, LIMIT_PX, new Map(closures.map((key) => [key, 'closed' as const])));
    expect(regionsOfCells(closed, new Set(cells))).toEqual(
      new Set([closed.regions.ofCell[cellAt(75, 75)], closed.regions.ofCell[cellAt(110, 120)]]),
    );
    expect(closed.regions.ofCell[cellAt(75, 75)]).not.toBe(closed.regions.ofCell[cellAt(10, 10)]);
  });

  test('keeps to what was ruled open, to openings that hold, and to what may be taken', () => {
    const { closures } = silhouetteInLoop(survey, 0.02, round, 0.9);
    const open = ruleSurvey(survey, LIMIT_PX, new Map(closures.map((key) => [key, 'open' as const])));
    for (const [page, hold] of [
      [open, 0.02],
      [survey, 0.4],
    ] as const) {
      const { cells } = silhouetteInLoop(page, hold, round, 0.9);
      expect([...cells]).toEqual([cellAt(110, 120)]);
    }
    const hole = survey.regions.ofCell[cellAt(110, 120)];
    const { cells } = silhouetteInLoop(survey, 0.02, round, 0.9, (one) => one !== hole);
    expect([...cells]).toEqual([cellAt(75, 75)]);
  });

  test('of a loop round nothing is nothing', () => {
    const nothing = { cells: new Int32Array(0), closures: [] };
    expect(silhouetteInLoop(survey, 0.02, loopOf(5, 5, 20, 20), 0.9)).toEqual(nothing);
  });
});

test('regions like one are of its size and shape, lying or upright', () => {
  const survey = surveyPage(
    strokes(500, 300, 5, [
      ...box(20, 20, 80, 50),
      ...box(100, 20, 160, 50),
      ...box(200, 20, 230, 80),
      ...box(260, 20, 480, 200),
    ]),
    NO_GAPS_PREP,
  );
  const at = (x: number, y: number): number => survey.regions.ofCell[survey.field[y * survey.width + x]!]!;
  expect(regionsLike(survey, at(40, 35))).toEqual([at(40, 35), at(120, 35), at(215, 40)].sort((a, b) => a - b));
});

test('islands lie in their own part all around, and are small against it', () => {
  // 0 is a face with an eye (1) and a mouth (2) in it, beside a coat (3); 4 is half as large as the face.
  const pairs = [0, 1, 40, 0, 2, 30, 0, 3, 90, 0, 4, 90];
  const areas = [10_000, 200, 150, 8000, 5000];
  expect(findIslands(pairs, areas, ['skin', 'skin', 'lips', 'coat', 'skin'], 30)).toEqual([1]);
  expect(findIslands(pairs, areas, ['skin', 'skin', 'skin', 'coat', 'skin'], 160)).toEqual([1]);
  expect(findIslands(pairs, areas, ['skin', null, 'skin', 'coat', null], 30)).toEqual([2]);
});

test('what was spread loosely is taken away through closures, never across a line', () => {
  const closures = [
    { regions: [0, 1], accepted: true },
    { regions: [1, 2], accepted: true },
    { regions: [0, 3], accepted: false },
  ] as never;
  expect(looseSpread({ closures }, ['sky', 'sky', 'coat', 'sky'], 0)).toEqual([0, 1]);
});

describe('borders', () => {
  test('are as long as two regions touch under the ink', () => {
    const open = openSurvey(
      textGrid(['....#....', '....#....', '....#....', '....#....', '#########', '.........']),
      KEEP_ALL,
    );
    const { field, cellCount, width, height } = open.survey;
    const borders = measureBorders(field, open.base.runs, cellCount, width, height);
    const pair = (a: number, b: number): number => {
      for (let k = 0; k < borders.count; k++) if (borders.a[k] === a && borders.b[k] === b) return borders.px[k]!;
      return 0;
    };
    expect(pair(0, 1)).toBe(4);
    // The line below both is 9 px long, 4 of them under each side and one where the three lines meet.
    expect(pair(0, 2) + pair(1, 2)).toBeGreaterThanOrEqual(8);
    expect(Math.abs(pair(0, 2) - pair(1, 2))).toBeLessThanOrEqual(1);
    expect([...neighbourRegions(open)]).toEqual([0, 1, 4, 0, 2, pair(0, 2), 1, 2, pair(1, 2)]);
  });
});

/** Marks a page, spreads and gives what came of it. */
function spread(page: WorkingPage, marks: readonly Mark[], records: Records = new Map()) {
  const marked = applyEdits(
    records,
    marks.map((mark, k) => editMark(`m${k}`, mark)),
  ).records;
  const document = readPageDocument(marked);
  const solved = solveMarks(page, document);
  const after = readPageDocument(applyEdits(marked, editsOfSpread(document, solved, 1)).records);
  page.cut(after.drawn, page.survey.maxGapPx, after.rulings);
  const { survey } = page;
  const { partOfRegion, looks } = resolveFills(survey, after.fills, (part) => part);
  const at = (x: number, y: number): string | null =>
    partOfRegion[survey.regions.ofCell[survey.field[y * survey.width + x]!]!] ?? null;
  const lookAt = (x: number, y: number): string | undefined =>
    looks.get(survey.regions.ofCell[survey.field[y * survey.width + x]!]!);
  return { solved, document: after, at, lookAt, survey };
}

describe('marks', () => {
  // Two rooms with a door of 30 px between them, and a small closed box in the left one.
  const art = strokes(420, 260, 6, [
    ...box(40, 40, 380, 220),
    [210, 40, 210, 110],
    [210, 140, 210, 220],
    ...box(80, 150, 110, 180),
  ]);
  const left: Mark = { part: 'coat', points: [[70, 70], [150, 120]] }; // prettier-ignore
  const right: Mark = { part: 'hat', points: [[260, 80], [330, 180]] }; // prettier-ignore
  const outside: Mark = { part: 'sky', points: [[10, 10], [10, 240]] }; // prettier-ignore

  test('meet at the narrowest opening between them, closed or not', () => {
    const { at } = spread(openSurvey(art, DEFAULT_PREP), [left, right, outside]);
    expect([at(60, 60), at(190, 200), at(360, 60), at(230, 200), at(5, 5)]).toEqual([
      'coat',
      'coat',
      'hat',
      'hat',
      'sky',
    ]);
  });

  test('fill a small closed shape without one with what surrounds it, and list it', () => {
    const { at, lookAt } = spread(openSurvey(art, DEFAULT_PREP), [left, right, outside]);
    expect(at(95, 165)).toBe('coat');
    expect(lookAt(95, 165)).toBe('around');
    expect(lookAt(60, 60)).toBeUndefined();
  });

  test('that stray a little over a line are not ruined by it', () => {
    const strayed: Mark = { part: 'coat', points: [[60, 120], [150, 70], [150, 26]] }; // prettier-ignore
    const { at } = spread(openSurvey(art, DEFAULT_PREP), [strayed, right, outside]);
    expect([at(60, 60), at(150, 20)]).toEqual(['coat', 'sky']);
  });

  test('that end in a small shape and rub it mean it, whatever else passes there', () => {
    const rubbed: Mark = {
      part: 'hat',
      points: [[330, 180], [260, 80], [300, 190], [250, 60], [95, 165], [103, 172], [88, 158], [103, 172], [88, 158]],
    }; // prettier-ignore
    const passing: Mark = { part: 'coat', points: [[60, 130], [95, 165], [150, 200], [190, 60]] }; // prettier-ignore
    const { at } = spread(openSurvey(art, DEFAULT_PREP), [passing, rubbed, outside]);
    expect([at(60, 60), at(95, 165), at(360, 60)]).toEqual(['coat', 'hat', 'hat']);
    // One that merely ends there has slipped.
    const slipped = { ...rubbed, points: rubbed.points.slice(0, 5) };
    expect(spread(openSurvey(art, DEFAULT_PREP), [passing, slipped, outside]).at(95, 165)).toBe('coat');
  });

  test('pass over a shape that is marked otherwise on the way to the next of their own', () => {
    const three = openSurvey(
      strokes(720, 260, 6, [...box(20, 40, 340, 220), ...box(340, 40, 400, 220), ...box(400, 40, 700, 220)]),
      DEFAULT_PREP,
    );
    const coat: Mark = { part: 'coat', points: [[60, 80], [250, 180], [560, 130]] }; // prettier-ignore
    const strap: Mark = { part: 'strap', points: [[365, 60], [375, 200]] }; // prettier-ignore
    const { at, solved } = spread(three, [coat, strap]);
    expect([at(100, 60), at(370, 60), at(600, 200)]).toEqual(['coat', 'strap', 'coat']);
    expect(solved.drawn).toEqual([]);
    // By itself it gives a part to what it passes.
    expect(spread(three, [coat]).at(370, 60)).toBe('coat');
    // However short what stays there is against what passes.
    const short: Mark = { part: 'strap', points: [[365, 110], [365, 122]] }; // prettier-ignore
    expect(spread(three, [coat, short]).at(370, 60)).toBe('strap');
  });

  test('pass the half of an open shape whose other half is marked', () => {
    const rooms = openSurvey(
      strokes(720, 260, 6, [
        ...box(20, 40, 300, 220),
        ...box(300, 40, 420, 220),
        ...box(420, 40, 700, 220),
        [300, 130, 345, 130],
        [380, 130, 420, 130],
      ]),
      { ...DEFAULT_PREP, maxGapPx: 10 },
    );
    const cells = new Set([60, 200].map((y) => rooms.survey.field[y * 720 + 360]));
    expect(cells.size).toBe(2);
    const coat: Mark = { part: 'coat', points: [[60, 80], [250, 80], [560, 80], [560, 180]] }; // prettier-ignore
    const strap: Mark = { part: 'strap', points: [[330, 200], [400, 200], [330, 180]] }; // prettier-ignore
    const { at } = spread(rooms, [coat, strap]);
    expect([at(100, 60), at(360, 60), at(360, 200), at(600, 200)]).toEqual(['coat', 'strap', 'strap', 'coat']);
    // A half that is rubbed itself is meant itself.
    const rubbed: Mark = { part: 'coat', points: [[320, 60], [400, 110], [320, 110], [400, 60]] }; // prettier-ignore
    expect(spread(rooms, [coat, strap, rubbed]).at(360, 60)).toBe('coat');
  });

  test('of two parts in one open room part it between them, and say so', () => {
    const room = openSurvey(
      strokes(420, 260, 6, [...box(40, 40, 380, 220), [210, 40, 210, 100], [210, 160, 210, 220]]),
      NO_GAPS_PREP,
    );
    const one: Mark = { part: 'coat', points: [[80, 100], [80, 180]] }; // prettier-ignore
    const two: Mark = { part: 'hat', points: [[330, 100], [330, 180]] }; // prettier-ignore
    const { solved, at } = spread(room, [one, two]);
    expect(solved.drawn.length).toBeGreaterThan(0);
    expect([at(60, 200), at(360, 60)]).toEqual(['coat', 'hat']);
  });

  test('leave what was given by hand, and what nobody marked', () => {
    const given = applyEdits(new Map(), [
      { key: 'fill/350,60', value: { part: 'door', anchors: [[350, 60]], stamp: 0 } },
    ]).records;
    const { at } = spread(openSurvey(art, DEFAULT_PREP), [left], given);
    expect(at(60, 60)).toBe('coat');
    expect(at(350, 60)).toBe('door');
    expect(at(5, 5)).toBeNull();
  });

  test('spread in one panel leave what they gave in another', () => {
    const open = openSurvey(art, DEFAULT_PREP);
    const first = spread(open, [left, right, outside]);
    const records = new Map<string, never>(
      [...first.document.fills].map(([key, fill]) => [`fill/${key}`, fill as never]),
    );
    const document = readPageDocument(
      applyEdits(records, [editMark('m0', { ...left, part: 'shirt' }), editMark('m1', right)]).records,
    );
    const inLeft = (anchor: number): boolean => anchor % 420 < 210 && anchor % 420 > 40;
    const edits = editsOfSpread(document, solveMarks(open, document, undefined, inLeft), 2);
    const after = readPageDocument(applyEdits(records, edits).records);
    const { partOfRegion } = resolveFills(open.survey, after.fills, (part) => part);
    const at = (x: number, y: number): string | null =>
      partOfRegion[open.survey.regions.ofCell[open.survey.field[y * 420 + x]!]!]!;
    expect([at(60, 60), at(360, 60)]).toEqual(['shirt', 'hat']);
  });

  test('on ink alone give nothing', () => {
    const { at, document } = spread(openSurvey(art, DEFAULT_PREP), [{ part: 'coat', points: [[40, 100]] }]);
    expect(at(60, 60)).toBeNull();
    expect(document.fills.size).toBe(0);
  });

  test('spread again replace what they gave before', () => {
    const open = openSurvey(art, DEFAULT_PREP);
    const first = spread(open, [left, right, outside]);
    const records: Records = new Map(
      [...first.document.fills].map(([key, fill]) => [`fill/${key}`, fill as never] as const),
    );
    const again = spread(open, [{ ...left, part: 'shirt' }, right, outside], records);
    expect([again.at(60, 60), again.at(360, 60)]).toEqual(['shirt', 'hat']);
    expect([...again.document.fills.values()].some((fill) => fill.part === 'coat')).toBe(false);
  });
});
