import { showBox, outlinePointed } from '../../page/look.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';

/** The regions that the worklist shows, those without a part first: of the panel it keeps to, or all. */
export function regionsInPanel(
  state: Pick<BenchState, 'openRegions' | 'lookRegions' | 'islands' | 'panelShown' | 'panelOfRegion'>,
): readonly number[] {
  const { openRegions, lookRegions, islands, panelShown, panelOfRegion } = state;
  const all = [...new Set([...openRegions, ...lookRegions, ...islands])];
  if (panelShown === null || panelOfRegion === null) return all;
  return all.filter((region) => panelOfRegion[region] === panelShown);
}

/** Selects a region and brings it into view. */
export function selectRegion(bench: Bench, region: number | null): void {
  bench.set({ current: region });
  outlinePointed(bench);
  const { survey } = bench.state;
  if (region === null || survey === null) return;
  const [x0, y0, x1, y1] = survey.regions.box.subarray(region * 4, region * 4 + 4) as unknown as [
    number,
    number,
    number,
    number,
  ];
  showBox(bench, [x0, y0, x1, y1]);
}

/** The next region without a part after the current one, or the one before. */
export function goToRegion(bench: Bench, direction: 1 | -1): void {
  const { current, survey } = bench.state;
  const open = regionsInPanel(bench.state);
  if (open.length === 0 || survey === null) {
    selectRegion(bench, null);
    return;
  }
  const { areaPx } = survey.regions;
  const at = current === null ? -1 : open.indexOf(current);
  if (at >= 0) {
    selectRegion(bench, open[(at + direction + open.length) % open.length]!);
    return;
  }
  // The current one is settled: go on with the next smaller one.
  const area = current === null ? Infinity : areaPx[current]!;
  const start = Math.max(
    0,
    open.findIndex((region) => areaPx[region]! <= area),
  );
  selectRegion(bench, open[direction === 1 ? start : (start - 1 + open.length) % open.length]!);
}
