import { describe, expect, test } from '@jest/globals';
import { NO_GAPS_PREP } from '../../model/PageDocument.ts';
import { surveyPage } from '../../survey/surveyPage.ts';
import { strokes } from '../../tests/textGrid.ts';
import { blur, kernelOf } from './guideBlur.ts';
import { refinePlace } from './refinePlace.ts';
import type { GuidePlace, GuideRaster } from '../register/registerGuide.ts';
import { coverOf, laidOut } from './coverOf.ts';

type Line = [number, number, number, number];
// Slanted, so that what a line covers of a px does not go in steps.
const lines = [60, 170, 260, 400, 520].flatMap((at): Line[] => [
  [at, 0, at - 50, 440],
  [0, at * 0.7, 600, at * 0.7 + 70],
]);
const page = surveyPage(strokes(600, 440, 5, lines), NO_GAPS_PREP);
const count = page.regions.count;
const colours = Float64Array.from({ length: count * 3 }, (_, k) => (k * 83) % 251);
const kernel = kernelOf(0.9);

/** The page as a key that lies at a place. */
function guideAt(place: GuidePlace, width = 120, height = 88): GuideRaster {
  const rgb = new Uint8Array(width * height * 3);
  const cover = coverOf(page, { width, height, rgb }, place, 8);
  laidOut(cover, Float64Array.from(colours)).forEach((image, channel) => {
    blur(image, new Float64Array(image.length), width, height, kernel);
    image.forEach((v, p) => (rgb[p * 3 + channel] = Math.round(v)));
  });
  return { width, height, rgb };
}

describe('where a key lies', () => {
  const place: GuidePlace = { scaleX: 0.2, scaleY: 0.2, shiftX: 0.4, shiftY: -0.3 };

  test('is found to a fraction of its px from a third of one off', () => {
    const guide = guideAt(place);
    for (const off of [
      { ...place, shiftX: 0.7, shiftY: -0.5 },
      { scaleX: 0.2006, scaleY: 0.1993, shiftX: 0.3, shiftY: -0.2 },
    ]) {
      const step = (from: GuidePlace): GuidePlace =>
        refinePlace(guide, from, coverOf(page, guide, from, 6), kernel, colours);
      const found = step(step(off));
      for (const [x, y] of [
        [0, 0],
        [600, 440],
      ] as const) {
        expect(Math.abs(x * (found.scaleX - place.scaleX) + found.shiftX - place.shiftX)).toBeLessThan(0.15);
        expect(Math.abs(y * (found.scaleY - place.scaleY) + found.shiftY - place.shiftY)).toBeLessThan(0.15);
      }
    }
  });

  test('stays where nothing tells it', () => {
    const blank = { width: 120, height: 88, rgb: new Uint8Array(120 * 88 * 3).fill(200) };
    const grey = new Float64Array(count * 3).fill(200);
    expect(refinePlace(blank, place, coverOf(page, blank, place, 4), kernel, grey)).toEqual(place);
  });
});
