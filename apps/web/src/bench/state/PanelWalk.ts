import { boxOf, contains, panelOfPoints, type PagePanel } from '@jumble/core';
import type { BenchState } from './benchState.ts';
import type { Looking } from './Looking.ts';
import { fitPage } from './viewport.ts';

/** What walking through the panels needs of the bench. */
export interface PanelPorts {
  readonly state: BenchState;
  readonly lineArt: { panels(): readonly PagePanel[] };
  readonly looking: Pick<Looking, 'showBox' | 'setView'>;
  set(part: Partial<Pick<BenchState, 'panelShown' | 'panelOfRegion'>>): void;
}

/** Worklists that go panel by panel. */
export class PanelWalk {
  constructor(private readonly bench: PanelPorts) {}

  /** Keeps the worklists to the next panel or the one before; between the last and the first to the whole page. */
  go(direction: 1 | -1): void {
    const panels = this.bench.lineArt.panels();
    if (panels.length === 0) return;
    const { panelShown, page, view } = this.bench.state;
    const steps = panels.length + 1;
    const at = ((panelShown ?? -1) + 1 + direction + steps) % steps;
    this.bench.set({ panelShown: at === 0 ? null : at - 1 });
    const points = panels[at - 1]?.points;
    if (points !== undefined) this.bench.looking.showBox(boxOf(points));
    else if (page !== null && view !== null) this.bench.looking.setView(fitPage(page, view));
  }

  /** Whether a page point lies in the panel that worklists keep to. */
  inShown(x: number, y: number): boolean {
    const { panelShown } = this.bench.state;
    const points = panelShown === null ? undefined : this.bench.lineArt.panels()[panelShown]?.points;
    return points === undefined || contains(points, x + 0.5, y + 0.5);
  }

  /** Works out again which panel each region lies in. */
  refresh(): void {
    const { survey, facts, panelShown } = this.bench.state;
    const panels = this.bench.lineArt.panels().map(({ points }) => ({ points, framed: true }));
    const known = survey !== null && (facts !== null || panels.length > 0);
    const panelOfRegion = known ? panelOfPoints(panels, survey.regions.anchor, survey.width) : null;
    this.bench.set({ panelOfRegion });
    // While a page is measured anew its panels are not known; the walk stays where it is.
    if (facts !== null && panelShown !== null && panelShown >= panels.length) this.bench.set({ panelShown: null });
  }
}
