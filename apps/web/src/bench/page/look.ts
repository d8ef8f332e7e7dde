import { holdsInOrder, type Viewport } from '@jumble/core';
import type { ViewOptions } from '../engine/messages.ts';
import type { Bench } from '../state/Bench.ts';
import type { BenchState } from '../state/benchState.ts';
import { centreOn, fitPage, isFitted, showBox as viewOfBox } from '../state/viewport.ts';
import { paintedAt } from './painted.ts';
import { regionAtPoint, wordIfClicked } from './partColours.ts';

/** The canvas got its size (in device px). */
export function resizeView(bench: Bench, width: number, height: number): void {
  const { view, page, survey } = bench.state;
  if (view === null)
    setView(bench, page === null ? { x: 0, y: 0, scale: 1, width, height } : fitPage(page, { width, height }));
  else if (survey === null && page !== null) setView(bench, fitPage(page, { width, height }));
  else if (page !== null && isFitted(view, page)) setView(bench, fitPage(page, { width, height }));
  else {
    const { x, y, scale } = view;
    setView(bench, centreOn({ ...view, width, height }, x + view.width / 2 / scale, y + view.height / 2 / scale));
  }
}

export function setView(bench: Bench, view: Viewport): number {
  bench.set({ view });
  return bench.engine.view(view, shownOptions(bench.state));
}

/** Sends the view again: what is shown of it depends on the stage. */
export function refreshView(bench: Bench): void {
  const { view } = bench.state;
  if (view !== null) setView(bench, view);
  outlinePointed(bench);
}

/** Brings a box of the page into view, close up. */
export function showBox(bench: Bench, box: readonly [number, number, number, number]): void {
  const { page, view } = bench.state;
  if (page !== null && view !== null) setView(bench, viewOfBox(view, page, box));
}

/** The drawing alone is looked at on the Line art stage, the depth of trap on its own. */
function shownOptions(state: BenchState): ViewOptions {
  const { stage, options, mapShown } = state;
  if (stage === 'lineart') return { ...options, markMissing: false };
  if (stage === 'trap' && mapShown) return { ...options, trapMapPx: mapTonePx(state) };
  if (stage === 'holds' && state.contrastMap) return { ...options, showFlats: false, chosenLines: lowLines(state) };
  const chosen = stage === 'holds' ? chosenLines(state) : undefined;
  return chosen === undefined ? options : { ...options, chosenLines: chosen };
}

/** Lines that the rule being made takes: 1 for each piece, from the second place on. */
export function chosenLines({ holds, holdDraft, document: page, holdBrush }: BenchState): Uint8Array | undefined {
  if (holds === null || holdDraft === null || page === null || holdBrush.on) return undefined;
  const rules = holdsInOrder(page);
  const number = holdDraft.id === null ? rules.length : rules.findIndex(({ id }) => id === holdDraft.id);
  const chosen = new Uint8Array(holds.count + 1);
  for (let piece = 0; piece < holds.count; piece++) if (holds.ruleOf[piece] === number) chosen[piece + 1] = 1;
  return chosen;
}

/** Lines that are hard to read, as {@link chosenLines} has them. */
function lowLines({ holds }: BenchState): Uint8Array {
  const lines = new Uint8Array((holds?.count ?? 0) + 1);
  for (const { piece } of holds?.low ?? []) lines[piece + 1] = 1;
  return lines;
}

/** Width of a tone in the map of trap, in px: the middle of a wide line has the last but one. */
export function mapTonePx({ survey }: Pick<BenchState, 'survey'>): number {
  return Math.max(0.5, Math.round((survey?.lineWidthPx.p90 ?? 0) / 2.5) / 4);
}

export function setOptions(bench: Bench, options: Partial<ViewOptions>): void {
  bench.set({ options: { ...bench.state.options, ...options } });
  const { view } = bench.state;
  if (view !== null) bench.engine.view(view, shownOptions(bench.state));
}

/** The pointer stands at a page point, or left the page (null). */
export function hover(bench: Bench, point: readonly [number, number] | null): void {
  const hovered = point === null ? null : regionAtPoint(bench.state, point[0], point[1]);
  const moved = hovered !== bench.state.hovered;
  bench.set({ hovered, pointer: point, painted: point === null ? null : paintedAt(bench, point) });
  if (moved) outlinePointed(bench);
}

export function showLoupe(bench: Bench, screen: readonly [number, number] | null): void {
  bench.set({ loupe: screen });
  bench.engine.loupe(screen === null ? null : bench.state.pointer, bench.state.stage === 'trap');
}

export function beginGesture(bench: Bench): void {
  bench.set({ gesturing: true });
  outlinePointed(bench);
}

export function endGesture(bench: Bench): void {
  bench.set({ gesturing: false });
  outlinePointed(bench);
}

/** Outlines the region under the pointer and the one the worklist stands at. */
export function outlinePointed(bench: Bench): number {
  const { current, flats, gesturing, hovered } = bench.state;
  // The pen alone stays inside what is outlined.
  const outlined = gesturing && flats.way !== 'pen' ? null : hovered;
  const preview = outlined === null || gesturing ? null : wordIfClicked(bench.state, outlined);
  return bench.engine.point(outlined, preview, current);
}
