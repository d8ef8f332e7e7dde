import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { openTestBench, type TestBench } from '../tests/testBench.ts';
import { hut } from '../tests/testPages.ts';
import { listenToPointer } from './listenToPointer.ts';
import type { PageTool, ToolPointer } from './PageTool.ts';

let canvas: HTMLCanvasElement;
let stop: () => void;
let calls: string[];
let tool: PageTool & { active: boolean };
let bench: TestBench;

beforeEach(async () => {
  canvas = document.createElement('canvas');
  document.body.append(canvas);
  canvas.setPointerCapture = () => undefined;
  calls = [];
  const note = (name: string) => (pointer: ToolPointer) =>
    void calls.push(`${name} ${pointer.intent} ${pointer.x},${pointer.y}`);
  tool = {
    active: false,
    down: note('down'),
    move: (pointers) => void calls.push(`move ${pointers.map(({ x, y }) => `${x},${y}`).join(' ')}`),
    up: () => void calls.push('up'),
    cancel: () => void calls.push('cancel'),
  };
  bench = await openTestBench(hut(0));
  bench.set({ view: { x: 0, y: 0, scale: 1, width: 100, height: 100 } });
  stop = listenToPointer(canvas, bench, tool);
});
afterEach(() => {
  stop();
  canvas.remove();
});

/** The simulated browser has mouse events alone: pointer events are those with more fields. */
function pointer(type: string, x: number, y: number, more: object = {}): void {
  const event = new MouseEvent(type, { clientX: x, clientY: y, bubbles: true, ...more });
  const { pointerId = 1, pointerType = 'mouse' } = more as { pointerId?: number; pointerType?: string };
  Object.assign(event, { pointerId, pointerType });
  canvas.dispatchEvent(event);
}
const wheel = (init: WheelEventInit): void =>
  void canvas.dispatchEvent(new WheelEvent('wheel', { cancelable: true, ...init }));

describe('the pointer', () => {
  test('gives with the first button, takes with the second or with Shift, moves with the middle one', () => {
    pointer('pointerdown', 10, 20, { button: 0 });
    pointer('pointerdown', 10, 20, { button: 2 });
    pointer('pointerdown', 10, 20, { button: 0, shiftKey: true });
    pointer('pointerdown', 10, 20, { button: 1 });
    pointer('pointerup', 10, 20);
    expect(calls).toEqual(['down give 10,20', 'down take 10,20', 'down take 10,20', 'down pan 10,20', 'up']);
  });

  test('moves the page while Space is held', () => {
    window.dispatchEvent(new KeyboardEvent('keydown', { key: ' ' }));
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: ' ', bubbles: true }));
    pointer('pointerdown', 1, 2);
    document.body.dispatchEvent(new KeyboardEvent('keyup', { key: ' ', bubbles: true }));
    pointer('pointerdown', 1, 2);
    expect(calls).toEqual(['down pan 1,2', 'down give 1,2']);
  });

  test('tells the tool where it went', () => {
    pointer('pointermove', 30, 40);
    expect(calls).toEqual(['move 30,40']);
  });

  test('pinched by two fingers zooms about their middle, and drops the gesture', () => {
    pointer('pointerdown', 40, 50, { pointerId: 1, pointerType: 'touch' });
    pointer('pointerdown', 60, 50, { pointerId: 2, pointerType: 'touch' });
    pointer('pointermove', 80, 50, { pointerId: 2, pointerType: 'touch' });
    expect(calls).toContain('cancel');
    expect(bench.state.view!.scale).toBe(2);
  });

  test('before the page is read does nothing', () => {
    bench.set({ survey: null });
    pointer('pointerdown', 10, 20);
    pointer('pointermove', 10, 20);
    expect(calls).toEqual([]);
  });
});

describe('the wheel', () => {
  test('in large even steps zooms about the pointer', () => {
    wheel({ deltaY: -100, clientX: 50, clientY: 50 });
    expect(bench.state.view!.scale).toBeGreaterThan(1);
    expect(Math.abs(bench.state.view!.x + 50 / bench.state.view!.scale - 50)).toBeLessThan(1);
  });

  test('of a trackpad moves the page, and zooms when it is pinched', () => {
    wheel({ deltaX: 3, deltaY: 7 });
    expect([bench.state.view!.x, bench.state.view!.y, bench.state.view!.scale]).toEqual([3, 7, 1]);
    wheel({ deltaY: 5, ctrlKey: true });
    expect(bench.state.view!.scale).toBeLessThan(1);
  });
});

describe('the loupe', () => {
  test('is there while its key is held', () => {
    pointer('pointermove', 30, 40);
    window.dispatchEvent(new KeyboardEvent('keydown', { key: 'q' }));
    expect(bench.state.loupe).toEqual([30, 40]);
    window.dispatchEvent(new KeyboardEvent('keyup', { key: 'q' }));
    expect(bench.state.loupe).toBeNull();
  });

  test('does not come while something is typed', () => {
    const input = document.body.appendChild(document.createElement('input'));
    pointer('pointermove', 30, 40);
    input.dispatchEvent(new KeyboardEvent('keydown', { key: 'q', bubbles: true }));
    expect(bench.state.loupe).toBeNull();
    input.remove();
  });
});

test('stopped hears nothing any more', () => {
  stop();
  pointer('pointerdown', 10, 20);
  expect(calls).toEqual([]);
});
