/** A pointer event in device px of the canvas. */
export interface ToolPointer {
  readonly x: number;
  readonly y: number;
  /** Assign, take away, assign all like this, or move the page. */
  readonly intent: 'give' | 'take' | 'like' | 'pan';
}

/** What the pointer does on the page, as an explicit state machine. */
export interface PageTool {
  readonly active: boolean;
  down(pointer: ToolPointer): void;
  /** @param pointers all positions since the last call, oldest first. */
  move(pointers: readonly ToolPointer[]): void;
  up(): void;
  cancel(): void;
}
