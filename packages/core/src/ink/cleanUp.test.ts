import { describe, expect, test } from '@jest/globals';
import { DEFAULT_PREP, NO_GAPS_PREP } from '../model/PageDocument.ts';
import { readInk } from '../survey/readInk.ts';
import { surveyPage } from '../survey/surveyPage.ts';
import { randomArt, roomWithGap, seeded, strokes, textGrid } from '../tests/textGrid.ts';
import { clearSpecks, countSpecks, speckPlaces } from './clearSpecks.ts';
import { findSolids } from './findSolids.ts';
import { flattenPaper, isUneven, measurePaper } from './flattenPaper.ts';
import { greyAround } from './greyAround.ts';
import { inkFromGrey } from './inkFromGrey.ts';
import { labelInk, pieceAt } from './labelInk.ts';
import { measureSkew } from './measureSkew.ts';
import { degreesOfSlope, straighten } from './straighten.ts';
import { firstDifference } from '../tests/firstDifference.ts';

const plain = (bytes: number): ArrayBuffer => new ArrayBuffer(bytes);
const FULL = { blackPoint: 0, whitePoint: 255 };

/** A frame whose level lines fall by `slope` to the right. */
function turnedFrame(slope: number): ReturnType<typeof strokes> {
  const [cx, cy] = [300, 300];
  const at = (x: number, y: number): [number, number] => [
    cx + (x - cx) - (y - cy) * slope,
    cy + (y - cy) + (x - cx) * slope,
  ];
  const line = (a: [number, number], b: [number, number]): [number, number, number, number] => [
    ...at(...a),
    ...at(...b),
  ];
  return strokes(600, 600, 5, [
    line([60, 60], [540, 60]),
    line([60, 300], [540, 300]),
    line([60, 540], [540, 540]),
    line([60, 60], [60, 540]),
    line([540, 60], [540, 540]),
  ]);
}

describe('pieces of ink', () => {
  test('are what hangs together by any grey, corners included, as a plain flood finds them', () => {
    const art = randomArt(5, 90, 70);
    const ink = inkFromGrey(art, FULL);
    const pieces = labelInk(ink, 90, 70);
    const label = new Int32Array(ink.length).fill(-1);
    let count = 0;
    for (let start = 0; start < ink.length; start++) {
      if (ink[start] === 0 || label[start]! >= 0) continue;
      const stack = [start];
      label[start] = count;
      while (stack.length > 0) {
        const at = stack.pop()!;
        for (let dy = -1; dy <= 1; dy++) {
          for (let dx = -1; dx <= 1; dx++) {
            const [x, y] = [(at % 90) + dx, Math.floor(at / 90) + dy];
            const next = y * 90 + x;
            if (x < 0 || y < 0 || x >= 90 || y >= 70 || ink[next] === 0 || label[next]! >= 0) continue;
            label[next] = count;
            stack.push(next);
          }
        }
      }
      count++;
    }
    expect(pieces.count).toBe(count);
    for (let at = 0; at < ink.length; at += 7) {
      expect(pieceAt(pieces, at % 90, Math.floor(at / 90))).toBe(label[at]);
    }
  });

  test('are counted by their ink and placed by their boxes', () => {
    const grid = textGrid(['........', '.##.....', '.##..3..', '........', '......##']);
    const pieces = labelInk(inkFromGrey(grid, FULL), 8, 5);
    expect([...pieces.areaPx].map((area) => Math.round(area * 10) / 10)).toEqual([4, 0.3, 2]);
    expect([...pieces.box.subarray(0, 4)]).toEqual([1, 1, 3, 3]);
  });
});

describe('specks', () => {
  test('up to a size go, and nothing that touches a line', () => {
    // A dot by itself, one that hangs on a line by a faint grey, and the line.
    const grid = textGrid(['#.....#...', '......1...', '##########', '..........', '....##....']);
    const ink = inkFromGrey(grid, FULL);
    const before = ink.slice();
    const pieces = labelInk(ink, 10, 5);
    expect([...countSpecks(pieces).subarray(0, 4)]).toEqual([0, 1, 1, 0]);
    expect([...speckPlaces(pieces, 10)].filter((_, k) => k % 3 === 0)).toEqual([0, 4.5, 4.5]);
    expect(clearSpecks(ink, 10, pieces, 1)).toBe(1);
    expect(ink[0]).toBe(0);
    expect([...ink.subarray(1)]).toEqual([...before.subarray(1)]);
  });

  test('that go are no bounds and are not printed', () => {
    const grid = textGrid(['...........', '.#.........', '...........', '.....######', '.....######']);
    const survey = surveyPage(grid, { ...NO_GAPS_PREP, inkPoints: FULL, speckLimitPx2: 2 });
    expect(survey.specksCleared).toBe(1);
    expect(survey.inkAlpha[12]).toBe(0);
    expect(survey.field[12]).toBeGreaterThanOrEqual(0);
  });
});

