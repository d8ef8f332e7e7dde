import { beforeEach, describe, expect, test } from '@jest/globals';
import type { Bench } from '../state/Bench.ts';
import { simplify } from '../state/PenDesk.ts';
import { FakeBench, hut } from '../tests/fakeBench.ts';
import { PenTool } from './PenTool.ts';
import { promisesSettled } from '../tests/promisesSettled.ts';

let bench: FakeBench;
let tool: PenTool;
let said: string[];
beforeEach(() => {
  bench = new FakeBench().open(hut(0));
  bench.store.setState({ stage: 'flats', partId: 'coat' });
  bench.flats.setWay('pen');
  said = [];
  tool = new PenTool(bench as unknown as Bench, (text) => said.push(text));
});
type Point = [number, number];
type Intent = 'give' | 'take' | 'like' | 'pan';
const at = ([x, y]: Point, intent: Intent = 'give') => ({ x, y, intent });
function drag(points: Point[], intent: Intent = 'give'): void {
  tool.down(at(points[0]!, intent));
  tool.move(points.slice(1).map((point) => at(point, intent)));
  tool.up();
}
const inside: Point = [120, 113];
const outside: Point = [20, 113];

describe('the pen', () => {
  test('paints inside the region where the stroke began, as one step', () => {
    drag([inside, [250, 113]]);
    expect(bench.pushed.map((step) => step.label)).toEqual(['Paint Coat']);
    expect(bench.pen.partAt(190, 113)).toBe('coat');
    expect(bench.pen.partAt(230, 113)).toBeNull();
    expect(bench.painted!.tiles.size).toBeGreaterThan(0);
  });

  test('paints any pixel when it is told to, and wipes out the second way', () => {
    bench.pen.nextNib();
    bench.pen.setSize(9);
    drag([inside, [250, 113]]);
    expect([bench.pen.partAt(203, 113), bench.pen.partAt(230, 113)]).toEqual(['coat', 'coat']);
    drag([[230, 100], [230, 130]], 'take'); // prettier-ignore
    expect([bench.pen.partAt(203, 113), bench.pen.partAt(230, 113)]).toEqual(['coat', null]);
    expect(bench.pushed.at(-1)!.label).toBe('Wipe out painted pixels');
  });

  test('makes a region done that it paints all over', () => {
    bench.pen.setSize(400);
    drag([inside]);
    const region = bench.regionAt(...inside)!;
    expect(bench.state.resolved!.partOfRegion[region]).toBe('coat');
    expect(bench.state.resolved!.partOfRegion[bench.regionAt(...outside)!]).toBeNull();
  });

  test('shows a stroke while it is drawn, and takes it back when it is dropped', () => {
    tool.down(at(inside));
    tool.move([at([150, 113])]);
    expect(bench.painted!.tiles.size).toBeGreaterThan(0);
    tool.cancel();
    expect(bench.painted).toBeNull();
    expect(bench.pushed).toEqual([]);
  });

  test('takes up what is painted under it', () => {
    drag([inside]);
    tool.down(at(inside, 'like'));
    expect(bench.chosen).toEqual(['coat']);
  });

  test('goes through sizes and stays within them', () => {
    bench.pen.setSize(24);
    bench.pen.stepSize(1);
    expect(bench.state.flats.pen.sizePx).toBe(32);
    bench.pen.setSize(1);
    bench.pen.stepSize(-1);
    expect(bench.state.flats.pen.sizePx).toBe(1);
    bench.pen.setSize(9999);
    expect(bench.state.flats.pen.sizePx).toBe(400);
  });
});

describe('cutting', () => {
  beforeEach(() => bench.pen.setNib('cut'));

  test('parts a region along the way that was drawn, both pieces keep the part', async () => {
    bench.give(new Set([bench.regionAt(...inside)!]), 'hair');
    drag([[48, 100], [90, 104], [120, 120], [150, 104], [197, 100]]); // prettier-ignore
    await promisesSettled();
    const [above, below] = [bench.regionAt(120, 70)!, bench.regionAt(120, 150)!];
    expect(above).not.toBe(below);
    // The cut bends: this lies above its chord and below its way.
    expect(bench.regionAt(120, 112)).toBe(above);
    expect([above, below].map((region) => bench.state.resolved!.partOfRegion[region])).toEqual(['hair', 'hair']);
    expect(bench.pushed.at(-1)!.label).toBe('Cut a region');
  });

  test('that parts nothing leaves everything as it was, and says so', async () => {
    drag([[100, 100], [140, 110]]); // prettier-ignore
    await promisesSettled();
    expect(bench.pushed).toEqual([]);
    expect(said.join()).toMatch(/parts nothing/);
    drag([inside]);
    await promisesSettled();
    expect(bench.pushed).toEqual([]);
  });

  test('is undone by joining; what a line parts is not joined', async () => {
    drag([[48, 100], [197, 100]]); // prettier-ignore
    await promisesSettled();
    drag([[120, 70], [120, 150]], 'take'); // prettier-ignore
    await promisesSettled();
    expect(bench.regionAt(120, 70)).toBe(bench.regionAt(120, 150));
    expect(bench.state.document!.drawn).toEqual([]);
    drag([inside, outside], 'take');
    await promisesSettled();
    expect(said.join()).toMatch(/A line parts these two/);
  });
});

describe('a way that was drawn', () => {
  test('keeps its corners and loses what lies between', () => {
    const way: Point[] = [[0, 0], [5, 0], [10, 0], [10, 5], [10, 10]]; // prettier-ignore
    expect(simplify(way, 1)).toEqual([[0, 0], [10, 0], [10, 10]]); // prettier-ignore
  });
});
