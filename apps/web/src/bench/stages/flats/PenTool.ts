import { PenStroke } from './PenStroke.ts';
import type { Bench } from '../../state/Bench.ts';
import { pagePointAt } from '../../state/viewport.ts';
import type { PageTool, ToolPointer } from '../../tools/PageTool.ts';
import { beginGesture, endGesture, hover } from '../../page/look.ts';
import { regionAtPoint } from '../../page/partColours.ts';
import { pickPartAt } from '../../page/parts.ts';
import { setWayDraft } from './flats.ts';
import { cutRegion, joinRegions } from './pen.ts';

type Point = readonly [number, number];

type Gesture =
  | { readonly kind: 'none' }
  | { readonly kind: 'stroke'; readonly stroke: PenStroke }
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
      pickPartAt(this.bench, at);
      return;
    }
    const takes = pointer.intent === 'take';
    if (flats.pen.nib === 'cut') {
      const region = regionAtPoint(this.bench.state, ...at) ?? -1;
      this.gesture = takes ? { kind: 'join', from: region, to: region } : { kind: 'cut', way: [at] };
    } else if (takes || partId !== null) {
      const stroke = PenStroke.begin(this.bench, at, takes ? null : partId);
      if (stroke !== null) this.gesture = { kind: 'stroke', stroke };
      else this.say('This belongs to no region: begin the stroke in the one it should stay inside.');
    }
    beginGesture(this.bench);
  }

  move(pointers: readonly ToolPointer[]): void {
    const last = pointers.at(-1);
    if (last === undefined) return;
    const { gesture } = this;
    for (const pointer of gesture.kind === 'none' ? [] : pointers) {
      const at = this.pixelAt(pointer);
      if (gesture.kind === 'stroke') gesture.stroke.lineTo(at);
      else if (gesture.kind === 'cut') gesture.way.push(at);
      else if (gesture.kind === 'join') gesture.to = regionAtPoint(this.bench.state, ...at) ?? gesture.to;
    }
    if (gesture.kind === 'cut') setWayDraft(this.bench, [...gesture.way], false);
    hover(this.bench, pagePointAt(this.bench.state.view!, last));
  }

  up(): void {
    const { gesture } = this;
    this.gesture = { kind: 'none' };
    endGesture(this.bench);
    if (gesture.kind === 'stroke') gesture.stroke.finish();
    if (gesture.kind === 'cut') {
      setWayDraft(this.bench, []);
      void cutRegion(this.bench, gesture.way).then((parts) => {
        if (!parts) this.say('That parts nothing: drag from line to line across a region. Nothing was changed.');
      });
    }
    if (gesture.kind === 'join' && gesture.from !== gesture.to && gesture.from >= 0) {
      if (!joinRegions(this.bench, gesture.from, gesture.to))
        this.say('A line parts these two. Give both the same part instead, or open a gap between them.');
    }
  }

  cancel(): void {
    const { gesture } = this;
    this.gesture = { kind: 'none' };
    endGesture(this.bench);
    if (gesture.kind === 'stroke') gesture.stroke.cancel();
    if (gesture.kind === 'cut') setWayDraft(this.bench, []);
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
