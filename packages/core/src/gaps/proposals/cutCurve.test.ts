import { describe, expect, test } from '@jest/globals';
import { DEFAULT_PREP, NO_GAPS_PREP } from '../../model/PageDocument.ts';
import { surveyPage } from '../../survey/surveyPage.ts';
import type { GreyRaster } from '../../raster/GreyRaster.ts';
import { curveBetween, pointOfCut, walkCut } from './cutCurve.ts';

const PREP = { ...DEFAULT_PREP, maxGapPx: 70 };

/** A ring of ink, open between two angles in degrees. */
function ring(radius: number, openFrom: number, openTo: number): GreyRaster {
  const size = 2 * radius + 60;
  const middle = size / 2;
  const data = new Uint8Array(size * size).fill(255);
  const { atan2, hypot, PI } = Math;
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      const d = hypot(x - middle, y - middle) - radius;
      const turn = ((atan2(y - middle, x - middle) * 180) / PI + 360) % 360;
      if (d > -3 && d < 3 && (turn < openFrom || turn > openTo)) data[y * size + x] = 0;
    }
  }
  return { width: size, height: size, data };
}

/** Intersection over union of the region at the middle with that of the closed ring. */
function overlap(art: GreyRaster, whole: GreyRaster, asChord = false): number {
  const inside = ({ field, regions, width, height }: ReturnType<typeof surveyPage>): Uint8Array => {
    const own = regions.ofCell[field[(height >> 1) * width + (width >> 1)]!]!;
    return Uint8Array.from(field, (value) => {
      const cell = value < 0 ? (field[~value] ?? -1) : value;
      return cell >= 0 && regions.ofCell[cell] === own ? 1 : 0;
    });
  };
  const survey = surveyPage(art, PREP);
  const chord = survey.closures.find((one) => one.accepted)!;
  const drawn = asChord ? [`${chord.from.join(',')}-${chord.to.join(',')}`] : [];
  const found = inside(asChord ? surveyPage(art, { ...DEFAULT_PREP, maxGapPx: 0 }, { drawn }) : survey);
  const wanted = inside(surveyPage(whole, NO_GAPS_PREP));
  let [both, either] = [0, 0];
  for (let at = 0; at < found.length; at++) {
    both += found[at]! & wanted[at]!;
    either += found[at]! | wanted[at]!;
  }
  return both / either;
}

describe('a closure between two strokes', () => {
  test('carries a round form on', () => {
    const [open, whole] = [ring(90, 72, 108), ring(90, 400, 400)];
    const [closure] = surveyPage(open, PREP).closures.filter((one) => one.accepted);
    expect(closure!.kind).toBe('ends');
    const [x, y] = pointOfCut(closure!, 0.5);
    expect(Math.abs(Math.hypot(x - 120, y - 120) - 90)).toBeLessThan(2);
    expect(1 - overlap(open, whole)).toBeLessThan(0.7 * (1 - overlap(open, whole, true)));
  });

  test('is a chord where the strokes look along it, or turn too far away to say anything', () => {
    expect(curveBetween([0, 0], [50, 0], [1, 0, -1, 0])).toBeNull();
    expect(curveBetween([0, 0], [50, 0], [0, 1, -1, 0])).toBeNull();
    expect(curveBetween([0, 0], [2, 0], [0.8, 0.6, -0.8, 0.6])).toBeNull();
  });

  test('is the arc of a circle where both turn alike', () => {
    // A quarter of a circle about (0, 0) with radius 100.
    const curve = curveBetween([100, 0], [0, 100], [0, 1, 1, 0]);
    for (const t of [0.2, 0.5, 0.8]) {
      const [x, y] = pointOfCut({ from: [100, 0], to: [0, 100], curve }, t);
      expect(Math.abs(Math.hypot(x, y) - 100)).toBeLessThan(0.6);
    }
  });

  test('between unequal turns lies between both', () => {
    const one = curveBetween([0, 0], [60, 0], [0.8, 0.6, -1, 0])!;
    const [, y] = pointOfCut({ from: [0, 0], to: [60, 0], curve: one }, 0.5);
    expect(y).toBeGreaterThan(2);
    expect(y).toBeLessThan(10);
  });

  test('is walked from end to end without a gap that colour passes', () => {
    const curve = curveBetween([10, 10], [70, 40], [0.6, -0.8, -0.9, -0.43]);
    let last: [number, number] | undefined;
    walkCut({ from: [10, 10], to: [70, 40], curve }, (x, y) => {
      if (last !== undefined) expect(Math.max(Math.abs(x - last[0]), Math.abs(y - last[1]))).toBeLessThanOrEqual(1);
      last = [x, y];
    });
    expect(last).toEqual([70, 40]);
  });
});
