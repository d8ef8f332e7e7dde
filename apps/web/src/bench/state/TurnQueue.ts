import { isAbort } from '../engine/abort.ts';

/** Runs pieces of work one after the other; one that fails is told, and the next goes on. */
export class TurnQueue {
  private last: Promise<void> = Promise.resolve();
  private waiting = 0;

  constructor(private readonly onProblem: (error: Error) => void) {}

  /** Whether nothing is under way. */
  get isIdle(): boolean {
    return this.waiting === 0;
  }

  /** @returns when the work is done, failed or was dropped. */
  run(work: () => Promise<void>): Promise<void> {
    this.waiting++;
    const done = (): void => void this.waiting--;
    this.last = this.last.then(work).catch((error: unknown) => {
      // What was left drops what was under way.
      if (isAbort(error)) return;
      this.onProblem(error instanceof Error ? error : new Error(String(error)));
    });
    this.last = this.last.then(done);
    return this.last;
  }
}
