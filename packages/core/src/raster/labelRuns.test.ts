import { describe, expect, test } from '@jest/globals';
import { NO_GAPS_PREP } from '../model/PageDocument.ts';
import { surveyPage } from '../survey/surveyPage.ts';
import type { Survey } from '../model/Survey.ts';
import { randomArt, textGrid } from '../tests/textGrid.ts';

const KEEP_ALL = { ...NO_GAPS_PREP, crumbLimitPx2: 0 };

/** Plain flood fill over 4 neighbours, in reading order: what the runs must agree with. */
function naiveRegions(mask: (at: number) => boolean, width: number, height: number): Int32Array {
  const label = new Int32Array(width * height).fill(-1);
  let count = 0;
  for (let start = 0; start < label.length; start++) {
    if (mask(start) || label[start]! >= 0) continue;
    const stack = [start];
    label[start] = count;
    while (stack.length > 0) {
      const at = stack.pop()!;
      const x = at % width;
      for (const next of [x > 0 ? at - 1 : -1, x < width - 1 ? at + 1 : -1, at - width, at + width]) {
        if (next < 0 || next >= label.length || mask(next) || label[next]! >= 0) continue;
        label[next] = count;
        stack.push(next);
      }
    }
    count++;
  }
  return label;
}

function regionsAsText(survey: Survey): string[] {
  return Array.from({ length: survey.height }, (_, y) =>
    Array.from({ length: survey.width }, (_, x) => {
      const cell = survey.field[y * survey.width + x]!;
      return cell < 0 ? '#' : String.fromCharCode(97 + survey.regions.ofCell[cell]!);
    }).join(''),
  );
}

describe('regions', () => {
  test('are the 4-connected pieces of paper, numbered in reading order of their first pixel', () => {
    const survey = surveyPage(textGrid(['..#...', '..#.##', '###.#.', '....#.', '######']), KEEP_ALL);
    expect(regionsAsText(survey)).toEqual(['aa#bbb', 'aa#b##', '###b#c', 'bbbb#c', '######']);
  });

  test('do not join across a diagonal of ink', () => {
    const survey = surveyPage(textGrid(['..#', '.#.', '#..']), KEEP_ALL);
    expect(regionsAsText(survey)).toEqual(['aa#', 'a#b', '#bb']);
  });

  test('join when two arms meet further down', () => {
    const survey = surveyPage(textGrid(['.#.', '.#.', '...']), KEEP_ALL);
    expect(survey.regions.count).toBe(1);
    expect(survey.regions.areaPx[0]).toBe(7);
  });

  test('know their area, box and whether they touch the edge of the page', () => {
    const survey = surveyPage(textGrid(['.....', '.###.', '.#.#.', '.###.', '.....']), KEEP_ALL);
    const { regions } = survey;
    expect(regions.count).toBe(2);
    expect([...regions.areaPx]).toEqual([16, 1]);
    expect([...regions.box]).toEqual([0, 0, 5, 5, 2, 2, 3, 3]);
    expect([...regions.touchesEdge]).toEqual([1, 0]);
  });

  test('agree with a plain flood fill on random line art', () => {
    for (let seed = 1; seed <= 25; seed++) {
      const art = randomArt(seed, 61 + seed * 7, 50 + seed * 5);
      const survey = surveyPage(art, KEEP_ALL);
      const naive = naiveRegions((at) => survey.field[at]! < 0, art.width, art.height);
      for (let i = 0; i < naive.length; i++) {
        if (naive[i] !== (survey.field[i]! < 0 ? -1 : survey.field[i])) {
          throw new Error(`seed ${seed}: pixel ${i} has cell ${survey.field[i]}, the flood fill says ${naive[i]}`);
        }
      }
      const areas = new Uint32Array(survey.regions.count);
      for (const label of naive) if (label >= 0) areas[label]!++;
      expect([...survey.regions.areaPx]).toEqual([...areas]);
    }
  });

  test('have an anchor inside themselves, about as deep as any of their points', () => {
    for (const seed of [3, 8, 13]) {
      const art = randomArt(seed, 260, 200);
      const { field, regions, width, height } = surveyPage(art, KEEP_ALL);
      for (let r = 0; r < regions.count; r++) {
        expect(regions.ofCell[field[regions.anchor[r]!]!]).toBe(r);
        const depthAt = (at: number): number => {
          const [x, y] = [at % width, Math.floor(at / width)];
          for (let d = 1; ; d++) {
            for (const [dx, dy] of [
              [d, 0],
              [-d, 0],
              [0, d],
              [0, -d],
            ] as const) {
              const [px, py] = [x + dx, y + dy];
              if (px < 0 || py < 0 || px >= width || py >= height || field[py * width + px] !== field[at]) return d;
            }
          }
        };
        let deepest = 0;
        for (let i = 0; i < field.length; i += 3)
          if (field[i]! >= 0 && regions.ofCell[field[i]!] === r) deepest = Math.max(deepest, depthAt(i));
        expect(depthAt(regions.anchor[r]!)).toBeGreaterThanOrEqual(Math.floor(deepest * 0.6));
      }
    }
  });
});

describe('crumbs', () => {
  // A line of three px, so that paper below nine px² is a crumb; a pinhole within a thick part of it.
  const grid = textGrid([
    '............',
    '############',
    '####.#######',
    '############',
    '............',
    '............',
    '............',
  ]);

  test('take the part around them and are counted', () => {
    const { regions, field } = surveyPage(grid, NO_GAPS_PREP);
    expect(regions.count).toBe(2);
    expect(regions.crumbs).toEqual({ count: 1, areaPx: 1 });
    const pinhole = regions.ofCell[field[2 * 12 + 4]!]!;
    expect([0, 1]).toContain(pinhole);
    expect(regions.areaPx.reduce((a, b) => a + b, 0)).toBe(49);
  });

  test('come back as regions of their own when the limit is 0', () => {
    const { regions } = surveyPage(grid, KEEP_ALL);
    expect(regions.count).toBe(3);
    expect(regions.crumbs.count).toBe(0);
  });

  test('stay regions where the page holds nothing larger', () => {
    const { regions } = surveyPage(textGrid(['####', '#..#', '####']), { ...NO_GAPS_PREP, crumbLimitPx2: 100 });
    expect(regions.count).toBe(1);
    expect(regions.crumbs.count).toBe(0);
  });

  test('number the region they come first in, so that ids follow the pixels', () => {
    const survey = surveyPage(textGrid(['#.#####', '#######', '.......', '.......']), {
      ...NO_GAPS_PREP,
      crumbLimitPx2: 4,
    });
    expect(regionsAsText(survey)).toEqual(['#a#####', '#######', 'aaaaaaa', 'aaaaaaa']);
  });
});
