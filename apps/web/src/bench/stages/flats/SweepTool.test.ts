/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { NO_GAPS_PREP, type GreyRaster } from '@jumble/core';
import { assignPart } from '../../page/parts.ts';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { SweepTool } from './SweepTool.ts';

const CELL = 12;

/** A sheet of paper ruled into columns of equal width. */
function ruled(columns: number): GreyRaster {
  const width = columns * CELL;
  const data = new Uint8Array(width * 20).fill(255);
  for (let y = 0; y < 20; y++) for (let x = CELL - 1; x < width - 1; x += CELL) data[y * width + x] = 0;
  return { width, height: 20, data };
}

let bench: TestBench;
let tool: SweepTool;
beforeEach(async () => {
  bench = await openTestBench(ruled(10), {
    stage: 'flats',
    partId: 'coat',
    prep: { ...NO_GAPS_PREP, crumbLimitPx2: 0 },
  });
  tool = new SweepTool(bench);
});
const at = (x: number, y = 10, intent: 'give' | 'take' | 'pan' = 'give') => ({ x, y, intent });
const parts = (): readonly (string | null)[] => bench.state.resolved!.partOfRegion;
/** The regions that have a part. */
const filled = (): number[] => parts().flatMap((part, region) => (part === null ? [] : [region]));

describe('sweeping', () => {
  test('over a long way between two events misses no region, and is one step', () => {
    tool.down(at(3));
    tool.move([at(10 * CELL - 3)]);
    tool.up();
    expect(filled()).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9]);
    expect(bench.pushed.map(({ label }) => label)).toEqual(['Assign 10 regions to Coat']);
    expect(bench.state.gesturing).toBe(false);
  });

  test('shows what is crossed at once, each region once', () => {
    tool.down(at(3));
    tool.move([at(CELL + 3), at(5), at(CELL + 5)]);
    expect(bench.previewed).toEqual([
      [0, 'coat'],
      [1, 'coat'],
    ]);
  });

  test('at any zoom and place means page points', () => {
    bench.set({ view: { ...bench.state.view!, x: 2 * CELL, scale: 4 } });
    tool.down(at(4 * 3));
    tool.move([at(4 * (CELL + 3))]);
    tool.up();
    expect(filled()).toEqual([2, 3]);
  });

  test('the second way takes parts away', () => {
    assignPart(bench, new Set([0, 1, 2]), 'hair');
    tool.down(at(3, 10, 'take'));
    tool.move([at(CELL + 3, 10, 'take')]);
    tool.up();
    expect(filled()).toEqual([2]);
  });

  test('on ink assigns nothing, and beside the page neither', () => {
    tool.down(at(CELL - 1));
    tool.move([at(CELL - 1, 400), at(-50, -50)]);
    tool.up();
    expect(filled()).toEqual([]);
    expect(bench.pushed).toEqual([]);
  });

  test('without a part does nothing', () => {
    bench.set({ partId: null });
    tool.down(at(3));
    expect(tool.active).toBe(false);
  });

  test('dropped shows every region as it was', () => {
    assignPart(bench, new Set([1]), 'hair');
    tool.down(at(3));
    tool.move([at(CELL + 3)]);
    bench.previewed.length = 0;
    tool.cancel();
    expect(bench.previewed).toEqual([
      [0, null],
      [1, 'hair'],
    ]);
    tool.up();
    expect(bench.pushed).toHaveLength(1);
  });
});
