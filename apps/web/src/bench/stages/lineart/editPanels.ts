import { editPanels as recordOfPanels, type PagePanel } from '@jumble/core';
import { panelsOf } from '../../page/panels.ts';
import { drawOver } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';

export function setPanels(bench: Bench, label: string, panels: readonly PagePanel[] | null): void {
  bench.push({ label, edits: [recordOfPanels(panels)] });
}

export function pickPanel(bench: Bench, index: number | null): void {
  bench.set({ panelPicked: index });
  drawOver(bench);
}

export function movePanel(bench: Bench, index: number, by: 1 | -1): void {
  const panels = [...panelsOf(bench.state)];
  const [moved] = panels.splice(index, 1);
  if (moved === undefined || index + by < 0 || index + by > panels.length) return;
  panels.splice(index + by, 0, moved);
  bench.set({ panelPicked: index + by });
  setPanels(bench, 'Change the reading order', panels);
}

export function removePanel(bench: Bench, index: number): void {
  bench.set({ panelPicked: null });
  setPanels(
    bench,
    `Delete panel ${index + 1}`,
    panelsOf(bench.state).filter((_, k) => k !== index),
  );
}

/** Adds a panel after the picked one, or at the end. */
export function addPanel(bench: Bench, [x0, y0, x1, y1]: readonly [number, number, number, number]): void {
  const { panelPicked } = bench.state;
  const panels = [...panelsOf(bench.state)];
  const at = panelPicked === null ? panels.length : panelPicked + 1;
  const points = [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ] as const;
  panels.splice(at, 0, { points, scene: null });
  bench.set({ panelPicked: at });
  setPanels(bench, 'Draw a panel', panels);
}

export function moveCorner(bench: Bench, index: number, corner: number, to: readonly [number, number]): void {
  const panels = panelsOf(bench.state).map((panel, k) =>
    k === index ? { ...panel, points: panel.points.map((point, n) => (n === corner ? to : point)) } : panel,
  );
  setPanels(bench, `Move a corner of panel ${index + 1}`, panels);
}

export function setPanelScene(bench: Bench, index: number, scene: string | null): void {
  const panels = panelsOf(bench.state).map((panel, k) => (k === index ? { ...panel, scene } : panel));
  setPanels(bench, `Set the scene of panel ${index + 1}`, panels);
}

/** Shows a panel while it is drawn, or a corner where it is dragged to; null for none any more. */
export function draftPanel(bench: Bench, draft: Partial<Pick<BenchState, 'panelDraft' | 'cornerDraft'>>): void {
  bench.set({ panelDraft: null, cornerDraft: null, ...draft });
  drawOver(bench);
}
