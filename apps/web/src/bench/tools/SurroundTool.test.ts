import { beforeEach, describe, expect, test } from '@jest/globals';
import type { Bench } from '../state/Bench.ts';
import { FakeBench, hut } from '../tests/fakeBench.ts';
import { SurroundTool } from './SurroundTool.ts';

type Point = [number, number];
type Intent = 'give' | 'take' | 'like' | 'pan';

let bench: FakeBench;
let tool: SurroundTool;
beforeEach(() => {
  bench = new FakeBench().open(hut(0));
  bench.store.setState({ stage: 'flats', partId: 'coat' });
  bench.flats.setWay('surround');
  tool = new SurroundTool(bench as unknown as Bench);
});
const at = ([x, y]: Point, intent: Intent = 'give') => ({ x, y, intent });
const ROUND: Point[] = [[30, 30], [220, 30], [220, 200], [30, 200]]; // prettier-ignore
const inside = (): number => bench.regionAt(120, 113)!;
const outside = (): number => bench.regionAt(10, 10)!;
function loop(points: Point[], intent: Intent = 'give'): void {
  tool.down(at(points[0]!, intent));
  for (const point of points.slice(1)) tool.move([at(point, intent)]);
  tool.up();
}

describe('a loop', () => {
  test('gives what it encloses, and nothing that is open to the outside', () => {
    loop(ROUND);
    expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
    expect(bench.state.resolved!.partOfRegion[outside()]).toBeNull();
    expect(bench.overlays.at(-1)).toBeNull();
  });

  test('shows what it would take while it is drawn, and puts back what it leaves again', () => {
    tool.down(at(ROUND[0]!));
    for (const point of ROUND.slice(1)) tool.move([at(point)]);
    expect(bench.previewed).toContainEqual([inside(), 'coat']);
    expect(bench.pushed).toEqual([]);
    // The pen goes back over the hut: half of it lies outside now.
    tool.move([at([120, 100])]);
    expect(bench.previewed.at(-1)).toEqual([inside(), null]);
    expect(tool.active).toBe(true);
  });

  test('that is dropped takes nothing', () => {
    tool.down(at(ROUND[0]!));
    for (const point of ROUND.slice(1)) tool.move([at(point)]);
    tool.cancel();
    expect(bench.previewed.at(-1)).toEqual([inside(), null]);
    expect([bench.pushed.length, tool.active, bench.gesturing]).toEqual([0, false, false]);
  });

  test('the second way takes parts away', () => {
    bench.give(new Set([inside()]), 'hair');
    loop(ROUND, 'take');
    expect(bench.state.resolved!.partOfRegion[inside()]).toBeNull();
  });

  test('needs a part to give, and three corners to be one', () => {
    bench.store.setState({ partId: null });
    loop(ROUND);
    expect(tool.active).toBe(false);
    bench.store.setState({ partId: 'coat' });
    loop([[50, 50], [51, 51]]); // prettier-ignore
    expect(bench.pushed).toEqual([]);
  });
});

test('a click the second way takes away what was spread loosely there', () => {
  bench.give(new Set([outside(), inside()]), 'coat');
  tool.down(at([10, 10], 'take'));
  tool.up();
  expect(bench.state.resolved!.partOfRegion[outside()]).toBeNull();
  expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
});
