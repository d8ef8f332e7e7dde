/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { regionAt } from '@jumble/core';
import { step } from '../../page/steps.ts';
import { assignPart } from '../../page/parts.ts';
import { promisesSettled } from '../../tests/promisesSettled.ts';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { hut } from '../../tests/testPages.ts';
import { faultsListed, goToFault, keyOfFault, mendAll, mendFault } from './faults.ts';
import { outlineOf, removeAreas, setJobTrap, setPageTrap, setPanelTrap, setPartTrap } from './rules.ts';
import { TrapTool } from './TrapTool.ts';

let bench: TestBench;
let said: string[];
let tool: TrapTool;
beforeEach(async () => {
  bench = await openTestBench(hut(0, true), { stage: 'trap' });
  said = [];
  tool = new TrapTool(bench, (words) => said.push(words));
  assignPart(bench, new Set([regionAt(bench.state.survey!, 80, 113)!]), 'coat');
  assignPart(bench, new Set([regionAt(bench.state.survey!, 160, 113)!]), 'hair');
  await whenLooked();
});

async function whenLooked(): Promise<void> {
  do await promisesSettled();
  while (bench.state.faultsLookedFor || !bench.turns.isIdle || bench.state.sync.state !== 'saved');
}
const depth = (depthPx: number) => ({ rule: 'depth', depthPx }) as const;
const areas = (): number => bench.state.document!.areas.size;

describe('the worklist', () => {
  test('is empty to the middle, and lists lines too thin for a fixed depth', async () => {
    expect(bench.state.faults).toEqual([]);
    setPageTrap(bench, depth(60));
    await whenLooked();
    expect(bench.state.faults!.length).toBeGreaterThan(0);
    expect(bench.state.faults!.every(({ kind }) => kind === 'short')).toBe(true);
  });

  test('goes to zero: one place at a time, and all at once as one step that undo takes back', async () => {
    setPageTrap(bench, depth(60));
    await whenLooked();
    const all = bench.state.faults!.length;
    goToFault(bench, 1);
    expect(bench.state.faultKey).toBe(keyOfFault(bench.state.faults![0]!));
    mendFault(bench, null);
    await whenLooked();
    expect([bench.state.faults!.length, areas()]).toEqual([all - 1, 1]);
    const steps = bench.pushed.length;
    mendAll(bench, 'short');
    await whenLooked();
    expect([faultsListed(bench.state).length, bench.pushed.length]).toEqual([0, steps + 1]);
    await step(bench, 'undo');
    await whenLooked();
    expect([bench.state.faults!.length, areas()]).toEqual([all - 1, 1]);
  });
});

describe('rules', () => {
  test('are kept where they belong, and taken back', async () => {
    setJobTrap(bench, { rule: depth(3) }, 'Trap of the job');
    setPanelTrap(bench, 0, depth(2));
    const coat = bench.state.cast!.parts.find(({ id }) => id === 'coat')!;
    setPartTrap(bench, coat, { rule: 'max', marginPx: 1 });
    await whenLooked();
    expect(bench.state.cast!.trap.rule).toEqual(depth(3));
    expect(bench.state.trap!.rules).toContainEqual({ depthPx: Infinity, marginPx: 1 });
    setPartTrap(
      bench,
      bench.state.cast!.parts.find(({ id }) => id === 'coat')!,
      null,
    );
    await whenLooked();
    expect(bench.state.cast!.parts.find(({ id }) => id === 'coat')).toEqual(coat);
    expect(bench.state.trap!.rules).toEqual([{ depthPx: 3, marginPx: null }]);
  });

  test('an area is drawn, chosen and removed by the pointer; two points make none', async () => {
    const at = (x: number, y: number, intent: 'give' | 'take' = 'give') => ({ x, y, intent }) as const;
    const draw = (points: (readonly [number, number])[], intent?: 'take'): void => {
      tool.down(at(...points[0]!, intent));
      for (const point of points.slice(1)) tool.move([at(...point, intent)]);
      tool.up();
    };
    draw([[100, 40], [160, 40], [160, 90], [100, 90]]); // prettier-ignore
    await whenLooked();
    expect(areas()).toBe(1);
    draw([[100, 40], [160, 40]]); // prettier-ignore
    expect([said.length, areas()]).toEqual([1, 1]);
    expect(said[0]).toMatch(/at least three corners/);
    draw([[130, 60]]); // prettier-ignore
    expect(bench.state.areaId).toBe([...bench.state.document!.areas.keys()][0]);
    draw([[130, 60]], 'take'); // prettier-ignore
    await whenLooked();
    expect(areas()).toBe(0);
    removeAreas(bench, []);
  });

  test('an outline is thinned out, stays on the page, and has to enclose something', () => {
    const size = { width: 100, height: 100 };
    const many = Array.from({ length: 900 }, (_, k): [number, number] => [
      50 + 60 * Math.cos(k / 143),
      50 + 60 * Math.sin(k / 143),
    ]);
    const outline = outlineOf(many, size)!;
    expect(outline.length).toBeLessThanOrEqual(200);
    expect(outline.every(([x, y]) => x >= 0 && y >= 0 && x <= 100 && y <= 100)).toBe(true);
    expect(outlineOf([[1, 1], [9, 9], [5, 5]], size)).toBeNull(); // prettier-ignore
  });
});
