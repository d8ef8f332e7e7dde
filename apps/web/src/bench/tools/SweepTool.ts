import type { Bench } from '../state/Bench.ts';
import { panBy } from '../state/viewport.ts';
import type { PageTool, ToolPointer } from './PageTool.ts';

type Gesture =
  | { readonly kind: 'none' }
  | { readonly kind: 'pan'; lastX: number; lastY: number }
  | {
      readonly kind: 'sweep';
      readonly partId: string | null;
      readonly regions: Set<number>;
      lastX: number;
      lastY: number;
    };

/**
 * Point and sweep: every region the pointer crosses takes the current part; the second way of the
 * same gesture takes parts away. One gesture is one step. A fast line misses none: the way between
 * two events is walked pixel by pixel.
 */
export class SweepTool implements PageTool {
  private gesture: Gesture = { kind: 'none' };

  constructor(private readonly bench: Bench) {}

  get active(): boolean {
    return this.gesture.kind !== 'none';
  }

  down(pointer: ToolPointer): void {
    if (pointer.intent === 'pan') {
      this.gesture = { kind: 'pan', lastX: pointer.x, lastY: pointer.y };
      return;
    }
    const [x, y] = this.pagePoint(pointer);
    const partId = pointer.intent === 'take' ? null : this.bench.state.partId;
    if (pointer.intent === 'give' && partId === null) return;
    this.gesture = { kind: 'sweep', partId, regions: new Set(), lastX: x, lastY: y };
    this.bench.gesturing = true;
    this.bench.sendPoint();
    this.walk(x, y);
  }

  move(pointers: readonly ToolPointer[]): void {
    const { gesture } = this;
    const last = pointers.at(-1);
    if (last === undefined) return;
    if (gesture.kind === 'pan') {
      const { view } = this.bench.state;
      if (view !== null) this.bench.setView(panBy(view, last.x - gesture.lastX, last.y - gesture.lastY));
      gesture.lastX = last.x;
      gesture.lastY = last.y;
      return;
    }
    if (gesture.kind === 'sweep') {
      for (const pointer of pointers) this.walk(...this.pagePoint(pointer));
    }
    this.bench.hover(this.pagePoint(last));
  }

  up(): void {
    const { gesture } = this;
    this.gesture = { kind: 'none' };
    this.bench.gesturing = false;
    if (gesture.kind !== 'sweep') return;
    this.bench.give(gesture.regions, gesture.partId);
    this.bench.sendPoint();
  }

  /** Drops the gesture and shows the page as it was. */
  cancel(): void {
    const { gesture } = this;
    this.gesture = { kind: 'none' };
    this.bench.gesturing = false;
    if (gesture.kind !== 'sweep') return;
    const { resolved } = this.bench.state;
    for (const region of gesture.regions) this.bench.previewGiven([region], resolved?.partOfRegion[region] ?? null);
    this.bench.sendPoint();
  }

  private pagePoint({ x, y }: { x: number; y: number }): [number, number] {
    const view = this.bench.state.view!;
    return [Math.floor(view.x + x / view.scale), Math.floor(view.y + y / view.scale)];
  }

  private walk(x: number, y: number): void {
    const { gesture } = this;
    if (gesture.kind !== 'sweep') return;
    const added: number[] = [];
    const steps = Math.max(1, Math.abs(x - gesture.lastX), Math.abs(y - gesture.lastY));
    for (let k = 0; k <= steps; k++) {
      const px = Math.round(gesture.lastX + ((x - gesture.lastX) * k) / steps);
      const py = Math.round(gesture.lastY + ((y - gesture.lastY) * k) / steps);
      const region = this.bench.regionAt(px, py);
      if (region !== null && !gesture.regions.has(region)) {
        gesture.regions.add(region);
        added.push(region);
      }
    }
    gesture.lastX = x;
    gesture.lastY = y;
    if (added.length > 0) this.bench.previewGiven(added, gesture.partId);
  }
}
