/** @jest-environment node */
import { beforeEach, expect, test } from '@jest/globals';
import { openTestBench, type TestBench } from '../tests/testBench.ts';
import { hut } from '../tests/testPages.ts';
import { PanningTool } from './PanningTool.ts';
import type { PageTool, ToolPointer } from './PageTool.ts';

let calls: string[];
let bench: TestBench;
let tool: PanningTool;
let busy: boolean;
const place = (): number[] => [bench.state.view!.x, bench.state.view!.y];
const at = (x: number, y: number, intent: ToolPointer['intent'] = 'give'): ToolPointer => ({ x, y, intent });

beforeEach(async () => {
  calls = [];
  busy = false;
  bench = await openTestBench(hut(0));
  bench.set({ view: { x: 10, y: 20, scale: 2, width: 100, height: 80 } });
  const inner: PageTool = {
    get active() {
      return busy;
    },
    down: ({ x, y }) => calls.push(`down ${x},${y}`),
    move: (pointers) => calls.push(`move ${pointers.length}`),
    up: () => calls.push('up'),
    cancel: () => calls.push('cancel'),
  };
  tool = new PanningTool(bench, inner);
});

test('the page follows the pointer while it is held, and the tool hears nothing of it', () => {
  tool.down(at(50, 50, 'pan'));
  expect(tool.active).toBe(true);
  tool.move([at(55, 50, 'pan'), at(60, 40, 'pan')]);
  expect(place()).toEqual([5, 25]);
  tool.up();
  expect([calls, tool.active]).toEqual([[], false]);
});

test('everything else is the tool\u2019s', () => {
  tool.down(at(1, 2));
  busy = true;
  expect(tool.active).toBe(true);
  tool.move([at(3, 4), at(5, 6)]);
  tool.up();
  tool.cancel();
  expect(calls).toEqual(['down 1,2', 'move 2', 'up', 'cancel']);
  expect(place()).toEqual([10, 20]);
});

test('a drag that is dropped is over', () => {
  tool.down(at(50, 50, 'pan'));
  tool.cancel();
  tool.move([at(90, 90)]);
  expect(place()).toEqual([10, 20]);
  expect(calls).toEqual(['cancel', 'move 1']);
});
