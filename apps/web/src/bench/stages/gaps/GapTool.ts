import { cutOfKey, snapToInk } from '@jumble/core';
import { areaText } from '../../../measures.ts';
import type { Bench } from '../../state/Bench.ts';
import { pagePointAt } from '../../state/viewport.ts';
import type { PageTool, ToolPointer } from '../../tools/PageTool.ts';
import { hover } from '../../page/look.ts';
import {
  askLeak,
  closureAt,
  closureEndAt,
  drawClosure,
  moveClosureEnd,
  ruleGaps,
  selectGap,
  setClosureDraft,
  testLeak,
  traceLeak,
} from './gaps.ts';

/** How near the pointer must come, in picture px. */
const REACH_PX = 14;

type Gesture =
  | { readonly kind: 'none' }
  | {
      readonly kind: 'draw';
      readonly from: readonly [number, number];
      to: readonly [number, number];
      moved: boolean;
      /** The closure whose end is being moved. */
      readonly end: { readonly key: string; readonly end: 'from' | 'to' } | null;
    };

/**
 * On the Gaps stage: a click stands at a closure, the second way leaves it open, a drag from ink to ink
 * draws one. While a leak is traced, two clicks say which places should be apart.
 */
export class GapTool implements PageTool {
  private gesture: Gesture = { kind: 'none' };
  private traceFrom: readonly [number, number] = [0, 0];
  private pressed: readonly [number, number] = [0, 0];

  constructor(
    private readonly bench: Bench,
    private readonly say: (text: string) => void,
  ) {}

  get active(): boolean {
    return this.gesture.kind !== 'none';
  }

  private test(at: readonly [number, number]): void {
    askLeak(this.bench, null);
    void testLeak(this.bench, at).then((areaPx) => {
      if (areaPx === null) this.say('This is ink: colour runs on paper only.');
      else if (areaPx !== undefined)
        this.say(
          `Colour reaches ${areaText(areaPx, this.bench.state.page?.dpi ?? null)} from here. Escape wipes it away.`,
        );
    });
  }

  down(pointer: ToolPointer): void {
    const at = pagePointAt(this.bench.state.view!, pointer);
    this.pressed = at;
    const { leakAsked } = this.bench.state;
    if (leakAsked === 'run') return this.test(at);
    if (leakAsked !== null) return this.pickTrace(at, leakAsked);
    if (pointer.intent === 'take') {
      const closure = closureAt(this.bench.state, at[0], at[1], this.reach());
      if (closure === null) this.say('There is no closure here.');
      else void ruleGaps(this.bench, [closure.key], 'open');
      return;
    }
    const end = closureEndAt(this.bench.state, at[0], at[1], this.reach() / 2);
    const other = end === null ? null : cutOfKey(end.key)[end.end === 'from' ? 'to' : 'from'];
    // The far end of the closure stays where it is.
    this.gesture = { kind: 'draw', from: other ?? at, to: at, moved: false, end };
  }

  move(pointers: readonly ToolPointer[]): void {
    const last = pointers.at(-1);
    if (last === undefined) return;
    const { gesture } = this;
    const at = pagePointAt(this.bench.state.view!, last);
    if (gesture.kind === 'draw') {
      gesture.to = at;
      const { scale } = this.bench.state.view!;
      gesture.moved ||= Math.hypot(at[0] - this.pressed[0], at[1] - this.pressed[1]) * scale > 5;
      if (gesture.moved) {
        const [a, b] = [this.snapped(gesture.from), this.snapped(gesture.to)];
        setClosureDraft(this.bench, [...(a ?? gesture.from), ...(b ?? gesture.to)]);
      }
    }
    hover(this.bench, at);
  }

  up(): void {
    const { gesture } = this;
    this.gesture = { kind: 'none' };
    if (gesture.kind !== 'draw') return;
    setClosureDraft(this.bench, null);
    if (!gesture.moved) {
      const closure = closureAt(this.bench.state, this.pressed[0], this.pressed[1], this.reach());
      selectGap(this.bench, closure?.key ?? null, false);
      return;
    }
    const [a, b] = [this.snapped(gesture.from), this.snapped(gesture.to)];
    if (a === null || b === null) {
      this.say('A closure runs from ink to ink: begin and end it near a line. Nothing was drawn.');
      return;
    }
    if (a[0] === b[0] && a[1] === b[1]) return;
    if (gesture.end === null) void drawClosure(this.bench, a, b);
    else void moveClosureEnd(this.bench, gesture.end, b);
  }

  cancel(): void {
    this.gesture = { kind: 'none' };
    askLeak(this.bench, null);
    setClosureDraft(this.bench, null);
  }

  private pickTrace(at: readonly [number, number], place: 'trace' | 'trace-to'): void {
    if (place === 'trace') {
      this.traceFrom = at;
      askLeak(this.bench, 'trace-to');
      return;
    }
    askLeak(this.bench, null);
    void traceLeak(this.bench, this.traceFrom, at).then((leak) => {
      if (leak === undefined) return;
      if (leak === null)
        this.say('No colour gets from one to the other: they are in different regions, or one is on ink.');
      else if (leak.cut === null) this.say('The way is open at the page’s edge: draw a closure where it should end.');
    });
  }

  private reach(): number {
    return REACH_PX / this.bench.state.view!.scale;
  }

  private snapped([x, y]: readonly [number, number]): readonly [number, number] | null {
    const { survey } = this.bench.state;
    return survey === null ? null : (snapToInk(survey, x, y, Math.ceil(Math.min(60, this.reach())))?.at ?? null);
  }
}
