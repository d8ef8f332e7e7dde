/** @jest-environment node */
import { beforeEach, expect, test } from '@jest/globals';
import { PAPER_TONES, type BenchState } from '../state/benchState.ts';
import { fitPage } from '../state/viewport.ts';
import { openTestBench, type TestBench } from '../tests/testBench.ts';
import { hut } from '../tests/testPages.ts';
import { beginGesture, endGesture, hover, outlinePointed, resizeView, setOptions } from './look.ts';
import { wordIfClicked } from './partColours.ts';
import { setStage } from './show.ts';
import { setFlats } from '../stages/flats/setFlats.ts';

let bench: TestBench;
const VIEW = { x: 10, y: 20, scale: 2, width: 200, height: 100 };
/** What the drawing worker was told of the pointer, since the test began. */
let from: number;
const pointed = (): (number | null)[][] =>
  bench.drawing.all('point').slice(from).map(({ hovered, preview }) => [hovered, preview]); // prettier-ignore

beforeEach(async () => {
  bench = await openTestBench(hut(12), { stage: 'flats', partId: 'coat' });
  bench.set({ view: VIEW });
  from = bench.drawing.all('point').length;
});

test('a canvas that grows shows the same middle, or the whole page where that was shown', () => {
  resizeView(bench, 400, 300);
  expect(bench.state.view).toEqual({ ...VIEW, x: -40, y: -30, width: 400, height: 300 });
  const page = bench.state.page!;
  bench.set({ view: fitPage(page, VIEW) });
  resizeView(bench, 800, 700);
  expect(bench.state.view).toEqual(fitPage(page, { width: 800, height: 700 }));
});

test('the first size shows the whole page, or waits for it', () => {
  const page = bench.state.page!;
  bench.set({ view: null, page: null, survey: null });
  resizeView(bench, 300, 200);
  expect(bench.state.view).toEqual({ x: 0, y: 0, scale: 1, width: 300, height: 200 });
  // Until it is read the page that came is shown whole.
  bench.set({ page });
  resizeView(bench, 310, 200);
  expect(bench.state.view).toEqual(fitPage(page, { width: 310, height: 200 }));
});

test('what a click would do shows where the pointer stands, and is sent when it moves on', () => {
  hover(bench, [10, 10]);
  hover(bench, [12, 10]);
  const outside = bench.state.hovered!;
  hover(bench, [120, 113]);
  const inside = bench.state.hovered!;
  expect(inside).not.toBe(outside);
  hover(bench, null);
  expect([bench.state.hovered, bench.state.pointer, bench.state.painted]).toEqual([null, null, null]);
  const word = wordIfClicked(bench.state, inside);
  expect(word).not.toBeNull();
  expect(pointed()).toEqual([
    [outside, word],
    [inside, word],
    [-1, null],
  ]);
});

test('while a gesture runs nothing is outlined but what the pen stays inside', () => {
  hover(bench, [120, 113]);
  const inside = bench.state.hovered!;
  beginGesture(bench);
  setFlats(bench, { way: 'pen' });
  outlinePointed(bench);
  setFlats(bench, { way: 'sweep' });
  endGesture(bench);
  const word = wordIfClicked(bench.state, inside);
  expect(pointed()).toEqual([
    [inside, word],
    [-1, null],
    [inside, null],
    [inside, word],
  ]);
});

test('missing parts are not marked on the drawing alone', () => {
  const marked = (): BenchState['options']['markMissing'] => bench.drawing.all('view').at(-1)!.options.markMissing;
  setOptions(bench, { paper: PAPER_TONES.mid });
  expect(marked()).toBe(true);
  setStage(bench, 'lineart');
  expect(marked()).toBe(false);
  expect(bench.state.options.markMissing).toBe(true);
});
