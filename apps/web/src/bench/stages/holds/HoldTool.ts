import type { Point } from '@jumble/core';
import type { Bench } from '../../state/Bench.ts';
import { pagePointAt } from '../../state/viewport.ts';
import type { PageTool, ToolPointer } from '../../tools/PageTool.ts';
import { hover } from '../../page/look.ts';
import { BrushStroke, pickLineColour } from './brush.ts';
import { chooseLines, gradientEnds, lineAt, setGradientEnds, showGradientEnds } from './draft.ts';

/** How near the pointer must come to a line, in picture px. */
const REACH_PX = 10;
/** How near the pointer must come to an end of a gradient, in picture px. */
const END_REACH_PX = 12;
/** A loop's corners lie at least so far apart, in picture px. */
const CORNER_PX = 4;

type Gesture =
  | { readonly kind: 'sweep'; readonly takes: boolean; readonly pieces: Set<number> }
  | { readonly kind: 'brush'; readonly stroke: BrushStroke }
  | { readonly kind: 'end'; readonly which: 0 | 1 }
  | { readonly kind: 'loop'; readonly takes: boolean; readonly points: (readonly [number, number])[] };

/**
 * On the Holds stage: a click chooses a line, a drag that begins on one sweeps over further ones, a drag that begins beside
 * them is a loop round them; the second way of the same gesture takes lines out of what is chosen. The ends of a gradient
 * are dragged. With the brush a drag paints on lines, the second way takes that away, the third picks a line's colour.
 */
export class HoldTool implements PageTool {
  private gesture: Gesture | null = null;

  constructor(
    private readonly bench: Bench,
    private readonly say: (text: string) => void,
  ) {}

  get active(): boolean {
    return this.gesture !== null;
  }

  down(pointer: ToolPointer): void {
    const takes = pointer.intent === 'take';
    const at = pagePointAt(this.bench.state.view!, pointer);
    const end = this.endAt(at);
    if (this.bench.state.holdBrush.on) {
      this.beginStroke(pointer, at);
      return;
    }
    if (end !== null) {
      this.gesture = { kind: 'end', which: end };
      return;
    }
    const piece = this.lineAt(at);
    this.gesture =
      piece === null
        ? { kind: 'loop', takes, points: [at] }
        : { kind: 'sweep', takes: takes || this.isChosen(piece), pieces: new Set([piece]) };
  }

  move(pointers: readonly ToolPointer[]): void {
    const view = this.bench.state.view!;
    const last = pointers.at(-1);
    if (last === undefined) return;
    for (const pointer of this.gesture === null ? [] : pointers) {
      const at = pagePointAt(view, pointer);
      if (this.gesture!.kind === 'brush') this.gesture!.stroke.lineTo(this.pixelOf(at));
      else if (this.gesture!.kind === 'end') this.moveEnd(this.gesture!.which, at);
      else if (this.gesture!.kind === 'sweep') {
        const piece = this.lineAt(at);
        if (piece !== null) this.gesture!.pieces.add(piece);
      } else {
        const [px, py] = this.gesture!.points.at(-1)!;
        if (Math.hypot(at[0] - px, at[1] - py) * view.scale >= CORNER_PX) this.gesture!.points.push(at);
      }
    }
    if (this.gesture?.kind === 'loop') this.bench.engine.wayDraft({ points: [...this.gesture.points], closed: true });
    const at = pagePointAt(view, last);
    hover(this.bench, at);
    this.bench.set({ hoveredLine: this.lineAt(at) });
  }

  up(): void {
    const { gesture } = this;
    this.gesture = null;
    showGradientEnds(this.bench);
    if (gesture === null || gesture.kind === 'end') return;
    if (gesture.kind === 'brush') {
      if (!gesture.stroke.finish()) this.say('The brush met no line: it colours ink alone. Nothing was changed.');
      return;
    }
    if (gesture.kind === 'sweep') {
      chooseLines(this.bench, [...gesture.pieces], gesture.takes);
      return;
    }
    if (gesture.points.length < 3) return;
    void this.bench.engine.linesWithin(gesture.points).then((pieces) => {
      if (pieces.length === 0) this.say('No line lies mostly inside that loop. Nothing was chosen.');
      else chooseLines(this.bench, pieces, gesture.takes);
    });
  }

  cancel(): void {
    if (this.gesture?.kind === 'brush') this.gesture.stroke.cancel();
    this.gesture = null;
    showGradientEnds(this.bench);
  }

  private beginStroke({ intent }: ToolPointer, at: Point): void {
    const { holds, holdBrush, view } = this.bench.state;
    if (holds === null) return;
    if (intent === 'like') {
      pickLineColour(this.bench, this.pixelOf(at), Math.round(REACH_PX / view!.scale));
      return;
    }
    const stroke = new BrushStroke(this.bench, intent === 'take' ? null : holdBrush.colour);
    this.gesture = { kind: 'brush', stroke };
    stroke.lineTo(this.pixelOf(at));
  }

  /** The end of the gradient at a page point. */
  private endAt([x, y]: Point): 0 | 1 | null {
    const ends = gradientEnds(this.bench.state);
    const reach = END_REACH_PX / this.bench.state.view!.scale;
    const at = ends?.findLastIndex(([ex, ey]) => Math.hypot(ex + 0.5 - x, ey + 0.5 - y) <= reach) ?? -1;
    return at < 0 ? null : (at as 0 | 1);
  }

  private moveEnd(which: 0 | 1, at: Point): void {
    const ends = gradientEnds(this.bench.state);
    if (ends !== null)
      setGradientEnds(this.bench, which === 0 ? [this.pixelOf(at), ends[1]] : [ends[0], this.pixelOf(at)]);
  }

  private pixelOf([x, y]: Point): Point {
    const { width, height } = this.bench.state.page!;
    return [Math.max(0, Math.min(width - 1, Math.floor(x))), Math.max(0, Math.min(height - 1, Math.floor(y)))];
  }

  private lineAt([x, y]: readonly [number, number]): number | null {
    return lineAt(this.bench.state, Math.floor(x), Math.floor(y), REACH_PX / this.bench.state.view!.scale);
  }

  private isChosen(piece: number): boolean {
    const { holdDraft } = this.bench.state;
    if (holdDraft === null || !('at' in holdDraft.lines)) return false;
    return holdDraft.lines.at.some(([x, y]) => lineAt(this.bench.state, x, y, 2) === piece);
  }
}
