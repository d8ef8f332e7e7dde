import { describe, expect, test } from '@jest/globals';
import { silhouetteInLoop } from '../fills/silhouetteInLoop.ts';
import type { Closure } from '../model/Regions.ts';
import { DEFAULT_PREP } from '../model/PageDocument.ts';
import type { GreyRaster } from '../raster/GreyRaster.ts';
import { openSurvey, surveyPage } from '../survey/surveyPage.ts';
import { gapsToRule } from './cells/gapsToRule.ts';
import { outlineFeaturesOf, OUTLINE_FEATURES, rateOutline } from './cells/rateOutline.ts';
import { BOUNDS_SCORE, confidenceOf } from './cells/rateOpening.ts';
import { outlinesAcross } from './proposals/handCut.ts';
import { NO_STROKE_FEATURES } from './proposals/strokeFeatures.ts';

const SIZE = 400;
const PEN = 7;
type Bar = readonly [x0: number, y0: number, x1: number, y1: number];

/** Ink in boxes on white paper. */
function draw(...bars: readonly Bar[]): GreyRaster {
  const data = new Uint8Array(SIZE * SIZE).fill(255);
  for (const [x0, y0, x1, y1] of bars) for (let y = y0; y < y1; y++) data.fill(0, y * SIZE + x0, y * SIZE + x1);
  return { width: SIZE, height: SIZE, data };
}

/** Two walls with a roof between them, open below. */
const LEFT: Bar = [100, 80, 100 + PEN, 300];
const RIGHT: Bar = [293, 80, 293 + PEN, 300];
const ROOF: Bar = [100, 80, 300, 80 + PEN];
const INSIDE = 200 * SIZE + 200;
const OUTSIDE = 200 * SIZE + 40;

const outlinesIn = ({ closures }: { readonly closures: readonly Closure[] }): Closure[] =>
  closures.filter(({ kind }) => kind === 'outline');
const outlinesOf = (page: GreyRaster): Closure[] => outlinesIn(surveyPage(page, DEFAULT_PREP));

describe('an outline that runs out into the paper', () => {
  const page = draw(LEFT, RIGHT, ROOF);
  const survey = surveyPage(page, DEFAULT_PREP);
  const [chord] = outlinesIn(survey);
  const regionAt = ({ field, regions }: typeof survey, at: number): number => regions.ofCell[field[at]!]!;

  test('is closed by a chord from end to end, wider than any gap, and offered to be ruled on', () => {
    expect(chord).toMatchObject({ accepted: true, curve: null });
    expect(chord!.widthPx).toBeGreaterThan(survey.maxGapPx);
    expect(chord!.widthPx).toBeCloseTo(293 - 107, -1);
    expect(Math.min(chord!.from[1], chord!.to[1])).toBeGreaterThan(280);
    expect(gapsToRule(survey.closures)).toContain(chord!.key);
    expect(regionAt(survey, INSIDE)).not.toBe(regionAt(survey, OUTSIDE));
  });

  test('is open where someone said so, and where no gaps are closed', () => {
    const open = surveyPage(page, DEFAULT_PREP, { rulings: new Map([[chord!.key, 'open']]) });
    expect(regionAt(open, INSIDE)).toBe(regionAt(open, OUTSIDE));
    expect(gapsToRule(open.closures)).not.toContain(chord!.key);
    expect(surveyPage(page, { ...DEFAULT_PREP, maxGapPx: 0 }).closures).toEqual([]);
  });

  test('is closed by a ruling whatever speaks against it, and does not depend on the largest gap', () => {
    const narrow = { ...DEFAULT_PREP, maxGapPx: 3 };
    expect(surveyPage(page, narrow).closures.some(({ kind }) => kind === 'outline')).toBe(true);
    const closed = surveyPage(page, narrow, { rulings: new Map([[chord!.key, 'closed']]) });
    expect(regionAt(closed, INSIDE)).not.toBe(regionAt(closed, OUTSIDE));
  });

  test('goes on to both sides of closures drawn across it, by the ruling it has as a whole', () => {
    const drawn = ['140,84-140,380', '250,390-250,84'];
    const rooms = [120, 200, 270].map((x) => 200 * SIZE + x);
    const regionsOf = (divided: typeof survey): number[] => [...rooms, OUTSIDE].map((at) => regionAt(divided, at));
    const parts = outlinesIn(surveyPage(page, DEFAULT_PREP, { drawn }));
    expect(new Set(parts.flatMap(({ from, to }) => [String(from), String(to)])).size).toBe(4);
    // Of themselves the parts, between lines that are no ink, need not hold: what is drawn across rules on the whole.
    expect(outlinesAcross(survey.closures, drawn)).toEqual([chord!.key]);
    expect(outlinesAcross(survey.closures, ['140,84-140,250'])).toEqual([]);
    const ruled = (ruling: 'open' | 'closed'): ReturnType<typeof openSurvey> => {
      const rulings = new Map([[chord!.key, ruling]]);
      const one = openSurvey(page, DEFAULT_PREP, { rulings });
      // One after the other, and then taken back.
      for (const some of [drawn.slice(0, 1), drawn]) one.cut(some, one.survey.maxGapPx, rulings);
      expect(outlinesIn(one.survey).map((part) => part.ruling)).toEqual([ruling, ruling, ruling]);
      return one;
    };
    expect(new Set(regionsOf(ruled('closed').survey)).size).toBe(4);
    expect(new Set(regionsOf(ruled('open').survey)).size).toBe(1);
    const back = ruled('closed');
    back.cut([], survey.maxGapPx, new Map());
    expect(outlinesIn(back.survey)).toEqual([chord]);
    // Drawn upon it, a closure stands for it.
    const { from, to } = chord!;
    expect(outlinesIn(surveyPage(page, DEFAULT_PREP, { drawn: [`${from}-${to[0]},${to[1] + 2}`] }))).toEqual([]);
  });

  test('is closed by the silhouette around it, where it does not bound by itself', () => {
    // Two strokes side by side: neither chord is likely enough.
    const strokes = surveyPage(draw(LEFT, RIGHT), DEFAULT_PREP);
    expect(regionAt(strokes, INSIDE)).toBe(regionAt(strokes, OUTSIDE));
    const loop = [[60, 40], [340, 40], [340, 340], [60, 340]] as const; // prettier-ignore
    const { cells, closures } = silhouetteInLoop(strokes, 0.9, loop, 0.8);
    expect([...cells]).toContain(strokes.field[INSIDE]!);
    expect([...cells]).not.toContain(strokes.field[OUTSIDE]!);
    const chords = outlinesIn(strokes).map(({ key }) => key);
    expect(chords).toHaveLength(2);
    expect([...closures].sort()).toEqual(chords.sort());
    // Ruled open, one of them lets the other hold nothing either.
    const rulings = new Map([[chords[0]!, 'open' as const]]);
    const ruled = surveyPage(draw(LEFT, RIGHT), DEFAULT_PREP, { rulings });
    expect(silhouetteInLoop(ruled, 0.9, loop, 0.8).closures).toEqual([]);
  });

  test('leaks through a gap of its own, which is closed as always', () => {
    const gap = surveyPage(draw([100, 80, 107, 180], [100, 190, 107, 300], RIGHT, ROOF), DEFAULT_PREP);
    expect(regionAt(gap, INSIDE)).not.toBe(regionAt(gap, OUTSIDE));
    expect(gap.closures.filter(({ accepted }) => accepted).map(({ kind }) => kind).sort()).toEqual(['ends', 'outline']); // prettier-ignore
  });
});

