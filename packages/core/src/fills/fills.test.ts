import { describe, expect, test } from '@jest/globals';
import { readPageDocument } from '../page/readPageDocument.ts';
import { type Fill, NO_GAPS_PREP } from '../model/PageDocument.ts';
import { applyEdits } from '../page/records.ts';
import type { RecordEdit, Records } from '../model/records.ts';
import { findTouching, touchingParts } from '../regions/findTouching.ts';
import { labelRaster } from '../survey/labelRaster.ts';
import { surveyPage } from '../survey/surveyPage.ts';
import { textGrid } from '../tests/textGrid.ts';
import { assignRegions, regionAt } from './assignRegions.ts';
import { resolveFills } from './resolveFills.ts';

const KEEP_ALL = { ...NO_GAPS_PREP, crumbLimitPx2: 0 };
// Three rooms side by side; in the second drawing the wall between the first two is gone.
const rooms = surveyPage(textGrid(['..#..#..', '..#..#..', '..#..#..']), KEEP_ALL);
const joined = surveyPage(textGrid(['.....#..', '.....#..', '.....#..']), KEEP_ALL);
const knows = (part: string): string | null => (part === 'gone' ? null : part === 'merged' ? 'coat' : part);

function give(survey: typeof rooms, records: Records, regions: number[], part: string | null, stamp: number): Records {
  const { fills } = readPageDocument(records);
  const edits: RecordEdit[] = assignRegions(survey, fills, resolveFills(survey, fills, knows), regions, part, stamp);
  return applyEdits(records, edits).records;
}
const partsOf = (survey: typeof rooms, records: Records): readonly (string | null)[] =>
  resolveFills(survey, readPageDocument(records).fills, knows).partOfRegion;

describe('fills', () => {
  test('give regions a part, and take it away again', () => {
    const given = give(rooms, new Map(), [0, 2], 'coat', 1);
    expect(partsOf(rooms, given)).toEqual(['coat', null, 'coat']);
    expect(partsOf(rooms, give(rooms, given, [2], null, 2))).toEqual(['coat', null, null]);
  });

  test('make way for a later one in the same region', () => {
    const records = give(rooms, give(rooms, new Map(), [0], 'coat', 1), [0], 'hat', 2);
    expect(partsOf(rooms, records)).toEqual(['hat', null, null]);
    expect(readPageDocument(records).fills.size).toBe(1);
  });

  test('meet when regions join: the latest shows and the conflict is listed; taken apart, each has its own again', () => {
    const records = give(rooms, give(rooms, new Map(), [1], 'coat', 1), [0], 'hat', 2);
    const met = resolveFills(joined, readPageDocument(records).fills, knows);
    expect(met.partOfRegion).toEqual(['hat', null]);
    expect(met.conflicts).toEqual([0]);
    expect(partsOf(rooms, records)).toEqual(['hat', 'coat', null]);
  });

  test('sleep where ink has come, and wake when it goes', () => {
    const records = give(joined, new Map(), [0], 'coat', 1);
    const blocked = surveyPage(textGrid(['######..', '######..', '######..']), KEEP_ALL);
    const asleep = resolveFills(blocked, readPageDocument(records).fills, knows);
    expect(asleep.asleep.length).toBe(1);
    expect(asleep.filledCount).toBe(0);
    expect(partsOf(joined, records)).toEqual(['coat', null]);
  });

  test('with several anchors keep those that stand elsewhere', () => {
    const fill: Fill = {
      part: 'coat',
      anchors: [
        [0, 0],
        [3, 1],
      ],
      stamp: 1,
    };
    const records = applyEdits(new Map(), [{ key: 'fill/0,0', value: fill as never }]).records;
    expect(partsOf(rooms, records)).toEqual(['coat', 'coat', null]);
    expect(partsOf(rooms, give(rooms, records, [0], null, 2))).toEqual([null, 'coat', null]);
  });

  test('of a part that is no more count as none', () => {
    expect(partsOf(rooms, give(rooms, new Map(), [0], 'gone', 1))).toEqual([null, null, null]);
  });

  test('of a part that was merged into another show that one', () => {
    expect(partsOf(rooms, give(rooms, new Map(), [0], 'merged', 1))).toEqual(['coat', null, null]);
  });

  test('find no region on ink or outside the page', () => {
    expect(regionAt(rooms, 2, 0)).toBeNull();
    expect(regionAt(rooms, 8, 0)).toBeNull();
    expect(regionAt(rooms, 0, -1)).toBeNull();
    expect(regionAt(rooms, 7, 2)).toBe(2);
  });
});

describe('touching', () => {
  test('are regions either side of a line, once each', () => {
    expect([...findTouching(rooms)]).toEqual([0, 1, 1, 2]);
  });

  test('of parts leaves out regions without one and parts that only touch themselves', () => {
    expect([...touchingParts(findTouching(rooms), Int32Array.of(4, 4, 7))]).toEqual([4, 7]);
    expect([...touchingParts(findTouching(rooms), Int32Array.of(4, -1, 7))]).toEqual([]);
  });
});

test('the picture of labels holds region numbers from 1 in its channels, and 0 on ink', () => {
  const labels = labelRaster(rooms);
  expect([...labels.subarray(0, 24)].filter((_, k) => k % 3 === 0)).toEqual([1, 1, 0, 2, 2, 0, 3, 3]);
});

test('a pixel whose cell is newer than the tables belongs to no region yet', () => {
  const ahead = { ...rooms, field: rooms.field.map((cell) => (cell < 0 ? cell : cell + 1000)) };
  const at = rooms.regions.anchor[0]!;
  const [x, y] = [at % rooms.width, Math.floor(at / rooms.width)];
  expect(regionAt(rooms, x, y)).toBe(0);
  expect(regionAt(ahead, x, y)).toBeNull();
});
