import { contains } from '@jumble/core';
import type { Bench } from '../../state/Bench.ts';
import { pagePointAt } from '../../state/viewport.ts';
import type { PageTool, ToolPointer } from '../../tools/PageTool.ts';
import { hover } from '../../page/look.ts';
import { ruleWords } from '../../page/ruleWords.ts';
import { drawOver } from '../../page/show.ts';
import { faultsListed, selectFault } from './faults.ts';
import { addAreas, chooseArea, outlineOf, removeAreas } from './rules.ts';

/** An outline's corners lie at least so far apart, in picture px. */
const CORNER_PX = 4;
/** A pointer that moved less than this in all clicked, in picture px. */
const CLICK_PX = 5;

const TOO_FEW = 'An area needs at least three corners: draw round the place. Nothing was changed.';

/** On the Trap stage: a drag draws an area with a rule of its own, a click chooses an area or a place, the second way removes an area. */
export class TrapTool implements PageTool {
  private points: (readonly [number, number])[] | null = null;
  private takes = false;

  constructor(
    private readonly bench: Bench,
    private readonly say: (text: string) => void,
  ) {}

  get active(): boolean {
    return this.points !== null;
  }

  down(pointer: ToolPointer): void {
    this.takes = pointer.intent === 'take';
    this.points = [pagePointAt(this.bench.state.view!, pointer)];
  }

  move(pointers: readonly ToolPointer[]): void {
    const last = pointers.at(-1);
    const view = this.bench.state.view!;
    if (last === undefined) return;
    if (this.points !== null && !this.takes) {
      for (const pointer of pointers) {
        const [x, y] = pagePointAt(view, pointer);
        const [px, py] = this.points.at(-1)!;
        if (Math.hypot(x - px, y - py) * view.scale >= CORNER_PX) this.points.push([x, y]);
      }
      this.draft(this.points);
    }
    hover(this.bench, pagePointAt(view, last));
  }

  up(): void {
    const { points } = this;
    this.cancel();
    if (points === null) return;
    const [first] = points;
    const { page, view, areaRule } = this.bench.state;
    const far = Math.max(...points.map(([x, y]) => Math.hypot(x - first![0], y - first![1]))) * view!.scale;
    if (far < CLICK_PX) {
      this.click(first!);
      return;
    }
    const outline = page === null ? null : outlineOf(points, page);
    if (outline === null) this.say(TOO_FEW);
    else addAreas(this.bench, [{ points: outline, rule: areaRule }], `Trap of an area ${ruleWords(areaRule)}`);
  }

  cancel(): void {
    this.points = null;
    if (this.bench.state.areaDraft !== null) this.draft(null);
  }

  private draft(areaDraft: readonly (readonly [number, number])[] | null): void {
    this.bench.set({ areaDraft: areaDraft === null ? null : [...areaDraft] });
    drawOver(this.bench);
  }

  private click([x, y]: readonly [number, number]): void {
    const isIn = ({ points }: { readonly points: readonly (readonly [number, number])[] }): boolean =>
      contains(points, x, y);
    const areas = [...(this.bench.state.document?.areas ?? [])].sort(([, a], [, b]) => b.stamp - a.stamp);
    const area = areas.find(([, one]) => isIn(one))?.[0] ?? null;
    if (this.takes) {
      if (area !== null) removeAreas(this.bench, [area]);
      return;
    }
    const fault = faultsListed(this.bench.state).find(({ outline }) => isIn({ points: outline }));
    if (fault !== undefined) selectFault(this.bench, fault);
    else {
      this.bench.set({ faultKey: null });
      chooseArea(this.bench, area);
    }
  }
}
