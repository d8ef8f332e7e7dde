import { describe, expect, test } from '@jest/globals';
import { labelInk } from '../../ink/labelInk.ts';
import type { GreyRaster } from '../../raster/GreyRaster.ts';
import { inkGridOf } from '../../tests/inkGrid.ts';
import { roomWithGap, strokes } from '../../tests/textGrid.ts';
import { rate } from '../../trees/forest.ts';
import { NO_STROKE_FEATURES, StrokeFeatureReader, STROKE_FEATURES } from '../proposals/strokeFeatures.ts';
import { CALIBRATION, FIRST_TREES, TREES } from './gapTrees.ts';
import { proposeFromEnds } from '../proposals/proposeFromEnds.ts';
import {
  BOUNDS_FROM,
  BOUNDS_SCORE,
  confidenceOf,
  FIRST_FOREST,
  OWN_FOREST,
  OPENING_FEATURES,
  featuresOf,
  type OpeningFacts,
} from './rateOpening.ts';
import { thinInk } from '../../skeleton/thinInk.ts';
import { findLooseEnds, pruneSpurs } from '../../skeleton/traceStrokes.ts';
import { countNeighbours } from '../proposals/weighEnds.ts';

const LINE_WIDTH = 6;

/** The cuts proposed from loose ends, with their features by name. */
function featuresIn(art: GreyRaster): { kind: string; strokeFeatures: Record<string, number> }[] {
  const grid = inkGridOf(art);
  const bare = findLooseEnds(grid, pruneSpurs(grid, thinInk(grid), LINE_WIDTH), LINE_WIDTH);
  const ends = { ...bare, weight: new Float64Array(bare.count).fill(1) };
  const proposals = proposeFromEnds(grid, ends, 80, LINE_WIDTH);
  const pieces = labelInk(grid.ink, grid.width, grid.height);
  const reader = new StrokeFeatureReader(grid, ends, countNeighbours(ends, LINE_WIDTH), pieces, proposals, LINE_WIDTH);
  return proposals.map((proposal) => ({
    kind: proposal.kind,
    strokeFeatures: Object.fromEntries(reader.read(proposal).map((value, k) => [STROKE_FEATURES[k], value])),
  }));
}

describe('the features of a cut', () => {
  test('across a gap in a line tell of two strokes that face each other', () => {
    const [gap] = featuresIn(roomWithGap(14)).filter(({ kind }) => kind === 'ends');
    expect(gap!.strokeFeatures).toMatchObject({
      end: 1,
      secondEnd: 1,
      line: 0,
      edge: 0,
      rank: 1,
      onePiece: 1,
      target: 0,
    });
    expect(gap!.strokeFeatures.aim).toBeGreaterThan(0.9);
    expect(gap!.strokeFeatures.facing).toBeGreaterThan(0.9);
    expect(Math.abs(gap!.strokeFeatures.thick! - gap!.strokeFeatures.secondThick!)).toBeLessThan(0.2);
  });

  test('onto a line tell of that line', () => {
    const lines = [
      [20, 100, 180, 100],
      [200, 20, 200, 180],
    ] as const;
    const onto = featuresIn(strokes(260, 200, 6, lines)).filter(({ kind }) => kind === 'line');
    const straight = onto.find(({ strokeFeatures }) => strokeFeatures.aim! > 0.99 && strokeFeatures.square! > 0.9)!;
    expect(straight.strokeFeatures).toMatchObject({ line: 1, secondEnd: 0, secondThick: 0, onePiece: 0, parallel: 0 });
    expect(Math.abs(straight.strokeFeatures.target! - 1)).toBeLessThan(0.35);
    expect(straight.strokeFeatures.blunt).toBeGreaterThan(0.4);
  });

  test('tell a short stroke on its own from one that hangs on an outline', () => {
    const alone = featuresIn(
      strokes(200, 120, 6, [
        [60, 60, 100, 60],
        [160, 20, 160, 100],
      ]),
    );
    expect(alone.some(({ strokeFeatures }) => strokeFeatures.free === 1)).toBe(true);
    const hung = featuresIn(
      strokes(200, 120, 6, [
        [40, 20, 40, 100],
        [40, 60, 120, 60],
        [160, 20, 160, 100],
      ]),
    ).filter(
      ({ kind, strokeFeatures }) => kind === 'line' && strokeFeatures.square! > 0.9 && strokeFeatures.aim! > 0.99,
    );
    expect(hung.length).toBeGreaterThan(0);
    expect(hung.every(({ strokeFeatures }) => strokeFeatures.free === 0)).toBe(true);
  });
});

describe('our forest', () => {
  test('asks about features there are, and its confidence never falls', () => {
    for (const row of [...FIRST_TREES, ...TREES]) {
      expect(row).toHaveLength(22);
      for (const feature of row.slice(0, 7)) expect(feature).toBeLessThan(OPENING_FEATURES.length);
    }
    for (let k = 1; k < CALIBRATION.length; k++) {
      expect(CALIBRATION[k]![0]).toBeGreaterThan(CALIBRATION[k - 1]![0]);
      expect(CALIBRATION[k]![1]).toBeGreaterThanOrEqual(CALIBRATION[k - 1]![1]);
    }
    expect(confidenceOf(BOUNDS_SCORE)).toBeCloseTo(BOUNDS_FROM, 2);
    expect([confidenceOf(-50), confidenceOf(50)]).toEqual([0, 1]);
  });
});

/** How no rival at all is rated. */
const NONE = -6;

describe('an opening', () => {
  /** Without any rival. */
  const between = (more: Partial<OpeningFacts>): number => {
    const facts: OpeningFacts = {
      open: 10,
      inked: 300,
      texture: 0,
      strokeFeatures: NO_STROKE_FEATURES,
      areaPx: 9000,
      radiusPx: 40,
      allOpen: 10,
      neighbours: 1,
      otherAreaPx: 20_000,
      wallsPx: 300,
      ...more,
    };
    const first = rate(FIRST_FOREST, featuresOf(facts, LINE_WIDTH, 80));
    const known = { ...facts, strokeFeatures: [...Array.from(facts.strokeFeatures), first, NONE, NONE, 0] };
    return confidenceOf(rate(OWN_FOREST, featuresOf(known, LINE_WIDTH, 80)));
  };
  const facing: Record<string, number> = {
    end: 1,
    secondEnd: 1,
    aim: 0.98,
    straightest: 0.99,
    facing: 0.98,
    blunt: 0.9,
    thick: 1,
    secondThick: 1,
    long: 2,
    web: 1,
    rank: 1,
    onePiece: 1,
  };
  const strokeFeatures = STROKE_FEATURES.map((feature) => facing[feature] ?? 0);

  test('between two ends that face each other, with much of the border inked, is surely a gap', () => {
    expect(between({ strokeFeatures })).toBeGreaterThan(0.9);
  });

  test('at a wide neck without an end, and hardly any ink, is open', () => {
    expect(between({ open: 60, allOpen: 60, inked: 10, radiusPx: 40 })).toBeLessThan(0.1);
    expect(between({ open: 60, allOpen: 60, inked: 10, strokeFeatures })).toBeLessThan(between({ strokeFeatures }));
  });
});
