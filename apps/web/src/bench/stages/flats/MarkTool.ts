import type { Bench } from '../../state/Bench.ts';
import { pagePointAt } from '../../state/viewport.ts';
import type { PageTool, ToolPointer } from '../../tools/PageTool.ts';
import { beginGesture, endGesture, hover } from '../../page/look.ts';
import { addMark, eraseMarks, markAt, recolourMark, setMarkDraft } from './marks.ts';

/** Points of a mark lie at least so far apart, in picture px; a mark has at most so many. */
const POINT_PX = 2.5;
const MOST_POINTS = 5000;
/** How near the pointer must come to a mark to erase it, in picture px. */
const REACH_PX = 8;

type Gesture =
  | { readonly kind: 'none' }
  | { readonly kind: 'mark'; readonly part: string; readonly points: [number, number][] }
  | { readonly kind: 'erase'; readonly ids: Set<string> };

/** Marks: loose strokes of the current part; the second way of the same gesture erases the marks it touches. */
export class MarkTool implements PageTool {
  private gesture: Gesture = { kind: 'none' };

  constructor(
    private readonly bench: Bench,
    private readonly say: (text: string) => void,
  ) {}

  get active(): boolean {
    return this.gesture.kind !== 'none';
  }

  down(pointer: ToolPointer): void {
    const { partId, view, page } = this.bench.state;
    const at = onPage(pagePointAt(view!, pointer), page!);
    if (pointer.intent === 'like') {
      const id = markAt(this.bench.state, at, REACH_PX / view!.scale);
      if (id !== null) recolourMark(this.bench, id);
      return;
    }
    if (pointer.intent === 'take') {
      this.gesture = { kind: 'erase', ids: new Set() };
      this.erase(at);
    } else if (partId !== null) {
      this.gesture = { kind: 'mark', part: partId, points: [at] };
      setMarkDraft(this.bench, { part: partId, points: [at] });
    }
    beginGesture(this.bench);
  }

  move(pointers: readonly ToolPointer[]): void {
    const { gesture } = this;
    const last = pointers.at(-1);
    if (last === undefined) return;
    const { view, page } = this.bench.state;
    if (gesture.kind !== 'none') {
      for (const pointer of pointers) {
        const at = onPage(pagePointAt(view!, pointer), page!);
        if (gesture.kind === 'erase') this.erase(at);
        else {
          const [px, py] = gesture.points.at(-1)!;
          const far = Math.hypot(at[0] - px, at[1] - py) * view!.scale >= POINT_PX;
          if (far && gesture.points.length < MOST_POINTS) gesture.points.push(at);
        }
      }
      if (gesture.kind === 'mark') setMarkDraft(this.bench, { part: gesture.part, points: [...gesture.points] });
    }
    hover(this.bench, pagePointAt(view!, last));
  }

  up(): void {
    const { gesture } = this;
    this.gesture = { kind: 'none' };
    endGesture(this.bench);
    if (gesture.kind === 'mark' && !addMark(this.bench, { part: gesture.part, points: gesture.points }))
      this.say('This mark lies on ink alone, where it means nothing: draw it over paper. Nothing was changed.');
    if (gesture.kind === 'erase') eraseMarks(this.bench, [...gesture.ids]);
  }

  cancel(): void {
    this.gesture = { kind: 'none' };
    endGesture(this.bench);
    setMarkDraft(this.bench, null);
  }

  private erase(at: readonly [number, number]): void {
    if (this.gesture.kind !== 'erase') return;
    const id = markAt(this.bench.state, at, REACH_PX / this.bench.state.view!.scale);
    if (id !== null) this.gesture.ids.add(id);
  }
}

function onPage(
  [x, y]: readonly [number, number],
  { width, height }: { readonly width: number; readonly height: number },
): [number, number] {
  return [Math.max(0, Math.min(width - 1, Math.round(x))), Math.max(0, Math.min(height - 1, Math.round(y)))];
}