test('where an inner line runs out beside the outer ones, the chords go from end to end', () => {
  // Narrower than gaps that are closed by themselves, to the left of it.
  const survey = surveyPage(draw(LEFT, RIGHT, ROOF, [140, 160, 147, 300]), DEFAULT_PREP);
  const chords = outlinesIn(survey);
  expect(chords.map(({ widthPx }) => Math.round(widthPx / 10)).sort((a, b) => a - b)).toEqual([3, 15]);
  expect(chords.some(({ widthPx }) => widthPx <= survey.maxGapPx)).toBe(true);
  expect(survey.regions.ofCell[survey.field[INSIDE]!]).not.toBe(survey.regions.ofCell[survey.field[OUTSIDE]!]);
});

describe('what is no open outline', () => {
  test('strokes that run towards each other, or apart', () => {
    expect(outlinesOf(draw([60, 100, 140, 107], [260, 100, 340, 107]))).toEqual([]);
    expect(outlinesOf(draw(LEFT, ROOF, [293, 80, 390, 87]))).toEqual([]);
  });

  test('short strokes, and those with something between their ends', () => {
    expect(outlinesOf(draw([100, 80, 107, 120], [293, 80, 300, 120]))).toEqual([]);
    expect(outlinesOf(draw(LEFT, RIGHT, ROOF, [197, 270, 203, 390]))).toEqual([]);
  });

  test('strokes that run off the page, which closes what lies between', () => {
    const bottom = draw([100, 80, 107, 396], [293, 80, 300, 396], ROOF);
    expect(outlinesOf(bottom)).toEqual([]);
    const { field, regions } = surveyPage(bottom, DEFAULT_PREP);
    expect(regions.ofCell[field[INSIDE]!]).not.toBe(regions.ofCell[field[OUTSIDE]!]);
    expect(outlinesOf(draw([100, 80, 107, 370], [293, 80, 300, 370], ROOF))).toHaveLength(1);
  });

  test('two strokes that only stand side by side', () => {
    expect(outlinesOf(draw(LEFT, RIGHT)).filter(({ accepted }) => accepted)).toEqual([]);
  });
});

test('a chord is rated on the scale of all closures', () => {
  const facts = { open: 100, inked: 0, texture: 0, strokeFeatures: [...NO_STROKE_FEATURES, 0, -6, -6, 0], areaPx: 20_000, radiusPx: 70, allOpen: 0, neighbours: 1, otherAreaPx: 90_000, wallsPx: 500 }; // prettier-ignore
  const features = outlineFeaturesOf(facts, 6);
  expect(features).toHaveLength(OUTLINE_FEATURES.length);
  const weights = OUTLINE_FEATURES.map(() => 0);
  expect(confidenceOf(rateOutline(features, BOUNDS_SCORE, weights))).toBeCloseTo(0.5, 2);
  const sure = OUTLINE_FEATURES.map((feature) => (feature === 'base' ? 3 : 0));
  expect(confidenceOf(rateOutline(features, BOUNDS_SCORE, sure))).toBeCloseTo(1 / (1 + Math.exp(-3)), 2);
  // Another bound moves the score along.
  expect(rateOutline(features, BOUNDS_SCORE + 1, sure)).toBeCloseTo(rateOutline(features, BOUNDS_SCORE, sure) + 1, 5);
});
