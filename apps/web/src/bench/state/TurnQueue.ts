import { isAbort } from '../engine/abort.ts';

/** Runs pieces of work one after the other; one that fails is told, and the next goes on. */
export class TurnQueue {
  private last: Promise<void> = Promise.resolve();

  constructor(private readonly onProblem: (error: Error) => void) {}

  /** @returns when the work is done, failed or was dropped. */
  run(work: () => Promise<void>): Promise<void> {
    this.last = this.last.then(work).catch((error: unknown) => {
      // What was left drops what was under way.
      if (isAbort(error)) return;
      this.onProblem(error instanceof Error ? error : new Error(String(error)));
    });
    return this.last;
  }
}
