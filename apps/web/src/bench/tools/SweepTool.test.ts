import { beforeEach, describe, expect, test } from '@jest/globals';
import { NO_GAPS_PREP, regionAt, surveyPage, type Survey, type Viewport } from '@jumble/core';
import type { Bench } from '../state/Bench.ts';
import { SweepTool } from './SweepTool.ts';

const CELL = 12;

/** A sheet of paper ruled into columns of equal width. */
function ruled(columns: number): Survey {
  const width = columns * CELL;
  const data = new Uint8Array(width * 20).fill(255);
  for (let y = 0; y < 20; y++) for (let x = CELL - 1; x < width - 1; x += CELL) data[y * width + x] = 0;
  return surveyPage({ width, height: 20, data }, { ...NO_GAPS_PREP, crumbLimitPx2: 0 });
}

class FakeBench {
  survey = ruled(10);
  state: { view: Viewport; partId: string | null; resolved: { partOfRegion: (string | null)[] } } = {
    view: { x: 0, y: 0, scale: 1, width: 300, height: 100 },
    partId: 'coat',
    resolved: { partOfRegion: new Array<string | null>(10).fill(null) },
  };
  given: [number[], string | null][] = [];
  previews: [number[], string | null][] = [];
  regionAt = (x: number, y: number): number | null => regionAt(this.survey, x, y);
  previewGiven = (regions: Iterable<number>, part: string | null): number => this.previews.push([[...regions], part]);
  give = (regions: ReadonlySet<number>, part: string | null): void => void this.given.push([[...regions], part]);
  looking = {
    gesturing: false,
    beginGesture: (): void => void (this.looking.gesturing = true),
    endGesture: (): void => void (this.looking.gesturing = false),
    hover: (): void => undefined,
  };
}

let bench: FakeBench;
let tool: SweepTool;
beforeEach(() => {
  bench = new FakeBench();
  tool = new SweepTool(bench as unknown as Bench);
});
const at = (x: number, y = 10, intent: 'give' | 'take' | 'pan' = 'give') => ({ x, y, intent });

describe('sweeping', () => {
  test('over a long way between two events misses no region, and is one step', () => {
    tool.down(at(3));
    tool.move([at(10 * CELL - 3)]);
    tool.up();
    expect(bench.given).toEqual([[[0, 1, 2, 3, 4, 5, 6, 7, 8, 9], 'coat']]);
    expect(bench.looking.gesturing).toBe(false);
  });

  test('shows what is crossed at once, each region once', () => {
    tool.down(at(3));
    tool.move([at(CELL + 3), at(5), at(CELL + 5)]);
    expect(bench.previews).toEqual([
      [[0], 'coat'],
      [[1], 'coat'],
    ]);
  });

  test('at any zoom and place means page points', () => {
    bench.state.view = { ...bench.state.view, x: 2 * CELL, scale: 4 };
    tool.down(at(4 * 3));
    tool.move([at(4 * (CELL + 3))]);
    tool.up();
    expect(bench.given).toEqual([[[2, 3], 'coat']]);
  });

  test('the second way takes parts away', () => {
    tool.down(at(3, 10, 'take'));
    tool.move([at(CELL + 3, 10, 'take')]);
    tool.up();
    expect(bench.given).toEqual([[[0, 1], null]]);
  });

  test('on ink gives nothing, and beside the page neither', () => {
    tool.down(at(CELL - 1));
    tool.move([at(CELL - 1, 400), at(-50, -50)]);
    tool.up();
    expect(bench.given.flatMap(([regions]) => regions)).toEqual([]);
  });

  test('without a part does nothing', () => {
    bench.state.partId = null;
    tool.down(at(3));
    expect(tool.active).toBe(false);
  });

  test('dropped shows every region as it was', () => {
    bench.state.resolved.partOfRegion[1] = 'sky';
    tool.down(at(3));
    tool.move([at(CELL + 3)]);
    bench.previews = [];
    tool.cancel();
    expect(bench.previews).toEqual([
      [[0], null],
      [[1], 'sky'],
    ]);
    tool.up();
    expect(bench.given).toEqual([]);
  });
});
