import { createHash } from 'node:crypto';
import { describe, expect, test } from '@jest/globals';
import { readPageDocument } from '../page/readPageDocument.ts';
import { editDrawn, editInkFile, editPrep, editRuling, editSolid } from '../page/pageEdits.ts';
import { DEFAULT_PREP, MAIN_INK, type Prep } from '../model/PageDocument.ts';
import { applyEdits } from '../page/records.ts';
import type { RecordEdit } from '../model/records.ts';
import type { GreyRaster } from '../raster/GreyRaster.ts';
import { randomArt, strokes } from '../tests/textGrid.ts';
import { CUTS_VERSION, packCuts, readingCacheKey, unpackCuts } from './storedCuts.ts';
import { foundInFull, openSurvey } from './surveyPage.ts';
import { ruleSurvey } from './WorkingPage.ts';
import type { OpenSurvey } from './OpenSurvey.ts';

/** A room with a door, loose strokes and a patch of hatching. */
const room = (): GreyRaster =>
  strokes(480, 360, 5, [
    [40, 40, 200, 40],
    [40, 40, 40, 200],
    [40, 200, 110, 200],
    [140, 200, 200, 200],
    [200, 38, 200, 202],
    [60, 240, 190, 330],
    [230, 340, 420, 220],
    [300, 330, 380, 335],
    ...Array.from({ length: 9 }, (_, k) => [260 + 14 * k, 60, 260 + 14 * k, 150] as const),
  ]);

/** A room in fine lines on a sheet so large that they are traced at half their size, with a gap of half a line width. */
const GAP = [1051, 900] as const;
const fineRoom = (): GreyRaster =>
  strokes(2500, 2600, 9, [
    [900, 900, 1048, 900],
    [1053, 900, 1200, 900],
    [900, 900, 900, 1200],
    [1200, 900, 1200, 1200],
    [900, 1200, 1200, 1200],
  ]);

/** The same with strokes and blobs of all widths. */
function drawing(): GreyRaster {
  const art = randomArt(11, 480, 360);
  const lines = room();
  return { ...art, data: art.data.map((grey, at) => Math.min(grey, lines.data[at]!)) };
}

const packed = (open: OpenSurvey): string => packCuts(open.base.found!);

/** Everything that is worked out from the cuts. */
const outcome = ({ survey, base }: OpenSurvey) => ({
  field: Buffer.from(survey.field.buffer).toString('base64'),
  regions: survey.regions,
  closures: survey.closures,
  lineWidthPx: survey.lineWidthPx,
  limits: [survey.maxGapPx, survey.gapsFoundToPx, survey.looseEnds],
  graph: survey.graph,
  paper: createHash('sha256').update(base.found!.paper.ink).update(Buffer.from(base.found!.paper.nearest.buffer)),
});

