/** @jest-environment node */
import { describe, expect, test } from '@jest/globals';
import { fitPage, MAX_SCALE, MIN_SCALE, panBy, showBox, zoomAt } from './viewport.ts';

const PAGE = { width: 2060, height: 3128 };
const SIZE = { width: 800, height: 600 };

describe('the view', () => {
  test('fits the whole page, in the middle', () => {
    const view = fitPage(PAGE, SIZE);
    expect(PAGE.height * view.scale).toBeLessThanOrEqual(600);
    expect(PAGE.height * view.scale).toBeGreaterThan(540);
    expect((PAGE.width / 2 - view.x) * view.scale).toBeCloseTo(400, 0);
  });

  test('zooms about the pointer: what is under it stays within a pixel', () => {
    let view = fitPage(PAGE, SIZE);
    const under = [view.x + 123 / view.scale, view.y + 456 / view.scale] as const;
    for (let k = 0; k < 8; k++) view = zoomAt(view, 1.25, 123, 456);
    expect(Math.abs((under[0] - view.x) * view.scale - 123)).toBeLessThanOrEqual(4);
    expect(Math.abs((under[1] - view.y) * view.scale - 456)).toBeLessThanOrEqual(4);
  });

  test('never zooms beyond its limits', () => {
    let view = fitPage(PAGE, SIZE);
    for (let k = 0; k < 100; k++) view = zoomAt(view, 2, 0, 0);
    expect(view.scale).toBe(MAX_SCALE);
    for (let k = 0; k < 100; k++) view = zoomAt(view, 0.5, 0, 0);
    expect(view.scale).toBe(MIN_SCALE);
  });

  test('moves by whole picture pixels and back exactly', () => {
    const start = panBy({ ...fitPage(PAGE, SIZE), scale: 1.37 }, 0, 0);
    const there = panBy(panBy(start, 113, -57), -113, 57);
    expect([there.x, there.y]).toEqual([start.x, start.y]);
  });

  test('shows a small region close up but not closer than 4 px per px, and a large one whole', () => {
    const view = fitPage(PAGE, SIZE);
    expect(showBox(view, PAGE, [100, 100, 104, 104]).scale).toBe(4);
    const large = showBox(view, PAGE, [0, 0, 2060, 3128]);
    expect(large.scale).toBe(view.scale);
  });
});
