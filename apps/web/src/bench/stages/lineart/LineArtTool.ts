import { contains } from '@jumble/core';
import type { Bench } from '../../state/Bench.ts';
import { pagePointAt } from '../../state/viewport.ts';
import type { PageTool, ToolPointer } from '../../tools/PageTool.ts';
import { hover } from '../../page/look.ts';
import { panelsOf } from '../../page/panels.ts';
import { pointAt } from './cleanUp.ts';
import { selectDecision } from './decisions.ts';
import { addPanel, draftPanel, moveCorner, pickPanel } from './editPanels.ts';

/** How near a corner the pointer must come, in picture px. */
const REACH_PX = 12;
/** A panel is at least this wide and high, in page px. */
const LEAST_PX = 20;

type Point = readonly [number, number];
type Gesture =
  | { readonly kind: 'none' }
  | { readonly kind: 'corner'; readonly panel: number; readonly corner: number; to: Point }
  | { readonly kind: 'frame'; readonly from: Point; to: Point };

/**
 * On the Line art stage: a click picks a decision or a panel, a drag moves a corner of the picked panel.
 * After p, i or f the next click says what is paper, what is ink, or the next drag draws a panel.
 */
export class LineArtTool implements PageTool {
  private gesture: Gesture = { kind: 'none' };

  constructor(
    private readonly bench: Bench,
    private readonly say: (text: string) => void,
  ) {}

  get active(): boolean {
    return this.gesture.kind !== 'none';
  }

  down(pointer: ToolPointer): void {
    const at = pagePointAt(this.bench.state.view!, pointer);
    const { pointing, panelPicked } = this.bench.state;
    if (pointing === 'panel') {
      this.gesture = { kind: 'frame', from: at, to: at };
      return;
    }
    if (pointing !== null) {
      this.bench.set({ pointing: null });
      void pointAt(this.bench, pointing, at[0], at[1]).then(
        (problem) => problem !== null && this.say(problem),
        (error: unknown) => this.bench.fail(error as Error),
      );
      return;
    }
    const corner = panelPicked === null ? -1 : this.cornerAt(panelPicked, at);
    if (panelPicked !== null && corner >= 0) {
      this.gesture = { kind: 'corner', panel: panelPicked, corner, to: at };
      return;
    }
    this.pick(at);
  }

  move(pointers: readonly ToolPointer[]): void {
    const last = pointers.at(-1);
    if (last === undefined) return;
    const { gesture } = this;
    const at = this.onPage(pagePointAt(this.bench.state.view!, last));
    if (gesture.kind === 'corner') {
      gesture.to = at;
      draftPanel(this.bench, { cornerDraft: { corner: gesture.corner, to: at } });
    } else if (gesture.kind === 'frame') {
      gesture.to = at;
      draftPanel(this.bench, { panelDraft: boxBetween(gesture.from, at) });
    } else hover(this.bench, pagePointAt(this.bench.state.view!, last));
  }

  up(): void {
    const { gesture } = this;
    this.gesture = { kind: 'none' };
    draftPanel(this.bench, {});
    if (gesture.kind === 'corner') moveCorner(this.bench, gesture.panel, gesture.corner, gesture.to);
    if (gesture.kind !== 'frame') return;
    this.bench.set({ pointing: null });
    const box = boxBetween(this.onPage(gesture.from), gesture.to);
    if (box[2] - box[0] < LEAST_PX || box[3] - box[1] < LEAST_PX)
      this.say('A panel is larger. Press f and drag a rectangle.');
    else addPanel(this.bench, box);
  }

  cancel(): void {
    this.gesture = { kind: 'none' };
    this.bench.set({ pointing: null });
    draftPanel(this.bench, {});
  }

  private cornerAt(panel: number, [x, y]: Point): number {
    const reach = REACH_PX / this.bench.state.view!.scale;
    const points = panelsOf(this.bench.state)[panel]?.points ?? [];
    return points.findIndex(([px, py]) => Math.abs(px - x) <= reach && Math.abs(py - y) <= reach);
  }

  /** The panel whose frame is under the pointer, or the smallest decision there, or the panel it lies in. */
  private pick([x, y]: Point): void {
    const { lineDecisions, view } = this.bench.state;
    const panels = panelsOf(this.bench.state);
    const reach = REACH_PX / view!.scale;
    const framed = panels.findLastIndex(({ points }) =>
      points.some((point, k) => distanceToSide([x, y], point, points[(k + 1) % points.length]!) <= reach),
    );
    if (framed >= 0) {
      pickPanel(this.bench, framed);
      return;
    }
    const under = lineDecisions
      .filter(
        ({ kind, box }) =>
          kind !== 'skew' && kind !== 'specks' && x >= box[0] && y >= box[1] && x < box[2] && y < box[3],
      )
      .sort((a, b) => sizeOf(a.box) - sizeOf(b.box))[0];
    if (under !== undefined && under.kind !== 'panel') {
      selectDecision(this.bench, under, false);
      return;
    }
    const panel = panels.findLastIndex(({ points }) => contains(points, x + 0.5, y + 0.5));
    pickPanel(this.bench, panel < 0 ? null : panel);
  }

  private onPage([x, y]: Point): Point {
    const { page } = this.bench.state;
    return [Math.max(0, Math.min(page!.width, x)), Math.max(0, Math.min(page!.height, y))];
  }
}

function boxBetween(a: Point, b: Point): readonly [number, number, number, number] {
  return [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[0], b[0]), Math.max(a[1], b[1])];
}

function distanceToSide([x, y]: Point, [ax, ay]: Point, [bx, by]: Point): number {
  const length2 = (bx - ax) ** 2 + (by - ay) ** 2 || 1;
  const t = Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length2));
  return Math.hypot(x - ax - (bx - ax) * t, y - ay - (by - ay) * t);
}

function sizeOf([x0, y0, x1, y1]: readonly [number, number, number, number]): number {
  return (x1 - x0) * (y1 - y0);
}
