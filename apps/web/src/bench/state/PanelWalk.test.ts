import { beforeEach, describe, expect, test } from '@jest/globals';
import type { PagePanel } from '@jumble/core';
import { FakeBench, hut } from '../tests/fakeBench.ts';
import { regionsInPanel, type BenchState } from './benchState.ts';
import { PanelWalk } from './PanelWalk.ts';

const rectangle = (x0: number, y0: number, x1: number, y1: number): PagePanel => ({
  points: [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ],
  scene: null,
});

let bench: FakeBench;
let boxes: (readonly number[])[];
let walk: PanelWalk;
beforeEach(() => {
  bench = new FakeBench().open(hut(12));
  boxes = [];
  const panels = [rectangle(0, 0, 35, 220), rectangle(35, 35, 212, 190)];
  walk = new PanelWalk({
    get state(): BenchState {
      return bench.state;
    },
    lineArt: { panels: () => panels },
    set: (part) => bench.set(part),
    looking: { showBox: (box) => void boxes.push(box), setView: (view) => bench.looking.setView(view) },
  });
});

describe('worklists panel by panel', () => {
  test('go through the panels in order, and to the whole page between the last and the first', () => {
    const shown: (number | null)[] = [];
    for (let k = 0; k < 4; k++) {
      walk.go(1);
      shown.push(bench.state.panelShown);
    }
    walk.go(-1);
    shown.push(bench.state.panelShown);
    expect(shown).toEqual([0, 1, null, 0, null]);
    expect(boxes).toEqual([
      [0, 0, 35, 220],
      [35, 35, 212, 190],
      [0, 0, 35, 220],
    ]);
  });

  test('list only what lies in the panel', () => {
    walk.refresh();
    const { panelOfRegion, survey } = bench.state;
    expect(panelOfRegion).toHaveLength(survey!.regions.count);
    const all = Array.from({ length: survey!.regions.count }, (_, region) => region);
    bench.store.setState({ openRegions: all });
    walk.go(-1);
    expect(bench.state.panelShown).toBe(1);
    const inside = regionsInPanel(bench.state);
    expect(inside.length).toBeGreaterThan(0);
    expect(inside.length).toBeLessThan(all.length);
    expect(walk.inShown(120, 113)).toBe(true);
    expect(walk.inShown(10, 10)).toBe(false);
    bench.store.setState({ panelShown: null });
    expect(regionsInPanel(bench.state)).toEqual(all);
    expect(walk.inShown(10, 10)).toBe(true);
  });

  test('stay where they are while a page is measured, and leave a panel that is gone', () => {
    bench.store.setState({ panelShown: 5 });
    walk.refresh();
    expect(bench.state.panelShown).toBe(5);
    bench.store.setState({ facts: {} as BenchState['facts'] });
    walk.refresh();
    expect(bench.state.panelShown).toBeNull();
  });
});
