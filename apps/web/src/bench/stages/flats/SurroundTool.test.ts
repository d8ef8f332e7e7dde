/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { DEFAULT_PREP } from '@jumble/core';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { hut } from '../../tests/testPages.ts';
import { SurroundTool } from './SurroundTool.ts';
import { promisesSettled } from '../../tests/promisesSettled.ts';
import { closeAndAssign } from '../../page/division.ts';
import { regionAtPoint } from '../../page/partColours.ts';
import { assignPart } from '../../page/parts.ts';
import { showSurvey } from '../../page/show.ts';
import { setWay, turnLoop } from './flats.ts';
import { setFlats } from './setFlats.ts';

type Point = [number, number];
type Intent = 'give' | 'take' | 'like' | 'pan';

let bench: TestBench;
let tool: SurroundTool;
let said: string[];
beforeEach(async () => {
  said = [];
  bench = await openTestBench(hut(0), { stage: 'flats', partId: 'coat' });
  setWay(bench, 'surround');
  tool = new SurroundTool(bench, (text) => said.push(text));
});
const at = ([x, y]: Point, intent: Intent = 'give') => ({ x, y, intent });
const ROUND: Point[] = [[30, 30], [220, 30], [220, 200], [30, 200]]; // prettier-ignore
const inside = (): number => regionAtPoint(bench.state, 120, 113)!;
const outside = (): number => regionAtPoint(bench.state, 10, 10)!;
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
    expect(bench.ways.at(-1)).toBeNull();
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
    expect([bench.pushed.length, tool.active, bench.state.gesturing]).toEqual([0, false, false]);
  });

  test('the second way takes parts away', () => {
    assignPart(bench, new Set([inside()]), 'hair');
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

test('a loop that encloses nothing says so, and what to do', () => {
  loop([[2, 2], [12, 2], [12, 12], [2, 12]]); // prettier-ignore
  expect(said).toEqual([expect.stringMatching(/encloses nothing .* Nothing was changed\.$/)]);
  expect(bench.pushed).toEqual([]);
});

describe('a silhouette', () => {
  const partInside = (): string | null => bench.state.resolved!.partOfRegion[inside()]!;
  beforeEach(async () => {
    // A door as wide as this hardly looks like a gap: the room is open to the outside.
    const prep = { ...DEFAULT_PREP, maxGapPx: 80 };
    bench = await openTestBench(hut(60), { stage: 'flats', partId: 'coat', prep });
    setWay(bench, 'surround');
    tool = new SurroundTool(bench, (text) => said.push(text));
    setFlats(bench, { contourHold: 0.05 });
  });

  test('takes all inside the contour and closes its gap, in one step', async () => {
    loop(ROUND);
    expect(said).toHaveLength(1);
    expect(bench.pushed).toEqual([]);
    turnLoop(bench);
    loop(ROUND);
    await promisesSettled();
    expect(bench.pushed.map((step) => step.label)).toEqual(['Close 1 gap and assign what lies inside to Coat']);
    expect(partInside()).toBe('coat');
    expect(inside()).not.toBe(outside());
    expect(bench.state.resolved!.partOfRegion[outside()]).toBeNull();
    expect(bench.cells.at(-1)).toBeNull();
  });

  test('that was part of what had a part leaves the rest as it was', async () => {
    assignPart(bench, new Set([outside()]), 'hair');
    turnLoop(bench);
    loop(ROUND);
    await promisesSettled();
    expect(partInside()).toBe('coat');
    expect(bench.state.resolved!.partOfRegion[outside()]).toBe('hair');
    expect(bench.state.resolved!.conflicts).toEqual([]);
    // Where only what is open may be taken, nothing is left to take.
    setFlats(bench, { onlyOpen: true });
    loop(ROUND);
    await promisesSettled();
    expect(said).toHaveLength(1);
    expect(bench.pushed).toHaveLength(2);
  });

  test('shows while it is drawn, the latest loop, and nothing once it is dropped', async () => {
    turnLoop(bench);
    tool.down(at(ROUND[0]!));
    for (const point of ROUND.slice(1)) tool.move([at(point)]);
    await promisesSettled();
    expect(bench.cells.at(-1)).not.toBeNull();
    expect(bench.cells.at(-1)!.length).toBeGreaterThan(0);
    // The pen goes back over the room: most of it lies outside now.
    tool.move([at([120, 100])]);
    expect(bench.cells.at(-1)).toBeNull();
    tool.cancel();
    expect(bench.cells.at(-1)).toBeNull();
    expect(bench.pushed).toEqual([]);
  });

  test('that is dropped before it could show never does', async () => {
    turnLoop(bench);
    tool.down(at(ROUND[0]!));
    for (const point of ROUND.slice(1)) tool.move([at(point)]);
    tool.cancel();
    await promisesSettled();
    expect(bench.cells).toEqual([null]);
  });

  test('that could not be found says why, and the next one is', async () => {
    turnLoop(bench);
    const { silhouette } = bench.engine;
    bench.engine.silhouette = () => Promise.reject(new Error('no memory'));
    loop(ROUND);
    await promisesSettled();
    expect(bench.failures).toEqual(['no memory']);
    expect([said.length, bench.pushed.length]).toEqual([0, 0]);
    bench.engine.silhouette = silhouette;
    loop(ROUND);
    await promisesSettled();
    expect(partInside()).toBe('coat');
  });

  test('on a page that was divided otherwise meanwhile changes nothing, and says so', async () => {
    const seen = bench.state.survey!;
    showSurvey(bench, { ...seen });
    await closeAndAssign(bench, seen, ['1,1-9,9'], new Set([0]), 'coat');
    expect(bench.failures).toEqual([expect.stringMatching(/divided otherwise .* Nothing was changed/)]);
    expect(bench.pushed).toEqual([]);
  });

  test('the second way takes shapes away as ever', () => {
    turnLoop(bench);
    loop(ROUND, 'take');
    expect(said).toHaveLength(1);
  });
});

test('a click the second way takes away what was spread loosely there', () => {
  assignPart(bench, new Set([outside(), inside()]), 'coat');
  tool.down(at([10, 10], 'take'));
  tool.up();
  expect(bench.state.resolved!.partOfRegion[outside()]).toBeNull();
  expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
});