describe('cuts that were found before', () => {
  test('give the page that they were found in, number for number', () => {
    const art = drawing();
    const first = openSurvey(art, DEFAULT_PREP);
    expect(first.survey.closures.length).toBeGreaterThan(3);
    expect(first.base.found!.textureMask.some((value) => value > 0)).toBe(true);
    const known = unpackCuts(packed(first), art.width * art.height);
    const { paper: _paper, paperFactor: _factor, ...found } = first.base.found!;
    expect(known).toEqual(found);
    expect(outcome(openSurvey(art, DEFAULT_PREP, { known }))).toEqual(outcome(first));
  });

  test('do so where lines are traced at half the size', () => {
    const door = [
      [300, 300, 1700, 300],
      [300, 300, 300, 1200],
      [300, 1200, 900, 1200],
      [980, 1200, 1700, 1200],
      [1700, 294, 1700, 1206],
    ] as const;
    const art = strokes(2600, 2400, 13, door);
    const first = openSurvey(art, DEFAULT_PREP);
    expect(first.base.found!.textureFactor).toBe(2);
    const known = unpackCuts(packed(first), art.width * art.height);
    const again = openSurvey(art, DEFAULT_PREP, { known });
    expect(again.survey.closures).toEqual(first.survey.closures);
    expect(again.base.found!.paper.ink.every((ink, at) => ink === first.base.found!.paper.ink[at])).toBe(true);
    expect(again.survey.field.every((cell, at) => cell === first.survey.field[at])).toBe(true);
  });

  test('serve every largest gap that was looked for; a wider one is looked for anew', () => {
    const art = drawing();
    const first = openSurvey(art, DEFAULT_PREP);
    const known = unpackCuts(packed(first), art.width * art.height);
    expect(foundInFull(art, first.base.found!)).toBe(true);
    const narrow = openSurvey(art, { ...DEFAULT_PREP, maxGapPx: 12 }, { known });
    expect(narrow.survey.closures).toEqual(ruleSurvey(first.survey, 12, new Map()).closures);
    const wide = { ...DEFAULT_PREP, maxGapPx: first.survey.gapsFoundToPx + 40 };
    const anew = openSurvey(art, wide, { known });
    expect(anew.survey.closures).toEqual(openSurvey(art, wide).survey.closures);
    expect(foundInFull(art, anew.base.found!)).toBe(false);
    // Where no gap is to be closed there are none.
    expect(openSurvey(art, { ...DEFAULT_PREP, maxGapPx: 0 }, { known }).survey.closures).toEqual([]);
  });

  test.each(['', '[]', '{}', '{"cuts":[]}', packed(openSurvey(drawing(), DEFAULT_PREP)).slice(0, -9)])(
    'are refused when they are none: %#',
    (text) => {
      expect(() => unpackCuts(text, 480 * 360)).toThrow();
    },
  );

  test('are refused with a mask larger than the page', () => {
    const text = packed(openSurvey(drawing(), DEFAULT_PREP));
    expect(() => unpackCuts(text, 480 * 360 - 1)).toThrow(/not readable/);
  });
});

describe('the sign of a reading', () => {
  const files = { greyHash: 'aa', inks: [{ id: 'rain', greyHash: 'cc' }] };
  const prep = (other: Partial<Prep>) => editPrep({ ...DEFAULT_PREP, ...other });
  const signWith = (...edits: readonly RecordEdit[]): string =>
    readingCacheKey(files, readPageDocument(applyEdits(new Map(), edits).records));

  test('changes with all that the ink is read from, and with nothing that only divides', () => {
    const sign = signWith();
    expect(signWith(prep({ maxGapPx: 7, crumbLimitPx2: 3 }))).toBe(sign);
    expect(signWith(editRuling('1,2-3,4', 'open'), editDrawn('5,6-7,8', true))).toBe(sign);
    // A solid black that was ruled to stay shared changes nothing.
    expect(signWith(editSolid('5,6', false))).toBe(sign);
    const none = readPageDocument(new Map());
    const others = [
      readingCacheKey({ ...files, greyHash: 'bb' }, none),
      readingCacheKey({ ...files, inks: [] }, none),
      readingCacheKey({ ...files, inks: [{ id: 'rain', greyHash: 'dd' }] }, none),
      signWith(editSolid('5,6', true)),
      signWith(editInkFile(MAIN_INK, { name: 'Page', order: 0, bounds: false })),
      signWith(editInkFile('rain', { name: 'Rain', order: 1, bounds: false })),
      signWith(prep({ slopePpm: 900 })),
      signWith(prep({ speckLimitPx2: 4 })),
      signWith(prep({ flatten: true })),
      signWith(prep({ inkPoints: { blackPoint: 20, whitePoint: 200 } })),
      signWith(prep({ detail: { thinnerThanPx: 2, shorterThanPx: 0 } })),
    ];
    expect(new Set([sign, ...others]).size).toBe(others.length + 1);
  });

  test('goes up with the code that finds cuts: when this fails, raise CUTS_VERSION and put the new pair here', () => {
    const fine = openSurvey(fineRoom(), DEFAULT_PREP);
    const digest = createHash('sha256')
      .update(packed(openSurvey(room(), DEFAULT_PREP)))
      .update(packed(fine))
      .digest('hex');
    expect([CUTS_VERSION, digest.slice(0, 16)]).toEqual([7, '6ffa2ff8a167b84f']);
    // It was traced at half its size, and its gap of half a line width found all the same.
    expect(fine.base.found!.textureFactor).toBe(2);
    const [x, y] = GAP;
    const near = fine.survey.closures.filter(
      ({ from, to, accepted }) =>
        accepted && [from, to].every(([px, py]) => Math.abs(px - x) < 8 && Math.abs(py - y) < 8),
    );
    expect(near).toHaveLength(1);
  });
});
