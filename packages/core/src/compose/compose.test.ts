import { describe, expect, test } from '@jest/globals';
import { NO_GAPS_PREP } from '../model/PageDocument.ts';
import type { Survey } from '../model/Survey.ts';
import { middleTrap, uniformTrap } from '../trap/RegionTrap.ts';
import { compileTrap, NO_TRAP_INK, type TrapTable } from '../trap/TrapTable.ts';
import { surveyPage } from '../survey/surveyPage.ts';
import { randomArt, textGrid } from '../tests/textGrid.ts';
import { renderParts } from '../trap/renderParts.ts';
import { buildPyramid } from './buildPyramid.ts';
import { CURRENT, type ComposeOptions, HOVERED, type Viewport, compose } from './compose.ts';
import { darken } from './layOver.ts';
import { paintOfRegions } from './paintOfRegions.ts';

const KEEP_ALL = { ...NO_GAPS_PREP, crumbLimitPx2: 0 };
const RED = 0xff0000ff;
const BLUE = 0xffff0000;
const WHITE = 0xffffffff;
const GROUND = 0xff8a8a8a;

const toMiddle = (survey: Survey): TrapTable => compileTrap(survey, middleTrap(survey.regions.count), NO_TRAP_INK);

function draw(
  survey: ReturnType<typeof surveyPage>,
  parts: number[],
  view: Viewport,
  options: ComposeOptions = {},
  marks: [number, number][] = [],
): Uint32Array {
  const paint = paintOfRegions(survey, Int32Array.from(parts), Uint32Array.of(RED, BLUE), toMiddle(survey));
  for (const [cell, mark] of marks) paint.marks[cell]! |= mark;
  const out = new Uint32Array(view.width * view.height).fill(0x12345678);
  compose(buildPyramid(survey, undefined, 8), paint, view, out, options);
  return out;
}

const page = surveyPage(textGrid(['..#..', '..#..', '..#..']), KEEP_ALL);
const whole = { x: 0, y: 0, scale: 1, width: 5, height: 3 };

