import { expect, test } from '@jest/globals';
import { DEFAULT_PREP } from '../model/PageDocument.ts';
import { strokes } from '../tests/textGrid.ts';
import { openSurvey } from './surveyPage.ts';
import { firstDifference } from '../tests/firstDifference.ts';

const room = () =>
  openSurvey(
    strokes(300, 200, 6, [
      [20, 20, 280, 20],
      [280, 20, 280, 180],
      [280, 180, 20, 180],
      [20, 180, 20, 20],
    ]),
    DEFAULT_PREP,
  );

test('what is tried is done and taken back, and says what was written over', () => {
  const page = room();
  const { regions, maxGapPx } = page.survey;
  const field = page.survey.field.slice();
  const { done, changed } = page.trying(() => ({
    changed: page.cut(['150,20-150,180'], maxGapPx, new Map()),
    count: page.survey.regions.count,
  }));
  expect(done.count).toBe(regions.count + 1);
  expect(changed![2] - changed![0]).toBeGreaterThan(100);
  expect([page.survey.regions.count, page.drawn]).toEqual([regions.count, []]);
  expect(firstDifference(page.survey.field, field)).toBeNull();
});

test('what was tried without cutting changes nothing', () => {
  const page = room();
  const { survey } = page;
  expect(page.trying(() => ({ changed: null }))).toEqual({ done: { changed: null }, changed: null });
  expect(page.survey).toBe(survey);
});

test('a cut that stands is what the next one is made on', () => {
  const page = room();
  const { maxGapPx, regions } = page.survey;
  page.cut(['150,20-150,180'], maxGapPx, new Map());
  page.cut(['150,20-150,180', '20,100-150,100'], maxGapPx, new Map());
  expect(page.survey.regions.count).toBe(regions.count + 2);
  expect(page.drawn).toHaveLength(2);
});
