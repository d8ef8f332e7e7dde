import { boxOf, contains, panelOfPoints, type PagePanel } from '@jumble/core';
import type { Bench } from '../state/Bench.ts';
import type { BenchState } from '../state/benchState.ts';
import { fitPage } from '../state/viewport.ts';
import { setView, showBox } from './look.ts';

/** Panels as they stand, corrected or found. */
export function panelsOf({ document: page, facts }: Pick<BenchState, 'document' | 'facts'>): readonly PagePanel[] {
  return page?.panels ?? (facts?.panels ?? []).map(({ points }) => ({ points, scene: null }));
}

/** Keeps the worklists to the next panel or the one before; between the last and the first to the whole page. */
export function goToPanel(bench: Bench, direction: 1 | -1): void {
  const panels = panelsOf(bench.state);
  if (panels.length === 0) return;
  const { panelShown, page, view } = bench.state;
  const steps = panels.length + 1;
  const at = ((panelShown ?? -1) + 1 + direction + steps) % steps;
  bench.set({ panelShown: at === 0 ? null : at - 1 });
  const points = panels[at - 1]?.points;
  if (points !== undefined) showBox(bench, boxOf(points));
  else if (page !== null && view !== null) setView(bench, fitPage(page, view));
}

/** Whether a page point lies in the panel that worklists keep to. */
export function inShownPanel(state: BenchState, x: number, y: number): boolean {
  const points = state.panelShown === null ? undefined : panelsOf(state)[state.panelShown]?.points;
  return points === undefined || contains(points, x + 0.5, y + 0.5);
}

/** Works out again which panel each region lies in. */
export function followPanels(bench: Bench): void {
  const { survey, facts, panelShown } = bench.state;
  const panels = panelsOf(bench.state).map(({ points }) => ({ points, framed: true }));
  const known = survey !== null && (facts !== null || panels.length > 0);
  bench.set({ panelOfRegion: known ? panelOfPoints(panels, survey.regions.anchor, survey.width) : null });
  // While a page is measured anew its panels are not known; the walk stays where it is.
  if (facts !== null && panelShown !== null && panelShown >= panels.length) bench.set({ panelShown: null });
}
