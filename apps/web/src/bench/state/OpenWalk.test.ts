import { beforeEach, describe, expect, test } from '@jest/globals';
import { FakeBench, hut } from '../tests/fakeBench.ts';

let bench: FakeBench;
/** The regions of the page, the largest first. */
let regions: number[];
beforeEach(() => {
  bench = new FakeBench().open(hut(12, true));
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
    bench.walk.go(1);
    expect(bench.state.current).toBe(regions[0]);
    bench.walk.go(-1);
    expect(bench.state.current).toBe(regions.at(-1));
    expect(bench.state.view).not.toEqual(view);
    bench.walk.go(1);
    expect(bench.state.current).toBe(regions[0]);
  });

  test('goes on with the next smaller one when the region it stood at is settled', () => {
    bench.walk.goTo(regions[1]!);
    bench.store.setState({ openRegions: regions.filter((region) => region !== regions[1]) });
    bench.walk.go(1);
    expect(bench.state.current).toBe(regions[2]);
  });

  test('stands nowhere when nothing is left', () => {
    bench.walk.goTo(regions[0]!);
    bench.store.setState({ openRegions: [] });
    bench.walk.go(1);
    expect(bench.state.current).toBeNull();
  });
});

describe('a key on the worklist', () => {
  test('only goes there when it stands nowhere', () => {
    bench.walk.rule('coat');
    expect(bench.state.current).toBe(regions[0]);
    expect(bench.pushed).toEqual([]);
  });

  test('gives the region to the part and goes on', () => {
    bench.walk.goTo(regions[0]!);
    bench.walk.rule('coat');
    expect(given()).toEqual([['give', 'coat']]);
    expect(bench.state.current).toBe(regions[1]);
  });

  test('takes the part away and stays', () => {
    bench.walk.goTo(regions[0]!);
    bench.walk.rule('coat');
    bench.walk.goTo(regions[0]!);
    bench.walk.rule(null);
    expect(bench.state.resolved!.partOfRegion[regions[0]!]).toBeNull();
    expect(bench.state.current).toBe(regions[0]);
  });

  test('agrees with what a region to be looked at has, whatever part is chosen', () => {
    bench.give(new Set([regions[1]!]), 'hair');
    bench.store.setState({ lookRegions: [regions[1]!] });
    bench.walk.goTo(regions[1]!);
    bench.walk.rule('coat');
    expect(bench.state.resolved!.partOfRegion[regions[1]!]).toBe('hair');
  });

  test('keeps an island as it is, and does not ask again', () => {
    bench.give(new Set([regions[1]!]), 'hair');
    bench.store.setState({ islands: [regions[1]!] });
    bench.walk.goTo(regions[1]!);
    bench.walk.rule('coat');
    expect(bench.state.resolved!.partOfRegion[regions[1]!]).toBe('hair');
    expect(bench.state.islands).toEqual([]);
  });
});
