import { describe, expect, test } from '@jest/globals';
import { NO_GAPS_PREP } from '../model/PageDocument.ts';
import { NO_PAPER } from '../raster/spreadIntoInk.ts';
import { surveyPage } from '../survey/surveyPage.ts';
import { randomArt, textGrid } from '../tests/textGrid.ts';
import { renderParts } from './renderParts.ts';

const KEEP_ALL = { ...NO_GAPS_PREP, crumbLimitPx2: 0 };

/** Looks at every paper pixel for every ink pixel; ties go to the lowest index. */
function naiveNearest(field: Int32Array, width: number): Int32Array {
  const height = field.length / width;
  return field.map((value, i) => {
    if (value >= 0) return i;
    let best = Infinity;
    let nearest = -1;
    for (let y = 0, p = 0; y < height; y++) {
      for (let x = 0; x < width; x++, p++) {
        if (field[p]! < 0) continue;
        const distance2 = (x - (i % width)) ** 2 + (y - Math.floor(i / width)) ** 2;
        if (distance2 < best) {
          best = distance2;
          nearest = p;
        }
      }
    }
    return nearest;
  });
}

describe('nearest paper', () => {
  test('is exactly what looking everywhere finds, ties included, on random line art', () => {
    for (let seed = 1; seed <= 8; seed++) {
      const art = randomArt(seed, 36 + seed * 3, 56 - seed * 2);
      const { field, width } = surveyPage(art, KEEP_ALL);
      const naive = naiveNearest(field, width);
      for (let i = 0; i < field.length; i++) {
        if (field[i]! < 0 && ~field[i]! !== naive[i]) {
          throw new Error(`seed ${seed}: ink pixel ${i} takes ${~field[i]!}, nearest is ${naive[i]}`);
        }
      }
    }
  });

  test('is exact inside a large solid black too, where distances are long', () => {
    const rows = Array.from({ length: 90 }, (_, y) =>
      (y < 2 || y > 86 ? '.' : '.'.repeat(3)).padEnd(100, y < 2 || y > 86 ? '.' : '#'),
    );
    const { field, width } = surveyPage(textGrid(rows), KEEP_ALL);
    const naive = naiveNearest(field, width);
    expect(field.every((value, i) => value >= 0 || ~value === naive[i])).toBe(true);
  });

  test('is none on a page of ink alone', () => {
    const { field, regions } = surveyPage(textGrid(['###', '###']), {
      ...KEEP_ALL,
      inkPoints: { blackPoint: 0, whitePoint: 255 },
    });
    expect(regions.count).toBe(0);
    expect([...field].every((value) => value === NO_PAPER)).toBe(true);
  });
});

describe('trap', () => {
  // Two regions either side of a line five px wide.
  const survey = surveyPage(textGrid(Array.from({ length: 5 }, () => '...#####...')), KEEP_ALL);
  const row = (trap: Parameters<typeof renderParts>[3]): string =>
    [...renderParts(survey, Int32Array.of(0, 1), 2, trap).data.subarray(22, 33)].join('');

  test('runs colour to the middle of the line from both sides', () => {
    expect(row({ rule: 'middle' })).toBe('11111122222');
  });

  test('stops at a depth, and leaves the rest of the line without colour', () => {
    expect(row({ rule: 'depth', depthPx: 1 })).toBe('11110002222');
  });

  test('never goes past the middle, however deep it may', () => {
    expect(row({ rule: 'depth', depthPx: 50 })).toBe(row({ rule: 'middle' }));
  });

  test('leaves no colour where a region has no part, and none of its neighbour shows through', () => {
    const raster = renderParts(survey, Int32Array.of(-1, 1), 2, { rule: 'middle' });
    expect([...raster.data.subarray(22, 33)].join('')).toBe('00000022222');
    expect([...raster.areaPx]).toEqual([0, 25]);
    expect([...raster.box.subarray(4)]).toEqual([6, 0, 11, 5]);
  });

  test('colours every pixel of the grey fringe beside a filled region, at any depth from 1 px on', () => {
    for (const seed of [2, 5, 9]) {
      const art = randomArt(seed, 140, 120);
      const page = surveyPage(art, NO_GAPS_PREP);
      const all = new Int32Array(page.regions.count).fill(0);
      const { data } = renderParts(page, all, 1, { rule: 'depth', depthPx: 1 });
      for (let i = 0; i < data.length; i++) {
        const x = i % page.width;
        const besidePaper = (x > 0 && page.field[i - 1]! >= 0) || (x < page.width - 1 && page.field[i + 1]! >= 0);
        if ((page.field[i]! >= 0 || besidePaper) && data[i] !== 1)
          throw new Error(`seed ${seed}: pixel ${i} is without colour`);
      }
    }
  });

  test('refuses more parts than a raster can number', () => {
    expect(() => renderParts(survey, Int32Array.of(0, 1), 70_000, { rule: 'middle' })).toThrow(RangeError);
  });
});
