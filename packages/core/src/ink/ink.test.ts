import { describe, expect, test } from '@jest/globals';
import { NO_GAPS_PREP } from '../model/PageDocument.ts';
import { greyFromRgba } from '../raster/greyFromRgba.ts';
import { scanRuns } from '../raster/scanRuns.ts';
import { surveyPage } from '../survey/surveyPage.ts';
import { randomArt, seeded, strokes, textGrid } from '../tests/textGrid.ts';
import { findFaintInk } from './findFaintInk.ts';
import { inkFromGrey } from './inkFromGrey.ts';
import { countWidths, lineWidthOf, sampleWidths } from './lineWidths.ts';
import { lineWidthAt } from './measureInkAt.ts';
import { greyHistogram, measureInkPoints } from './measureInkPoints.ts';

/** A page of bars `inkWidth` wide, `paperWidth` apart. */
function bars(inkWidth: number, paperWidth: number, turned = false): ReturnType<typeof textGrid> {
  const size = 240;
  const data = new Uint8Array(size * size).fill(255);
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      if ((turned ? y : x) % (inkWidth + paperWidth) >= paperWidth) data[y * size + x] = 0;
    }
  }
  return { width: size, height: size, data };
}

describe('ink points', () => {
  test('of clean black on white are the ends of the scale', () => {
    expect(measureInkPoints(bars(4, 20))).toEqual({ blackPoint: 0, whitePoint: 255 });
  });

  test('follow off-white paper and grey ink, within the noise', () => {
    const random = seeded(4);
    const page = bars(5, 25);
    const noisy = page.data.map((v) => Math.round((v === 0 ? 46 : 226) + (random() - 0.5) * 12));
    const { blackPoint, whitePoint } = measureInkPoints({ ...page, data: noisy });
    expect(blackPoint).toBeGreaterThanOrEqual(38);
    // All of the noisy ink is solid: it reaches up to 52.
    expect(blackPoint).toBeLessThanOrEqual(64);
    expect(whitePoint).toBeGreaterThanOrEqual(210);
    expect(whitePoint).toBeLessThanOrEqual(232);
    const ink = inkFromGrey({ ...page, data: noisy }, { blackPoint, whitePoint });
    expect(ink.filter((a, i) => page.data[i] === 255 && a > 25).length).toBe(0);
  });

  test('turn a page without ink into no ink', () => {
    for (const tone of [255, 244, 200]) {
      const data = new Uint8Array(400).fill(tone);
      const survey = surveyPage({ width: 20, height: 20, data }, NO_GAPS_PREP);
      expect(survey.regions.count).toBe(1);
      expect(survey.lineWidthPx).toEqual({ median: 0, p10: 0, p90: 0 });
    }
  });

  test('count every byte, also where words repeat and at the end of an odd raster', () => {
    const random = seeded(9);
    const data = Uint8Array.from({ length: 1003 }, (_, k) => (k % 50 < 30 ? 255 : Math.floor(random() * 256)));
    const plain = new Uint32Array(256);
    for (const v of data) plain[v]!++;
    expect([...greyHistogram(data)]).toEqual([...plain]);
  });
});

describe('line widths', () => {
  const page = strokes(200, 120, 6, [
    [20, 30, 180, 30],
    [20, 60, 180, 60],
  ]);
  const survey = surveyPage(page, NO_GAPS_PREP);
  const runs = scanRuns(survey.inkAlpha, 200, 120);
  const samples = sampleWidths(survey.field, runs, 200, 120);

  test('are measured on the middle of the ink, with the place of each', () => {
    expect(samples.count).toBeGreaterThan(200);
    for (let k = 0; k < samples.count; k++) expect(survey.field[samples.at[k]!]).toBeLessThan(0);
    expect(Math.abs(lineWidthOf(samples).median - 6)).toBeLessThanOrEqual(1);
    expect(countWidths(samples).reduce((sum, count) => sum + count, 0)).toBe(samples.count);
  });

  test('are zero where there is no line', () => {
    expect(lineWidthOf({ ...samples, count: 0 })).toEqual({ median: 0, p10: 0, p90: 0 });
  });
});

describe('ink alpha', () => {
  test('is darkness as opacity, in a straight line between the points', () => {
    const grey = { width: 5, height: 1, data: Uint8Array.of(0, 50, 125, 200, 255) };
    expect([...inkFromGrey(grey, { blackPoint: 50, whitePoint: 200 })]).toEqual([255, 255, 128, 0, 0]);
  });

  test('may be written over the grey itself', () => {
    const grey = { width: 4, height: 2, data: Uint8Array.of(0, 255, 255, 0, 10, 10, 10, 10) };
    const out = inkFromGrey(grey, { blackPoint: 0, whitePoint: 255 }, grey.data);
    expect([...out]).toEqual([255, 0, 0, 255, 245, 245, 245, 245]);
  });

  test('needs its points in order', () => {
    expect(() => inkFromGrey(textGrid(['.']), { blackPoint: 90, whitePoint: 90 })).toThrow(
      /`blackPoint` must be below/,
    );
  });
});

