/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { DEFAULT_PREP, describeRegions, editPanels, openSurvey, type GreyRaster } from '@jumble/core';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { regionAtPoint } from '../../page/partColours.ts';
import { assignPart } from '../../page/parts.ts';
import { examplesProposed, proposeExamples, takeExamples } from './examples.ts';
import { setWay } from './flats.ts';

/** Two panels, each with a large and a small box, at about the same places. */
function twoPanels(): GreyRaster {
  const [width, height] = [520, 260];
  const data = new Uint8Array(width * height).fill(255);
  const box = (x0: number, y0: number, x1: number, y1: number): void => {
    for (let y = y0; y < y1; y++) {
      for (let x = x0; x < x1; x++) {
        if (Math.min(x - x0, x1 - 1 - x, y - y0, y1 - 1 - y) < 4) data[y * width + x] = 0;
      }
    }
  };
  for (const [left, shift] of [
    [10, 0],
    [270, 6],
  ] as const) {
    box(left, 10, left + 240, 250);
    box(left + 20 + shift, 30, left + 130 + shift, 220);
    box(left + 160, 150 + shift, left + 200, 190 + shift);
  }
  return { width, height, data };
}
const panel = (x: number) => ({ points: [[x, 10], [x + 240, 10], [x + 240, 250], [x, 250]] as const, scene: null }); // prettier-ignore

let bench: TestBench;
const at = (x: number, y: number): number => regionAtPoint(bench.state, x, y)!;
/** Background, large and small box of a panel. */
const regionsOf = (left: number): number[] => [at(left + 210, 30), at(left + 80, 120), at(left + 180, 172)];

beforeEach(async () => {
  bench = await openTestBench(twoPanels(), { stage: 'flats', partId: 'coat' });
  bench.push({ label: 'Draw panels', edits: [editPanels([panel(10), panel(270)])] });
  setWay(bench, 'key');
  const [paper, large, small] = regionsOf(10);
  assignPart(bench, new Set([paper!]), 'none');
  assignPart(bench, new Set([large!]), 'coat');
  assignPart(bench, new Set([small!]), 'hair');
});

const keepTo = (panelShown: number): void => bench.set({ panelShown });

describe('proposals by what is done', () => {
  test('come from the other panels, are shown, and taken to be looked at', async () => {
    keepTo(1);
    await proposeExamples(bench, 'panels');
    const [paper, large, small] = regionsOf(270);
    const byRegion = new Map(examplesProposed(bench.state).map((one) => [one.region, one.part]));
    expect([byRegion.get(paper!), byRegion.get(large!), byRegion.get(small!)]).toEqual(['none', 'coat', 'hair']);
    expect(byRegion.size).toBe(3);
    expect(bench.previewed).toContainEqual([large, 'coat']);
    takeExamples(bench);
    expect(bench.pushed.at(-1)!.label).toBe('Accept 3 parts from other panels');
    expect(bench.state.resolved!.partOfRegion[large!]).toBe('coat');
    expect([...bench.state.resolved!.looks.values()]).toEqual(['done', 'done', 'done']);
    expect(bench.state.flats.examples).toBeNull();
  });

  test('leave out balloons that Line art asks about', async () => {
    keepTo(1);
    const [, large] = regionsOf(270);
    const balloon = { key: '350,120', kind: 'balloon', box: [0, 0, 9, 9], title: '', detail: '', yes: '', no: null };
    expect(at(350, 120)).toBe(large);
    await proposeExamples(bench, 'panels');
    expect(examplesProposed(bench.state)).toHaveLength(3);
    // They are found while the proposals stand.
    bench.store.setState({ lineDecisions: [balloon as never] });
    expect(examplesProposed(bench.state).map((one) => one.region)).not.toContain(large);
    expect(examplesProposed(bench.state)).toHaveLength(2);
  });

  test('come from done pages; parts that are no more are none', async () => {
    const parts = [...bench.state.resolved!.partOfRegion].map((part) => (part === 'hair' ? 'gone' : part));
    const traits = describeRegions(openSurvey(twoPanels(), DEFAULT_PREP), [panel(10), panel(270)]);
    bench.server.routes.set('GET /api/pages/p/examples', () => [{ traits, parts }]);
    await proposeExamples(bench, 'pages');
    const proposed = examplesProposed(bench.state);
    expect(bench.state.flats.examples).toMatchObject({ from: 'pages', pages: 1 });
    const [, large, small] = regionsOf(270);
    expect(proposed.find((one) => one.region === large)!.part).toBe('coat');
    expect(proposed.find((one) => one.region === small)?.part).not.toBe('hair');
    // What is given meanwhile is proposed no more.
    assignPart(bench, new Set([large!]), 'hair');
    expect(examplesProposed(bench.state).some((one) => one.region === large)).toBe(false);
  });

  test('are none where nothing is done; and a failure is told', async () => {
    bench.server.routes.set('GET /api/pages/p/examples', () => []);
    await proposeExamples(bench, 'pages');
    expect(examplesProposed(bench.state)).toEqual([]);
    bench.engine.proposeFromExamples = () => Promise.reject(new Error('no memory'));
    await proposeExamples(bench, 'pages');
    expect(bench.failures).toEqual(['no memory']);
  });
});
