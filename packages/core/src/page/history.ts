/** A step in a log: something done, or an earlier step taken back or done again. */
export interface HistoryStep {
  readonly seq: number;
  readonly kind: 'do' | 'undo' | 'redo';
  /** The step that is undone or redone. */
  readonly of: number | null;
}

export interface HistoryState {
  /** Steps that can be undone, oldest first. */
  readonly undo: readonly number[];
  /** Steps that can be redone, the next one last. */
  readonly redo: readonly number[];
}

/** Reads a whole log, oldest first. Doing something new forgets what could be redone. */
export function readHistory(log: readonly HistoryStep[]): HistoryState {
  const undo: number[] = [];
  let redo: number[] = [];
  for (const step of log) {
    if (step.kind === 'do') {
      undo.push(step.seq);
      redo = [];
    } else if (step.kind === 'undo') {
      take(undo, step.of);
      if (step.of !== null) redo.push(step.of);
    } else {
      take(redo, step.of);
      if (step.of !== null) undo.push(step.of);
    }
  }
  return { undo, redo };
}

function take(stack: number[], seq: number | null): void {
  const at = seq === null ? -1 : stack.lastIndexOf(seq);
  if (at >= 0) stack.splice(at, 1);
}
