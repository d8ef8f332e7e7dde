import type { Bench } from '../../state/Bench.ts';
import { pagePointAt } from '../../state/viewport.ts';
import type { PageTool, ToolPointer } from '../../tools/PageTool.ts';
import { hover } from '../../page/look.ts';
import { chooseLines, lineAt } from './holds.ts';

/** How near the pointer must come to a line, in picture px. */
const REACH_PX = 10;
/** A loop's corners lie at least so far apart, in picture px. */
const CORNER_PX = 4;

type Gesture =
  | { readonly kind: 'sweep'; readonly takes: boolean; readonly pieces: Set<number> }
  | { readonly kind: 'loop'; readonly takes: boolean; readonly points: (readonly [number, number])[] };

/**
 * On the Holds stage: a click chooses a line, a drag that begins on one sweeps over further ones, a drag that begins beside
 * them is a loop round them; the second way of the same gesture takes lines out of what is chosen.
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
      if (this.gesture!.kind === 'sweep') {
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
    this.cancel();
    if (gesture === null) return;
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
    this.gesture = null;
    this.bench.engine.wayDraft(null);
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