describe('uneven paper', () => {
  test('is measured and evened out, so that a shadow is no ink', () => {
    const random = seeded(3);
    const art = strokes(500, 400, 6, [
      [40, 40, 460, 60],
      [60, 350, 440, 330],
      [250, 40, 240, 350],
    ]);
    const shaded = art.data.map((v, i) => {
      const light = 235 - 70 * ((i % 500) / 500) * (Math.floor(i / 500) / 400);
      return Math.round((v / 255) * (light - 30) + 30 + (random() - 0.5) * 4);
    });
    const page = { ...art, data: shaded };
    const paper = measurePaper(page);
    expect(isUneven(paper)).toBe(true);
    expect(paper.spread).toBeGreaterThan(20);
    expect(measurePaper(flattenPaper(page, paper)).spread).toBeLessThanOrEqual(5);
    const { printed, flattened } = readInk(page, DEFAULT_PREP, [], true, plain);
    expect(flattened).toBe(true);
    // Every pixel that was clean paper is clean again, and lines are still dark.
    const clean = inkFromGrey(art, FULL);
    expect(printed.reduce((most, alpha, i) => (clean[i] === 0 && alpha > most ? alpha : most), 0)).toBeLessThan(40);
    expect(printed[45 * 500 + 140]).toBeGreaterThan(200);
  });

  test('of a file from a program is even and without noise', () => {
    const paper = measurePaper(roomWithGap(0));
    expect([paper.median, paper.spread, paper.noise]).toEqual([255, 0, 0]);
    expect(isUneven(paper)).toBe(false);
  });

  test('pointed at says its grey, whatever single pixels do', () => {
    const grid = textGrid(['.....', '..#..', '.....', '.....', '.....']);
    expect(greyAround(grid, 2, 2)).toBe(255);
    expect(greyAround(grid, 0, 4)).toBe(255);
  });
});

describe('a turned page', () => {
  test.each([-0.035, -0.004, 0, 0.0013, 0.02, 0.06])('by a slope of %p is measured within 0.05 degrees', (slope) => {
    const skew = measureSkew(turnedFrame(slope), 128);
    expect(skew).not.toBeNull();
    expect(Math.abs(degreesOfSlope(skew!.slopePpm) - (Math.atan(slope) * 180) / Math.PI)).toBeLessThan(0.05);
  });

  test('without straight lines has no angle', () => {
    expect(measureSkew(randomArt(11, 400, 400), 128)).toBeNull();
    expect(measureSkew(textGrid(Array.from({ length: 40 }, () => '.'.repeat(40))), 128)).toBeNull();
  });

  test('is level once it is straightened', () => {
    const page = turnedFrame(0.03);
    const skew = measureSkew(page, 128)!;
    const level = straighten(page, skew.slopePpm);
    expect(Math.abs(measureSkew(level, 128)!.slopePpm)).toBeLessThan(400);
  });

  test('straightened by nothing is the same, byte for byte', () => {
    const page = randomArt(2, 80, 60);
    expect(firstDifference(straighten(page, 0).data, page.data)).toBeNull();
  });

  test('is not turned beyond reason', () => {
    expect(() => straighten(textGrid(['..']), 300_000)).toThrow(/`slopePpm` must be an integer within/);
    expect(() => straighten(textGrid(['..']), 0.5)).toThrow(RangeError);
  });
});

