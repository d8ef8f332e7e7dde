import type { Viewport } from '@jumble/core';
import type { Engine } from '../engine/Engine.ts';
import type { ViewOptions } from '../engine/messages.ts';
import type { BenchState } from './benchState.ts';
import { centreOn, fitPage, isFitted, showBox } from './viewport.ts';

/** What the bench keeps of where it is looked at. */
export type LookState = Pick<BenchState, 'view' | 'options' | 'hovered' | 'pointer' | 'painted' | 'loupe'>;

/** What looking needs of the bench. */
export interface LookPorts {
  readonly state: BenchState;
  readonly engine: Pick<Engine, 'view' | 'point' | 'loupe'>;
  set(part: Partial<LookState>): void;
  regionAt(x: number, y: number): number | null;
  /** The part that is painted over the regions at a page point. */
  paintedAt(point: readonly [number, number]): string | null;
  /** RGBA word of what a click would make of a region; null where it would make nothing. */
  wordIfClicked(region: number): number | null;
}

/** What of the page is in view, and what is under the pointer. */
export class Looking {
  /** While a gesture runs, regions show what it does to them, not what a click would do. */
  gesturing = false;

  constructor(private readonly bench: LookPorts) {}

  /** The canvas got its size (in device px). */
  resize(width: number, height: number): void {
    const { view, page, survey } = this.bench.state;
    if (view === null)
      this.setView(page === null ? { x: 0, y: 0, scale: 1, width, height } : fitPage(page, { width, height }));
    else if (survey === null && page !== null) this.setView(fitPage(page, { width, height }));
    else if (page !== null && isFitted(view, page)) this.setView(fitPage(page, { width, height }));
    else {
      const { x, y, scale } = view;
      this.setView(centreOn({ ...view, width, height }, x + view.width / 2 / scale, y + view.height / 2 / scale));
    }
  }

  setView(view: Viewport): number {
    this.bench.set({ view });
    return this.bench.engine.view(view, this.shownOptions());
  }

  /** Sends the view again: what is shown of it depends on the stage. */
  refresh(): void {
    const { view } = this.bench.state;
    if (view !== null) this.setView(view);
    this.point();
  }

  /** Brings a box of the page into view, close up. */
  showBox(box: readonly [number, number, number, number]): void {
    const { page, view } = this.bench.state;
    if (page !== null && view !== null) this.setView(showBox(view, page, box));
  }

  /** The drawing alone is looked at on the Line art stage. */
  private shownOptions(): ViewOptions {
    const { stage, options } = this.bench.state;
    return stage === 'lineart' ? { ...options, markMissing: false } : options;
  }

  setOptions(options: Partial<ViewOptions>): void {
    this.bench.set({ options: { ...this.bench.state.options, ...options } });
    const { view } = this.bench.state;
    if (view !== null) this.bench.engine.view(view, this.shownOptions());
  }

  /** The pointer stands at a page point, or left the page (null). */
  hover(point: readonly [number, number] | null): void {
    const hovered = point === null ? null : this.bench.regionAt(point[0], point[1]);
    const moved = hovered !== this.bench.state.hovered;
    this.bench.set({ hovered, pointer: point, painted: point === null ? null : this.bench.paintedAt(point) });
    if (moved) this.point();
  }

  showLoupe(screen: readonly [number, number] | null): void {
    this.bench.set({ loupe: screen });
    this.bench.engine.loupe(screen === null ? null : this.bench.state.pointer);
  }

  beginGesture(): void {
    this.gesturing = true;
    this.point();
  }

  endGesture(): void {
    this.gesturing = false;
    this.point();
  }

  /** Outlines the region under the pointer and the one the worklist stands at. */
  point(): number {
    const { current, flats } = this.bench.state;
    // The pen alone stays inside what is outlined.
    const hovered = this.gesturing && flats.way !== 'pen' ? null : this.bench.state.hovered;
    const preview = hovered === null || this.gesturing ? null : this.bench.wordIfClicked(hovered);
    return this.bench.engine.point(hovered, preview, current);
  }
}
