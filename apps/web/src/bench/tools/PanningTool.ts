import type { Bench } from '../state/Bench.ts';
import { panBy } from '../state/viewport.ts';
import type { PageTool, ToolPointer } from './PageTool.ts';
import { setView } from '../page/look.ts';

/** Any tool, with the page moving along the pointer while that is what is meant. */
export class PanningTool implements PageTool {
  private last: { readonly x: number; readonly y: number } | null = null;

  constructor(
    private readonly bench: Bench,
    private readonly tool: PageTool,
  ) {}

  get active(): boolean {
    return this.last !== null || this.tool.active;
  }

  down(pointer: ToolPointer): void {
    if (pointer.intent === 'pan') this.last = pointer;
    else this.tool.down(pointer);
  }

  move(pointers: readonly ToolPointer[]): void {
    const to = pointers.at(-1);
    const { view } = this.bench.state;
    if (to === undefined || view === null) return;
    if (this.last === null) this.tool.move(pointers);
    else {
      setView(this.bench, panBy(view, to.x - this.last.x, to.y - this.last.y));
      this.last = to;
    }
  }

  up(): void {
    if (this.last === null) this.tool.up();
    this.last = null;
  }

  cancel(): void {
    this.last = null;
    this.tool.cancel();
  }
}