describe('solid blacks', () => {
  const page = strokes(300, 300, 6, [
    [20, 20, 280, 20],
    [280, 20, 280, 280],
  ]);
  for (let y = 100; y < 180; y++) page.data.fill(0, y * 300 + 60, y * 300 + 200);

  test('are found by their depth, lines are not', () => {
    const survey = surveyPage(page, NO_GAPS_PREP);
    const [solid, ...rest] = findSolids(survey, survey.lineWidthPx.median);
    expect(rest).toEqual([]);
    expect(solid!.areaPx).toBeGreaterThan(7000);
    expect(solid!.at[0]).toBeGreaterThan(90);
  });

  test('become regions of their own when the flatter says so, behind a rim of ink', () => {
    const without = surveyPage(page, NO_GAPS_PREP);
    const survey = surveyPage(page, NO_GAPS_PREP, { solids: [[120, 140]] });
    expect(survey.regions.count).toBe(without.regions.count + 1);
    const inside = survey.field[140 * 300 + 120]!;
    expect(inside).toBeGreaterThanOrEqual(0);
    expect(survey.regions.ofCell[inside]).not.toBe(survey.regions.ofCell[survey.field[40 * 300 + 40]!]);
    // It is printed as before.
    expect(firstDifference(survey.inkAlpha, without.inkAlpha)).toBeNull();
  });

  test('a point that lies in no solid black changes nothing', () => {
    const survey = surveyPage(page, NO_GAPS_PREP, {
      solids: [
        [20, 200],
        [500, 2],
      ],
    });
    expect(firstDifference(survey.field, surveyPage(page, NO_GAPS_PREP).field)).toBeNull();
  });

  test('that were ruled on keep the point of the ruling', () => {
    const survey = surveyPage(page, NO_GAPS_PREP);
    expect(findSolids(survey, 6, [[70, 120]])[0]!.at).toEqual([70, 120]);
  });
});

describe('detail', () => {
  const room = roomWithGap(0);
  const withLines = (lines: [number, number, number, number][], pen: number): ReturnType<typeof strokes> => {
    const more = strokes(300, 300, pen, lines);
    return { ...room, data: room.data.map((v, i) => Math.min(v, more.data[i]!)) };
  };

  test('thinner than given parts nothing, but is printed', () => {
    const page = withLines([[60, 150, 240, 150]], 2);
    expect(surveyPage(page, NO_GAPS_PREP).regions.count).toBe(3);
    const prep = { ...NO_GAPS_PREP, detail: { thinnerThanPx: 4, shorterThanPx: 0 } };
    const survey = surveyPage(page, prep);
    expect(survey.regions.count).toBe(2);
    expect(survey.inkAlpha[150 * 300 + 150]).toBeGreaterThan(128);
  });

  test('keeps thicker lines to their ends', () => {
    const prep = { ...NO_GAPS_PREP, detail: { thinnerThanPx: 4, shorterThanPx: 0 } };
    expect(firstDifference(surveyPage(room, prep).field, surveyPage(room, NO_GAPS_PREP).field)).toBeNull();
  });

  test('shorter than given is left out where it stands by itself', () => {
    const page = withLines([[100, 100, 130, 100]], 5);
    const prep = { ...NO_GAPS_PREP, detail: { thinnerThanPx: 0, shorterThanPx: 40 } };
    const survey = surveyPage(page, prep);
    expect(survey.field[100 * 300 + 115]).toBeGreaterThanOrEqual(0);
    expect(survey.field[60 * 300 + 115]).toBeLessThan(0);
  });
});

describe('several ink files', () => {
  const room = roomWithGap(0);
  const wall = strokes(300, 300, 6, [[150, 60, 150, 240]]);

  test('all print, and regions end at those that were chosen', () => {
    const both = surveyPage(room, NO_GAPS_PREP, { others: [{ grey: wall, bounds: true }] });
    expect(both.regions.count).toBe(3);
    const one = surveyPage(room, NO_GAPS_PREP, { others: [{ grey: wall, bounds: false }] });
    expect(one.regions.count).toBe(2);
    expect(one.inkAlpha).toEqual(both.inkAlpha);
    expect(one.inkAlpha[150 * 300 + 150]).toBeGreaterThan(200);
    const other = surveyPage(room, NO_GAPS_PREP, { others: [{ grey: wall, bounds: true }], ownBounds: false });
    expect(other.regions.count).toBe(1);
  });

  test('must have the size of the page', () => {
    const small = textGrid(['..', '..']);
    expect(() => surveyPage(room, NO_GAPS_PREP, { others: [{ grey: small, bounds: true }] })).toThrow(
      /`others\[0\]` must have the page's size 300 x 300; received 2 x 2/,
    );
  });
});
