import { beforeEach, expect, test } from '@jest/globals';
import type { Viewport } from '@jumble/core';
import { PAPER_TONES, INITIAL, type BenchState } from './benchState.ts';
import { Looking, type LookState } from './Looking.ts';
import { fitPage } from './viewport.ts';

let state: BenchState;
let sent: string[];
let looking: Looking;
const set = (part: Partial<BenchState>): void => void (state = { ...state, ...part });
const PAGE = { width: 400, height: 600 } as BenchState['page'] & object;
const VIEW: Viewport = { x: 10, y: 20, scale: 2, width: 200, height: 100 };

beforeEach(() => {
  state = { ...INITIAL, page: PAGE, view: VIEW, stage: 'flats' };
  sent = [];
  looking = new Looking({
    get state() {
      return state;
    },
    set: (part: Partial<LookState>) => set(part),
    engine: {
      view: (view, options) => sent.push(`view ${view.width}x${view.height} ${options.markMissing}`),
      point: (hovered, preview, current) => sent.push(`point ${hovered} ${preview} ${current}`),
      loupe: (at) => void sent.push(`loupe ${at?.join() ?? null}`),
    },
    regionAt: (x) => (x < 50 ? 1 : x < 100 ? 2 : null),
    paintedAt: ([x]) => (x === 7 ? 'coat' : null),
    wordIfClicked: (region) => 100 + region,
  });
});

test('a canvas that grows shows the same middle, or the whole page where that was shown', () => {
  set({ survey: {} as BenchState['survey'] });
  looking.resize(400, 300);
  expect(state.view).toEqual({ ...VIEW, x: -40, y: -30, width: 400, height: 300 });
  set({ view: fitPage(PAGE, VIEW) });
  looking.resize(800, 700);
  expect(state.view).toEqual(fitPage(PAGE, { width: 800, height: 700 }));
});

test('the first size shows the whole page, or waits for it', () => {
  set({ view: null, page: null });
  looking.resize(300, 200);
  expect(state.view).toEqual({ x: 0, y: 0, scale: 1, width: 300, height: 200 });
  // Until it is read the page that came is shown whole.
  set({ page: PAGE });
  looking.resize(310, 200);
  expect(state.view).toEqual(fitPage(PAGE, { width: 310, height: 200 }));
});

test('what a click would do shows where the pointer stands, and is sent when it moves on', () => {
  looking.hover([20, 5]);
  looking.hover([30, 5]);
  looking.hover([7, 5]);
  expect([state.hovered, state.pointer, state.painted]).toEqual([1, [7, 5], 'coat']);
  looking.hover([70, 5]);
  looking.hover(null);
  expect([state.hovered, state.pointer, state.painted]).toEqual([null, null, null]);
  expect(sent).toEqual(['point 1 101 null', 'point 2 102 null', 'point null null null']);
});

test('while a gesture runs nothing is outlined but what the pen stays inside', () => {
  looking.hover([20, 5]);
  looking.beginGesture();
  set({ flats: { ...state.flats, way: 'pen' } });
  looking.point();
  looking.endGesture();
  expect(sent).toEqual(['point 1 101 null', 'point null null null', 'point 1 null null', 'point 1 101 null']);
});

test('missing parts are not marked on the drawing alone', () => {
  looking.setOptions({ paper: PAPER_TONES.white });
  set({ stage: 'lineart' });
  looking.refresh();
  expect(sent).toEqual(['view 200x100 true', 'view 200x100 false', 'point null null null']);
  expect(state.options.markMissing).toBe(true);
});

test('the loupe stands where the pointer does', () => {
  looking.hover([20, 5]);
  looking.showLoupe([1, 2]);
  looking.showLoupe(null);
  expect([state.loupe, ...sent.slice(1)]).toEqual([null, 'loupe 20,5', 'loupe null']);
});
