/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { hut } from '../../tests/testPages.ts';
import { PenTool } from './PenTool.ts';
import { promisesSettled } from '../../tests/promisesSettled.ts';
import { regionAtPoint } from '../../page/partColours.ts';
import { paintedAt } from '../../page/painted.ts';
import { assignPart } from '../../page/parts.ts';
import { setWay } from './flats.ts';
import { nextNib, setNib, setPenSize, stepPenSize } from './pen.ts';

let bench: TestBench;
let tool: PenTool;
let said: string[];
beforeEach(async () => {
  bench = await openTestBench(hut(0), { stage: 'flats', partId: 'coat' });
  setWay(bench, 'pen');
  said = [];
  tool = new PenTool(bench, (text) => said.push(text));
});
type Point = [number, number];
type Intent = 'give' | 'take' | 'like' | 'pan';
const at = ([x, y]: Point, intent: Intent = 'give') => ({ x, y, intent });
function drag(points: Point[], intent: Intent = 'give'): void {
  tool.down(at(points[0]!, intent));
  tool.move(points.slice(1).map((point) => at(point, intent)));
  tool.up();
}
const partAt = (x: number, y: number): string | null => paintedAt(bench, [x, y]);
const inside: Point = [120, 113];
const outside: Point = [20, 113];

describe('the pen', () => {
  test('paints inside the region where the stroke began, as one step', () => {
    drag([inside, [250, 113]]);
    expect(bench.pushed.map((step) => step.label)).toEqual(['Paint Coat']);
    expect(partAt(190, 113)).toBe('coat');
    expect(partAt(230, 113)).toBeNull();
    expect(bench.painted!.tiles.size).toBeGreaterThan(0);
  });

  test('paints any pixel when it is told to, and wipes out the second way', () => {
    nextNib(bench);
    setPenSize(bench, 9);
    drag([inside, [250, 113]]);
    expect([partAt(203, 113), partAt(230, 113)]).toEqual(['coat', 'coat']);
    drag([[230, 100], [230, 130]], 'take'); // prettier-ignore
    expect([partAt(203, 113), partAt(230, 113)]).toEqual(['coat', null]);
    expect(bench.pushed.at(-1)!.label).toBe('Wipe out painted pixels');
  });

  test('makes a region done that it paints all over', () => {
    setPenSize(bench, 400);
    drag([inside]);
    const region = regionAtPoint(bench.state, ...inside)!;
    expect(bench.state.resolved!.partOfRegion[region]).toBe('coat');
    expect(bench.state.resolved!.partOfRegion[regionAtPoint(bench.state, ...outside)!]).toBeNull();
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
    bench.set({ partId: 'hair' });
    tool.down(at(inside, 'like'));
    expect(bench.state.partId).toBe('coat');
  });

  test('goes through sizes and stays within them', () => {
    setPenSize(bench, 24);
    stepPenSize(bench, 1);
    expect(bench.state.flats.pen.sizePx).toBe(32);
    setPenSize(bench, 1);
    stepPenSize(bench, -1);
    expect(bench.state.flats.pen.sizePx).toBe(1);
    setPenSize(bench, 9999);
    expect(bench.state.flats.pen.sizePx).toBe(400);
  });
});

describe('cutting', () => {
  beforeEach(() => setNib(bench, 'cut'));

  test('parts a region along the way that was drawn, both pieces keep the part', async () => {
    assignPart(bench, new Set([regionAtPoint(bench.state, ...inside)!]), 'hair');
    drag([[48, 100], [90, 104], [120, 120], [150, 104], [197, 100]]); // prettier-ignore
    await promisesSettled();
    const [above, below] = [regionAtPoint(bench.state, 120, 70)!, regionAtPoint(bench.state, 120, 150)!];
    expect(above).not.toBe(below);
    // The cut bends: this lies above its chord and below its way.
    expect(regionAtPoint(bench.state, 120, 112)).toBe(above);
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
    expect(regionAtPoint(bench.state, 120, 70)).toBe(regionAtPoint(bench.state, 120, 150));
    expect(bench.state.document!.drawn).toEqual([]);
    drag([inside, outside], 'take');
    await promisesSettled();
    expect(said.join()).toMatch(/A line parts these two/);
  });
});
