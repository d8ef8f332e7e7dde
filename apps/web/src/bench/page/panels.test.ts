/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { editPanels, type PagePanel } from '@jumble/core';
import { regionsInPanel } from '../stages/flats/openRegions.ts';
import type { BenchState } from '../state/benchState.ts';
import { openTestBench, type TestBench } from '../tests/testBench.ts';
import { hut } from '../tests/testPages.ts';
import { followPanels, goToPanel, inShownPanel } from './panels.ts';

const rectangle = (x0: number, y0: number, x1: number, y1: number): PagePanel => ({
  points: [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ],
  scene: null,
});

let bench: TestBench;
beforeEach(async () => {
  bench = await openTestBench(hut(12));
  const panels = [rectangle(0, 0, 35, 220), rectangle(35, 35, 212, 190)];
  bench.push({ label: 'Draw panels', edits: [editPanels(panels)] });
});

describe('worklists panel by panel', () => {
  test('go through the panels in order, and to the whole page between the last and the first', () => {
    const shown: (number | null)[] = [];
    const middles: number[] = [];
    for (let k = 0; k < 4; k++) {
      goToPanel(bench, 1);
      shown.push(bench.state.panelShown);
      const { x, scale, width } = bench.state.view!;
      middles.push(Math.round(x + width / scale / 2));
    }
    goToPanel(bench, -1);
    shown.push(bench.state.panelShown);
    expect(shown).toEqual([0, 1, null, 0, null]);
    expect(middles).toEqual([18, 124, 130, 18]);
  });

  test('list only what lies in the panel', () => {
    const { panelOfRegion, survey } = bench.state;
    expect(panelOfRegion).toHaveLength(survey!.regions.count);
    const all = bench.state.openRegions;
    expect(all).toHaveLength(survey!.regions.count);
    goToPanel(bench, -1);
    expect(bench.state.panelShown).toBe(1);
    const inside = regionsInPanel(bench.state);
    expect(inside.length).toBeGreaterThan(0);
    expect(inside.length).toBeLessThan(all.length);
    expect(inShownPanel(bench.state, 120, 113)).toBe(true);
    expect(inShownPanel(bench.state, 10, 10)).toBe(false);
    bench.set({ panelShown: null });
    expect(regionsInPanel(bench.state)).toEqual(all);
    expect(inShownPanel(bench.state, 10, 10)).toBe(true);
  });

  test('stay where they are while a page is measured, and leave a panel that is gone', () => {
    bench.set({ panelShown: 5 });
    followPanels(bench);
    expect(bench.state.panelShown).toBe(5);
    bench.set({ facts: {} as BenchState['facts'] });
    followPanels(bench);
    expect(bench.state.panelShown).toBeNull();
  });
});
