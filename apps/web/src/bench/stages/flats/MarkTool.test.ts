/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { hut } from '../../tests/testPages.ts';
import { MarkTool } from './MarkTool.ts';
import { setWay } from './flats.ts';

type Point = [number, number];
type Intent = 'give' | 'take' | 'like' | 'pan';

let bench: TestBench;
let tool: MarkTool;
let said: string[];
beforeEach(async () => {
  said = [];
  bench = await openTestBench(hut(0), { stage: 'flats', partId: 'coat' });
  setWay(bench, 'marks');
  tool = new MarkTool(bench, (text) => said.push(text));
});
const at = ([x, y]: Point, intent: Intent = 'give') => ({ x, y, intent });
function drag(points: Point[], intent: Intent = 'give'): void {
  tool.down(at(points[0]!, intent));
  tool.move(points.slice(1).map((point) => at(point, intent)));
  tool.up();
}
const marks = () => [...bench.state.document!.marks.values()];

describe('a mark', () => {
  test('is the way of the pen in the current part, on the page, without points that lie on each other', () => {
    drag([[60, 60], [61, 60], [100, 60], [900, -40]]); // prettier-ignore
    expect(marks()).toEqual([{ part: 'coat', points: [[60, 60], [100, 60], [259, 0]] }]); // prettier-ignore
    expect(bench.pushed.map((step) => step.label)).toEqual(['Mark Coat']);
  });

  test('is shown while it is drawn, and gone when it is dropped', () => {
    tool.down(at([60, 60]));
    tool.move([at([100, 60])]);
    expect(bench.drafts.at(-1)?.points).toEqual([[60, 60], [100, 60]]); // prettier-ignore
    // The marks that are there are not sent again for every point.
    const sent = bench.overlays.length;
    tool.move([at([140, 60])]);
    expect([bench.drafts.at(-1)?.points.length, bench.overlays.length]).toEqual([3, sent]);
    tool.cancel();
    expect(bench.drafts.at(-1)).toBeNull();
    expect([marks().length, tool.active]).toEqual([0, false]);
  });

  test('on ink alone is not kept, and it says so', () => {
    drag([[60, 43], [180, 43]]); // prettier-ignore
    expect(marks()).toEqual([]);
    expect(said).toEqual([expect.stringMatching(/on ink alone, .* Nothing was changed\.$/)]);
    expect(bench.drafts.at(-1)).toBeNull();
  });

  test('needs a part', () => {
    bench.store.setState({ partId: null });
    drag([[60, 60], [100, 60]]); // prettier-ignore
    expect(marks()).toEqual([]);
  });
});

describe('marks that are there', () => {
  beforeEach(() => {
    drag([[60, 60], [180, 60]]); // prettier-ignore
    drag([[60, 100], [180, 100]]); // prettier-ignore
    drag([[60, 140], [180, 140]]); // prettier-ignore
  });

  test('are erased where the pen touches them the second way, as one step', () => {
    drag([[100, 50], [100, 61], [100, 80], [100, 101]], 'take'); // prettier-ignore
    expect(marks().map((mark) => mark.points[0])).toEqual([[60, 140]]);
    expect(bench.pushed.at(-1)!.label).toBe('Erase 2 marks');
    drag([[20, 20], [24, 20]], 'take'); // prettier-ignore
    expect(bench.pushed).toHaveLength(4);
  });

  test('are given to the current part by a click the third way', () => {
    bench.store.setState({ partId: 'hair' });
    tool.down(at([120, 102], 'like'));
    tool.up();
    expect(marks().map((mark) => mark.part).sort()).toEqual(['coat', 'coat', 'hair']); // prettier-ignore
    tool.down(at([20, 20], 'like'));
    tool.up();
    expect(bench.pushed).toHaveLength(4);
  });
});