describe('faint ink', () => {
  test('keeps a hairline whole where its coverage drops below half', () => {
    const grid = textGrid(['.......', '.......', '###4344', '.......', '.......']);
    const survey = surveyPage(grid, {
      ...NO_GAPS_PREP,
      inkPoints: { blackPoint: 0, whitePoint: 255 },
      crumbLimitPx2: 0,
    });
    // The last pixel lies on the rim, where a ridge cannot be told.
    expect(survey.field.slice(14, 20).every((value) => value < 0)).toBe(true);
  });

  test('does not thicken the fringe of an ordinary line', () => {
    const grid = textGrid(Array.from({ length: 9 }, () => '....3###3....'));
    const ink = inkFromGrey(grid, { blackPoint: 0, whitePoint: 255 });
    expect(findFaintInk(ink, grid.width, grid.height).length).toBe(0);
  });

  test('leaves the ink alpha as it is', () => {
    const art = randomArt(6, 120, 90);
    const plain = inkFromGrey(art, { blackPoint: 0, whitePoint: 255 });
    const survey = surveyPage(art, {
      ...NO_GAPS_PREP,
      inkPoints: { blackPoint: 0, whitePoint: 255 },
      crumbLimitPx2: 'auto',
    });
    expect([...survey.inkAlpha]).toEqual([...plain]);
  });
});

describe('line width', () => {
  test.each([1, 2, 3, 4, 5, 8, 13])('of bars %i px wide is that width', (width) => {
    for (const turned of [false, true]) {
      const { lineWidthPx } = surveyPage(bars(width, 20, turned), NO_GAPS_PREP);
      expect(lineWidthPx.median).toBe(width);
      expect(lineWidthPx.p10).toBe(width);
    }
  });

  test('leaves solid blacks out', () => {
    const page = bars(4, 26);
    for (let y = 60; y < 180; y++) page.data.fill(0, y * 240 + 60, y * 240 + 200);
    expect(surveyPage(page, NO_GAPS_PREP).lineWidthPx.median).toBe(4);
  });

  test('can be asked at a point, and is none on paper', () => {
    const survey = surveyPage(bars(7, 20), NO_GAPS_PREP);
    expect(lineWidthAt(survey, 21, 100)).toBe(7);
    expect(lineWidthAt(survey, 5, 100)).toBeNull();
    expect(lineWidthAt(survey, -1, 0)).toBeNull();
  });
});

describe('grey', () => {
  test('weighs the channels and lays transparency over white', () => {
    const rgba = Uint8Array.of(255, 255, 255, 255, 0, 0, 0, 255, 0, 0, 0, 0, 0, 0, 0, 128, 255, 0, 0, 255);
    expect([...greyFromRgba(rgba, 5, 1).data]).toEqual([255, 0, 255, 127, 54]);
  });

  test('of a grey picture in colour is that grey, for every value', () => {
    const rgba = new Uint8Array(1024);
    for (let v = 0; v < 256; v++) rgba.set([v, v, v, 255], v * 4);
    expect([...greyFromRgba(rgba, 256, 1).data]).toEqual(Array.from({ length: 256 }, (_, v) => v));
  });

  test('needs four bytes a pixel', () => {
    expect(() => greyFromRgba(new Uint8Array(7), 2, 1)).toThrow(RangeError);
  });
});

describe('surveyPage', () => {
  test.each([
    [{ width: 0, height: 1, data: new Uint8Array(0) }, /`width` must be an integer from 1/],
    [{ width: 2, height: 2, data: new Uint8Array(3) }, /`data` must hold/],
    [{ width: 20_000, height: 20_000, data: new Uint8Array(1) }, /at most 200000000 pixels/],
    [{ width: Number.NaN, height: 2, data: new Uint8Array(3) }, /received NaN/],
  ])('refuses a raster that contradicts itself', (grey, message) => {
    expect(() => surveyPage(grey, NO_GAPS_PREP)).toThrow(message);
  });

  test('reports its steps in order and uses the memory it is given', () => {
    const steps: string[] = [];
    const sizes: number[] = [];
    surveyPage(textGrid(['..#..', '..#..']), NO_GAPS_PREP, {
      onStep: (step) => steps.push(step),
      allocate: (bytes) => {
        sizes.push(bytes);
        return new SharedArrayBuffer(bytes);
      },
    });
    expect(steps).toEqual(['ink', 'trap', 'measure', 'gaps', 'label', 'divide']);
    expect(sizes).toEqual([10, 40]);
  });
});
