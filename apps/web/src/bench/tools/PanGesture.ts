import type { Viewport } from '@jumble/core';
import { panBy } from '../state/viewport.ts';

/** What moving the page needs of the bench. */
interface PanPorts {
  readonly state: { readonly view: Viewport | null };
  setView(view: Viewport): unknown;
}

/** The page moves with the pointer; every tool does it alike. */
export class PanGesture {
  readonly kind = 'pan';

  constructor(
    private lastX: number,
    private lastY: number,
  ) {}

  move(bench: PanPorts, { x, y }: { readonly x: number; readonly y: number }): void {
    const { view } = bench.state;
    if (view !== null) bench.setView(panBy(view, x - this.lastX, y - this.lastY));
    this.lastX = x;
    this.lastY = y;
  }
}