describe('compose', () => {
  test('draws flats with the ink over them, pixel for pixel at full size', () => {
    expect([...draw(page, [0, 1], whole)].slice(0, 5)).toEqual([RED, RED, 0xff000000, BLUE, BLUE]);
  });

  test('shows colour under the ink to the middle of the line when the ink is hidden', () => {
    expect([...draw(page, [0, 1], whole, { showInk: false })].slice(0, 5)).toEqual([RED, RED, RED, BLUE, BLUE]);
  });

  test('shows paper where a region has no part, with a tone when what is missing is marked', () => {
    expect(draw(page, [-1, 1], whole)[0]).toBe(WHITE);
    const marked = draw(page, [-1, 1], { ...whole, scale: 8, width: 16, height: 16 }, { markMissing: true });
    expect(new Set(marked).size).toBeGreaterThan(1);
    expect(marked.every((word) => word >>> 24 === 255)).toBe(true);
  });

  test('joins the tone of open regions between pictures that stand side by side', () => {
    const view = { ...whole, scale: 8, width: 16, height: 8 };
    const one = draw(page, [-1, -1], view, { markMissing: true });
    const right = draw(page, [-1, -1], { ...view, x: 1, width: 8 }, { markMissing: true, tileOrigin: [8, 0] });
    for (let y = 0; y < 8; y++) for (let x = 0; x < 8; x++) expect(right[y * 8 + x]).toBe(one[y * 16 + 8 + x]);
  });

  test('shows another ground where paper is bare, under painted "leave empty" too', () => {
    const grey = 0xff9a9a9a;
    expect(draw(page, [-1, 1], whole, { paper: grey })[0]).toBe(grey);
    expect(draw(page, [0, 1], whole, { paper: grey })[0]).toBe(RED);
    const paint = {
      ...paintOfRegions(page, Int32Array.of(0, 1), Uint32Array.of(RED, BLUE), toMiddle(page)),
      corrections: { tilesPerRow: 1, tiles: new Map([[0, new Uint32Array(4096).fill(WHITE, 0, 1)]]) },
    };
    const out = new Uint32Array(15);
    compose([page], paint, whole, out, { paper: grey });
    expect([out[0], out[1]]).toEqual([grey, RED]);
  });

  test('draws the ground around the page', () => {
    const out = draw(page, [0, 1], { x: -1, y: -1, scale: 1, width: 7, height: 5 });
    expect(out[0]).toBe(GROUND);
    expect(out[7]).toBe(GROUND);
    expect(out[8]).toBe(RED);
    expect(out[34]).toBe(GROUND);
  });

  test('makes each page pixel one square when zoomed in', () => {
    const out = draw(page, [0, 1], { x: 1, y: 1, scale: 4, width: 12, height: 4 });
    expect([...out.subarray(0, 12)]).toEqual([
      RED,
      RED,
      RED,
      RED,
      ...Array<number>(4).fill(0xff000000),
      BLUE,
      BLUE,
      BLUE,
      BLUE,
    ]);
  });

  test('averages ink when zoomed out: the darkness of a page stays about the same', () => {
    const art = randomArt(7, 400, 300);
    const survey = surveyPage(art, KEEP_ALL);
    const none = Array<number>(survey.regions.count).fill(-1);
    const mean = (words: Uint32Array): number => words.reduce((sum, word) => sum + (word & 255), 0) / words.length;
    const full = mean(draw(survey, none, { x: 0, y: 0, scale: 1, width: 400, height: 300 }));
    for (const scale of [0.5, 0.37, 0.25, 0.125]) {
      const small = mean(
        draw(survey, none, { x: 0, y: 0, scale, width: Math.floor(400 * scale), height: Math.floor(300 * scale) }),
      );
      expect(Math.abs(small - full)).toBeLessThan(6);
    }
  });

  test('at full size is the hand-off raster with the ink laid over it', () => {
    const art = randomArt(11, 150, 130);
    const survey = surveyPage(art, NO_GAPS_PREP);
    const parts = Array.from({ length: survey.regions.count }, (_, r) => (r % 3) - 1);
    const out = draw(survey, parts, { x: 0, y: 0, scale: 1, width: 150, height: 130 });
    const raster = renderParts(survey, Int32Array.from(parts), 2, middleTrap(survey.regions.count));
    for (let i = 0; i < out.length; i++) {
      const flat = [WHITE, RED, BLUE][raster.data[i]!]!;
      expect(out[i]).toBe(survey.inkAlpha[i] === 0 ? flat : darken(flat, survey.inkAlpha[i]!) >>> 0);
    }
  });

  test('outlines the region under the pointer, and the current one over it', () => {
    const big = { ...whole, scale: 8, width: 40, height: 24 };
    const cell = page.field[0]!;
    const hovered = draw(page, [0, 1], big, { hoverOutline: 0xff111111 }, [[cell, HOVERED]]);
    expect(hovered.filter((word) => word === 0xff111111).length).toBeGreaterThan(20);
    const both = draw(page, [0, 1], big, { hoverOutline: 0xff111111, currentOutline: 0xff222222 }, [
      [cell, HOVERED | CURRENT],
    ]);
    expect(both.filter((word) => word === 0xff111111).length).toBe(0);
  });

  test('keeps a trap depth at any zoom', () => {
    const wide = surveyPage(textGrid(Array.from({ length: 3 }, () => '..########..')), KEEP_ALL);
    const trap = compileTrap(wide, uniformTrap(2, { rule: 'depth', depthPx: 2 }), NO_TRAP_INK);
    const paint = paintOfRegions(wide, Int32Array.of(0, 1), Uint32Array.of(RED, BLUE), trap);
    const out = new Uint32Array(24);
    compose([wide], paint, { x: 0, y: 1, scale: 2, width: 24, height: 1 }, out, { showInk: false });
    expect([...out].map((word) => (word === RED ? 'r' : word === BLUE ? 'b' : '.')).join('')).toBe(
      'rrrrrrrr........bbbbbbbb',
    );
  });

  test('needs a scale above 0', () => {
    expect(() => draw(page, [0, 1], { ...whole, scale: 0 })).toThrow(/`scale` must be above 0/);
  });

  test('rounds ink over colour to the nearest step, for every pair', () => {
    for (let c = 0; c < 256; c += 5) {
      for (let a = 0; a < 256; a++) {
        expect(darken(0xff000000 | (c << 16) | (c << 8) | c, a) & 255).toBe(Math.round((c * (255 - a)) / 255));
      }
    }
  });
});
