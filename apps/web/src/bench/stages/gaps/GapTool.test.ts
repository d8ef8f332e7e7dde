/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { hut } from '../../tests/testPages.ts';
import { GapTool } from './GapTool.ts';
import { promisesSettled } from '../../tests/promisesSettled.ts';
import { askLeak, ruleGaps } from './gaps.ts';

let bench: TestBench;
let tool: GapTool;
let said: string[];
beforeEach(async () => {
  bench = await openTestBench(hut(12));
  said = [];
  tool = new GapTool(bench, (text) => said.push(text));
});
const at = (x: number, y: number, intent: 'give' | 'take' | 'pan' = 'give') => ({ x, y, intent });
const drag = (from: [number, number], to: [number, number]): void => {
  tool.down(at(...from));
  tool.move([at((from[0] + to[0]) / 2, (from[1] + to[1]) / 2), at(...to)]);
  tool.up();
};

describe('on the Gaps stage', () => {
  test('a drag from near ink to near ink draws a closure, snapped at both ends', async () => {
    drag([100, 52], [101, 172]);
    await promisesSettled();
    expect(bench.state.document!.drawn).toEqual(['100,45-101,180']);
    expect(bench.overlays.some((overlay) => overlay?.draft !== null && overlay?.draft !== undefined)).toBe(true);
    expect(bench.overlays.at(-1)!.draft).toBeNull();
    expect(bench.overlays.map((overlay) => overlay?.draftLabel)).toContain('135.0 px (11.43 mm)');
  });

  test('a drag that begins or ends away from ink draws nothing and says why', async () => {
    drag([100, 52], [120, 113]);
    await promisesSettled();
    expect(bench.pushed).toEqual([]);
    expect(said.join()).toMatch(/from ink to ink/);
  });

  test('an end of a closure that was drawn is moved, the other one stays', async () => {
    drag([100, 52], [101, 172]);
    await promisesSettled();
    drag([101, 180], [140, 175]);
    await promisesSettled();
    expect(bench.state.document!.drawn).toEqual(['100,45-140,180']);
    expect(bench.pushed.at(-1)!.label).toBe('Move an end of a closure');
    drag([140, 180], [150, 113]);
    await promisesSettled();
    expect(bench.state.document!.drawn).toEqual(['100,45-140,180']);
  });

  test('the leak test says how far colour runs, through a door that is open', async () => {
    const inside = 160 * 140;
    askLeak(bench, 'run');
    tool.down(at(120, 113));
    await promisesSettled();
    const shut = Number(
      said
        .at(-1)!
        .match(/reaches ([\d,]+) px/)![1]!
        .replaceAll(',', ''),
    );
    expect(shut).toBeLessThan(inside);
    await ruleGaps(bench, [bench.state.survey!.closures.find((one) => one.accepted)!.key], 'open');
    askLeak(bench, 'run');
    tool.down(at(120, 113));
    await promisesSettled();
    const open = Number(
      said
        .at(-1)!
        .match(/reaches ([\d,]+) px/)![1]!
        .replaceAll(',', ''),
    );
    expect(open).toBeGreaterThan(inside);
    askLeak(bench, 'run');
    tool.down(at(43, 43));
    await promisesSettled();
    expect(said.at(-1)).toMatch(/This is ink/);
  });

  test('a click stands at the closure under it, or at none', () => {
    const door = bench.state.survey!.closures.find((one) => one.accepted)!;
    tool.down(at((door.from[0] + door.to[0]) / 2, (door.from[1] + door.to[1]) / 2));
    tool.up();
    expect(bench.state.gapKey).toBe(door.key);
    tool.down(at(10, 10));
    tool.up();
    expect(bench.state.gapKey).toBeNull();
  });

  test('the second way leaves the closure under it open', async () => {
    const door = bench.state.survey!.closures.find((one) => one.accepted)!;
    tool.down(at((door.from[0] + door.to[0]) / 2, (door.from[1] + door.to[1]) / 2, 'take'));
    await promisesSettled();
    expect(bench.state.document!.rulings.get(door.key)).toBe('open');
    tool.down(at(10, 10, 'take'));
    expect(said.at(-1)).toMatch(/no closure here/);
  });

  test('a trace asks for two places, then is over', async () => {
    askLeak(bench, 'trace');
    tool.down(at(120, 113));
    tool.up();
    expect(bench.state.leakAsked).toBe('trace-to');
    tool.down(at(10, 10));
    await promisesSettled();
    expect(said.at(-1)).toMatch(/No colour gets from one to the other/);
    tool.down(at(100, 113));
    tool.up();
    expect(bench.pushed).toEqual([]);
  });

  test('dropped leaves no draft and no trace behind', () => {
    tool.down(at(100, 52));
    tool.move([at(100, 100)]);
    tool.cancel();
    expect(tool.active).toBe(false);
    expect(bench.overlays.at(-1)!.draft).toBeNull();
    askLeak(bench, 'trace');
    tool.cancel();
    tool.down(at(10, 10));
    tool.up();
    expect(bench.state.leakAsked).toBeNull();
  });
});
