import type { Bench } from '../../state/Bench.ts';
import { pagePointAt } from '../../state/viewport.ts';
import type { PageTool, ToolPointer } from '../../tools/PageTool.ts';
import { beginGesture, endGesture, hover } from '../../page/look.ts';
import { regionAtPoint } from '../../page/partColours.ts';
import { assignPart, previewPart } from '../../page/parts.ts';
import { likeThis } from './flats.ts';

type Gesture =
  | { readonly kind: 'none' }
  | {
      readonly kind: 'sweep';
      readonly partId: string | null;
      readonly regions: Set<number>;
      lastX: number;
      lastY: number;
    };

/**
 * Point and sweep: every region the pointer crosses takes the current part; the second way of the
 * same gesture takes parts away, the third gives to all regions like the one pointed at. One gesture is one step. A fast line misses none: the way between
 * two events is walked pixel by pixel.
 */
export class SweepTool implements PageTool {
  private gesture: Gesture = { kind: 'none' };

  constructor(private readonly bench: Bench) {}

  get active(): boolean {
    return this.gesture.kind !== 'none';
  }

  down(pointer: ToolPointer): void {
    const [x, y] = pagePointAt(this.bench.state.view!, pointer);
    if (pointer.intent === 'like') {
      const region = regionAtPoint(this.bench.state, x, y);
      const { partId: given } = this.bench.state;
      if (region !== null && given !== null) assignPart(this.bench, new Set(likeThis(this.bench.state, region)), given);
      return;
    }
    const partId = pointer.intent === 'take' ? null : this.bench.state.partId;
    if (pointer.intent === 'give' && partId === null) return;
    this.gesture = { kind: 'sweep', partId, regions: new Set(), lastX: x, lastY: y };
    beginGesture(this.bench);
    this.walk(x, y);
  }

  move(pointers: readonly ToolPointer[]): void {
    const { gesture } = this;
    const last = pointers.at(-1);
    if (last === undefined) return;
    if (gesture.kind === 'sweep') {
      for (const pointer of pointers) this.walk(...pagePointAt(this.bench.state.view!, pointer));
    }
    hover(this.bench, pagePointAt(this.bench.state.view!, last));
  }

  up(): void {
    const { gesture } = this;
    this.gesture = { kind: 'none' };
    endGesture(this.bench);
    if (gesture.kind !== 'sweep') return;
    assignPart(this.bench, gesture.regions, gesture.partId);
  }

  /** Drops the gesture and shows the page as it was. */
  cancel(): void {
    const { gesture } = this;
    this.gesture = { kind: 'none' };
    endGesture(this.bench);
    if (gesture.kind !== 'sweep') return;
    const { resolved } = this.bench.state;
    for (const region of gesture.regions) previewPart(this.bench, [region], resolved?.partOfRegion[region] ?? null);
  }

  private walk(x: number, y: number): void {
    const { gesture } = this;
    if (gesture.kind !== 'sweep') return;
    const added: number[] = [];
    const steps = Math.max(1, Math.abs(x - gesture.lastX), Math.abs(y - gesture.lastY));
    for (let k = 0; k <= steps; k++) {
      const px = Math.round(gesture.lastX + ((x - gesture.lastX) * k) / steps);
      const py = Math.round(gesture.lastY + ((y - gesture.lastY) * k) / steps);
      const region = regionAtPoint(this.bench.state, px, py);
      if (region !== null && !gesture.regions.has(region)) {
        gesture.regions.add(region);
        added.push(region);
      }
    }
    gesture.lastX = x;
    gesture.lastY = y;
    if (added.length > 0) previewPart(this.bench, added, gesture.partId);
  }
}
