/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { hut } from '../../tests/testPages.ts';
import { assignPart } from '../../page/parts.ts';
import { ruleCurrentRegion } from './flats.ts';
import { goToRegion, selectRegion } from './openRegions.ts';

let bench: TestBench;
/** The regions of the page, the largest first. */
let regions: number[];
beforeEach(async () => {
  bench = await openTestBench(hut(12, true));
  const { areaPx, count } = bench.state.survey!.regions;
  regions = [...Array(count).keys()].sort((a, b) => areaPx[b]! - areaPx[a]!);
  expect(regions.length).toBeGreaterThan(2);
  bench.store.setState({ openRegions: regions });
});
const given = (): [string, unknown][] =>
  bench.pushed.flatMap(({ edits }) =>
    edits.map(({ value }): [string, unknown] => ['give', (value as { part: unknown }).part]),
  );

describe('the walk through open regions', () => {
  test('begins with the largest, comes round, and brings each into view', () => {
    const { view } = bench.state;
    goToRegion(bench, 1);
    expect(bench.state.current).toBe(regions[0]);
    goToRegion(bench, -1);
    expect(bench.state.current).toBe(regions.at(-1));
    expect(bench.state.view).not.toEqual(view);
    goToRegion(bench, 1);
    expect(bench.state.current).toBe(regions[0]);
  });

  test('goes on with the next smaller one when the region it stood at is settled', () => {
    selectRegion(bench, regions[1]!);
    bench.store.setState({ openRegions: regions.filter((region) => region !== regions[1]) });
    goToRegion(bench, 1);
    expect(bench.state.current).toBe(regions[2]);
  });

  test('stands nowhere when nothing is left', () => {
    selectRegion(bench, regions[0]!);
    bench.store.setState({ openRegions: [] });
    goToRegion(bench, 1);
    expect(bench.state.current).toBeNull();
  });
});

describe('a key on the worklist', () => {
  test('only goes there when it stands nowhere', () => {
    ruleCurrentRegion(bench, 'coat');
    expect(bench.state.current).toBe(regions[0]);
    expect(bench.pushed).toEqual([]);
  });

  test('gives the region to the part and goes on', () => {
    selectRegion(bench, regions[0]!);
    ruleCurrentRegion(bench, 'coat');
    expect(given()).toEqual([['give', 'coat']]);
    expect(bench.state.current).toBe(regions[1]);
  });

  test('takes the part away and stays', () => {
    selectRegion(bench, regions[0]!);
    ruleCurrentRegion(bench, 'coat');
    selectRegion(bench, regions[0]!);
    ruleCurrentRegion(bench, null);
    expect(bench.state.resolved!.partOfRegion[regions[0]!]).toBeNull();
    expect(bench.state.current).toBe(regions[0]);
  });

  test('agrees with what a region to be looked at has, whatever part is chosen', () => {
    assignPart(bench, new Set([regions[1]!]), 'hair');
    bench.store.setState({ lookRegions: [regions[1]!] });
    selectRegion(bench, regions[1]!);
    ruleCurrentRegion(bench, 'coat');
    expect(bench.state.resolved!.partOfRegion[regions[1]!]).toBe('hair');
  });

  test('keeps an island as it is, and does not ask again', () => {
    assignPart(bench, new Set([regions[1]!]), 'hair');
    bench.store.setState({ islands: [regions[1]!] });
    selectRegion(bench, regions[1]!);
    ruleCurrentRegion(bench, 'coat');
    expect(bench.state.resolved!.partOfRegion[regions[1]!]).toBe('hair');
    expect(bench.state.islands).toEqual([]);
  });
});
