import type { Bench } from '../../state/Bench.ts';
import { pagePointAt } from '../../state/viewport.ts';
import type { PageTool, ToolPointer } from '../../tools/PageTool.ts';
import { hover } from '../../page/look.ts';
import { findingsListed, selectFinding } from './findings.ts';

/** How near the pointer must come to a place, in picture px. */
const REACH_PX = 10;

/** On the Check stage: a click goes to the finding there, the smallest one where several lie over each other. */
export class CheckTool implements PageTool {
  private pressed: ToolPointer | null = null;

  constructor(private readonly bench: Bench) {}

  get active(): boolean {
    return this.pressed !== null;
  }

  down(pointer: ToolPointer): void {
    this.pressed = pointer;
  }

  move(pointers: readonly ToolPointer[]): void {
    const last = pointers.at(-1);
    if (last !== undefined) hover(this.bench, pagePointAt(this.bench.state.view!, last));
  }

  up(): void {
    const { pressed } = this;
    this.pressed = null;
    const { view } = this.bench.state;
    if (pressed === null || view === null) return;
    const [px, py] = pagePointAt(view, pressed);
    const reach = REACH_PX / view.scale;
    const { open, notes } = findingsListed(this.bench.state);
    const [nearest] = [...open, ...notes]
      .filter(
        ({ x, y, width, height }) =>
          px >= x - reach && py >= y - reach && px <= x + width + reach && py <= y + height + reach,
      )
      .sort((a, b) => a.width * a.height - b.width * b.height);
    if (nearest !== undefined) selectFinding(this.bench, nearest);
  }

  cancel(): void {
    this.pressed = null;
  }
}
