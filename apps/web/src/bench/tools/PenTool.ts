import type { Bench } from '../state/Bench.ts';
import { pagePointAt } from '../state/viewport.ts';
import type { PageTool, ToolPointer } from './PageTool.ts';

type Point = readonly [number, number];

type Gesture =
  | { readonly kind: 'none' }
  | { readonly kind: 'stroke' }
  | { readonly kind: 'cut'; readonly way: Point[] }
  | { readonly kind: 'join'; readonly from: number; to: number };

/**
 * The hard pen: paints the current part, the second way of the same gesture wipes out, the third picks the
 * part under the pointer. With the nib for cutting a drag parts a region, the second way joins the two
 * regions it runs between.
 */
export class PenTool implements PageTool {
  private gesture: Gesture = { kind: 'none' };

  constructor(
    private readonly bench: Bench,
    private readonly say: (text: string) => void,
  ) {}

  get active(): boolean {
    return this.gesture.kind !== 'none';
  }

  down(pointer: ToolPointer): void {
    const at = this.pixelAt(pointer);
    const { flats, partId } = this.bench.state;
    if (pointer.intent === 'like') {
      this.bench.pickPartAt(at);
      return;
    }
    const takes = pointer.intent === 'take';
    if (flats.pen.nib === 'cut') {
      const region = this.bench.regionAt(...at) ?? -1;
      this.gesture = takes ? { kind: 'join', from: region, to: region } : { kind: 'cut', way: [at] };
    } else if (takes || partId !== null) {
      if (this.bench.pen.begin(at, takes ? null : partId)) this.gesture = { kind: 'stroke' };
      else this.say('This belongs to no region: begin the stroke in the one it should stay inside.');
    }
    this.bench.looking.beginGesture();
  }

  move(pointers: readonly ToolPointer[]): void {
    const last = pointers.at(-1);
    if (last === undefined) return;
    const { gesture } = this;
    for (const pointer of gesture.kind === 'none' ? [] : pointers) {
      const at = this.pixelAt(pointer);
      if (gesture.kind === 'stroke') this.bench.pen.lineTo(at);
      else if (gesture.kind === 'cut') gesture.way.push(at);
      else if (gesture.kind === 'join') gesture.to = this.bench.regionAt(...at) ?? gesture.to;
    }
    if (gesture.kind === 'cut') this.bench.flats.setWayDraft([...gesture.way], false);
    this.bench.looking.hover(pagePointAt(this.bench.state.view!, last));
  }

  up(): void {
    const { gesture } = this;
    this.gesture = { kind: 'none' };
    this.bench.looking.endGesture();
    if (gesture.kind === 'stroke') this.bench.pen.finish();
    if (gesture.kind === 'cut') {
      this.bench.flats.setWayDraft([]);
      void this.bench.pen.cut(gesture.way).then((parts) => {
        if (!parts) this.say('That parts nothing: drag from line to line across a region. Nothing was changed.');
      });
    }
    if (gesture.kind === 'join' && gesture.from !== gesture.to && gesture.from >= 0) {
      if (!this.bench.pen.join(gesture.from, gesture.to))
        this.say('A line parts these two. Give both the same part instead, or open a gap between them.');
    }
  }

  cancel(): void {
    const { gesture } = this;
    this.gesture = { kind: 'none' };
    this.bench.looking.endGesture();
    if (gesture.kind === 'stroke') this.bench.pen.cancel();
    if (gesture.kind === 'cut') this.bench.flats.setWayDraft([]);
  }

  private pixelAt(pointer: ToolPointer): [number, number] {
    const { view, page } = this.bench.state;
    const [x, y] = pagePointAt(view!, pointer);
    return [
      Math.max(0, Math.min(page!.width - 1, Math.floor(x))),
      Math.max(0, Math.min(page!.height - 1, Math.floor(y))),
    ];
  }
}
