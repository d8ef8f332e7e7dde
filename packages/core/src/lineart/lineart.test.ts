import { describe, expect, test } from '@jest/globals';
import { inkFromGrey } from '../ink/inkFromGrey.ts';
import { readPageDocument } from '../page/readPageDocument.ts';
import { editFill, editPanels, editPrep, editSolid } from '../page/pageEdits.ts';
import { DEFAULT_PREP, type Fill } from '../model/PageDocument.ts';
import { applyEdits } from '../page/records.ts';
import type { RecordEdit } from '../model/records.ts';
import { straightenDocument } from '../page/straightenDocument.ts';
import { openSurvey } from '../survey/surveyPage.ts';
import { roomWithGap, strokes } from '../tests/textGrid.ts';
import { describeLineArt } from './describeLineArt.ts';
import { findChanges } from './findChanges.ts';
import { judgePanel } from './judgePanel.ts';
import { measureStrokes } from './measureStrokes.ts';

describe('facts about line art', () => {
  test('are counted panel by panel, with a verdict', () => {
    const facts = describeLineArt(openSurvey(roomWithGap(12), DEFAULT_PREP), [
      {
        points: [
          [40, 40],
          [260, 40],
          [260, 260],
          [40, 260],
        ],
      },
      {
        points: [
          [0, 0],
          [30, 0],
          [30, 30],
          [0, 30],
        ],
      },
    ]);
    expect(facts.antiAliased).toBe(true);
    expect(facts.panels.map((panel) => panel.verdict)).toEqual(['closing', 'holds']);
    const [room] = facts.panels;
    expect(room!.counts).toMatchObject({ looseEnds: 2, closed: 1 });
    // Four walls of 180 px, 6 px wide, less the gap.
    expect(room!.counts.strokeWidths).toBeGreaterThan(90);
    expect(room!.counts.strokeWidths).toBeLessThan(150);
  });

  test('tell hard edges from smooth ones', () => {
    const room = roomWithGap(0);
    const hard = { ...room, data: room.data.map((v) => (v < 128 ? 0 : 255)) };
    const edges = (page: typeof room): boolean => describeLineArt(openSurvey(page, DEFAULT_PREP), null).antiAliased;
    expect([edges(room), edges(hard)]).toEqual([true, false]);
  });

  test('tell a dry brush from a clean pen', () => {
    const clean = strokes(400, 200, 16, [
      [40, 100, 360, 100],
      [100, 30, 100, 170],
    ]);
    const dry = clean.data.slice();
    for (let at = 0, k = 0; at < dry.length; at++)
      if (dry[at] === 0 && (k = (k * 1103 + 12345) % 4096) % 5 === 0) dry[at] = 255;
    const raggedness = (data: Uint8Array): number =>
      measureStrokes({
        ...clean,
        inkAlpha: inkFromGrey({ ...clean, data }, { blackPoint: 0, whitePoint: 255 }),
        lineWidthPx: { median: 16, p10: 16, p90: 16 },
      }).raggedness;
    expect(raggedness(clean.data)).toBeLessThan(1.1);
    expect(raggedness(dry)).toBeGreaterThan(1.3);
  });
});

describe('the verdict', () => {
  test.each([
    [{ strokeWidths: 1000, looseEnds: 2, closed: 0, toRule: 0 }, 'holds'],
    [{ strokeWidths: 1000, looseEnds: 9, closed: 3, toRule: 1 }, 'closing'],
    [{ strokeWidths: 1000, looseEnds: 80, closed: 30, toRule: 20 }, 'sketchy'],
    [{ strokeWidths: 20, looseEnds: 4, closed: 0, toRule: 0 }, 'holds'],
    [{ strokeWidths: 0, looseEnds: 0, closed: 0, toRule: 0 }, 'holds'],
  ] as const)('of %j is %s', (counts, verdict) => {
    expect(judgePanel(counts)).toBe(verdict);
  });
});

describe('a revised drawing', () => {
  const before = strokes(300, 200, 5, [[20, 100, 280, 100]]);
  const inkOf = (page: typeof before): Uint8Array => inkFromGrey(page, { blackPoint: 0, whitePoint: 255 });

  test('lists what came and what went, the largest first', () => {
    const after = strokes(300, 200, 5, [
      [20, 100, 220, 100],
      [40, 20, 140, 20],
    ]);
    const changes = findChanges(inkOf(before), inkOf(after), 300, 200, 5);
    expect(changes.length).toBe(2);
    expect(changes[0]!.addedPx).toBeGreaterThan(300);
    expect(changes[0]!.removedPx).toBe(0);
    expect(changes[1]!.removedPx).toBeGreaterThan(200);
    const [x0, y0, x1, y1] = changes[0]!.box;
    expect([x0 <= 40, y0 <= 18, x1 >= 140, y1 >= 22]).toEqual([true, true, true, true]);
  });

  test('saved anew or moved by a pixel is no change', () => {
    const moved = strokes(300, 200, 5, [[20, 101, 280, 101]]);
    expect(findChanges(inkOf(before), inkOf(moved), 300, 200, 5)).toEqual([]);
    expect(findChanges(inkOf(before), inkOf(before), 300, 200, 5)).toEqual([]);
  });
});

describe('straightening a page with work on it', () => {
  const start = applyEdits(new Map(), [
    editFill('10,20', {
      part: 'coat',
      anchors: [
        [10, 20],
        [150, 80],
      ],
      stamp: 3,
    }),
    editSolid('40,50', true),
    editPanels([
      {
        points: [
          [0, 0],
          [199, 0],
          [199, 99],
        ],
        scene: null,
      },
    ]),
    editPrep(DEFAULT_PREP),
  ]).records;

  test('moves everything on it, and back again', () => {
    const turned = applyEdits(start, straightenDocument(readPageDocument(start), 50_000, 200, 100)).records;
    const page = readPageDocument(turned);
    expect(page.prep.slopePpm).toBe(50_000);
    const [[key, fill]] = [...page.fills] as unknown as [[string, Fill]];
    expect(fill.part).toBe('coat');
    expect(key).toBe(fill.anchors[0]!.join());
    expect(key).not.toBe('10,20');
    const back = readPageDocument(applyEdits(turned, straightenDocument(page, 0, 200, 100)).records);
    // To the pixel, give or take the rounding; what was turned off the page stays on its edge.
    const [, anchor] = [...back.fills.values()][0]!.anchors;
    expect(Math.abs(anchor![0] - 150) + Math.abs(anchor![1] - 80)).toBeLessThanOrEqual(2);
    expect(back.solids.size).toBe(1);
    expect(back.panels!.length).toBe(1);
  });

  test('keeps fills apart that come to the same pixel', () => {
    const corner = (x: number): RecordEdit => editFill(`${x},0`, { part: 'coat', anchors: [[x, 0]], stamp: x });
    // Turned off the page, all three end at its edge.
    const records = applyEdits(new Map(), [corner(0), corner(1), corner(2)]).records;
    const turned = applyEdits(records, straightenDocument(readPageDocument(records), 150_000, 200, 100)).records;
    expect(readPageDocument(turned).fills.size).toBe(3);
    const { fills } = readPageDocument(turned);
    for (const [key, fill] of fills) expect(key).toBe(fill.anchors[0]!.join());
  });

  test('by what it is turned by already changes nothing else', () => {
    expect(straightenDocument(readPageDocument(start), 0, 200, 100).map((edit) => edit.key)).toEqual(['prep']);
  });
});
