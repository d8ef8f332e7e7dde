import type { AppendedView, StepScope, StepView } from '@jumble/contracts';
import { readHistory } from '@jumble/core';
import { request } from '../../api/http.ts';
import type { BenchState } from './benchState.ts';
import type { SyncQueue } from './SyncQueue.ts';

/** What going back and forth in the history needs of the bench. */
export interface StepPorts {
  readonly state: Pick<BenchState, 'history'>;
  readonly pageId: string;
  /** The page was left. */
  readonly isClosed: boolean;
  /** Resolves once every gesture is acknowledged. */
  settled(): Promise<void>;
  syncOf(scope: StepScope): Pick<SyncQueue, 'foresee' | 'accept' | 'dropForeseen'> | null;
  addStep(step: StepView): void;
  fail(error: Error): void;
}

/** Undo and redo, of the page and of the cast sheet alike. */
export class StepWalk {
  /** Steps come one after the other: each shows before the server has done it. */
  private stepping: Promise<void> = Promise.resolve();

  constructor(private readonly bench: StepPorts) {}

  /** Takes the latest step back, or does the one again that was taken back last. */
  step(direction: 'undo' | 'redo'): Promise<void> {
    this.stepping = this.stepping.then(() => this.stepOnce(direction));
    return this.stepping;
  }

  private async stepOnce(direction: 'undo' | 'redo'): Promise<void> {
    if (this.bench.isClosed) return;
    let queue: ReturnType<StepPorts['syncOf']> = null;
    try {
      await this.bench.settled();
      const { history } = this.bench.state;
      const seq = readHistory(history)[direction].at(-1);
      const scope = history.find((one) => one.seq === seq)?.scope;
      if (seq === undefined || scope === undefined) return;
      queue = this.bench.syncOf(scope);
      queue?.foresee(direction, seq);
      const { step } = await request<AppendedView>('POST', `/api/pages/${this.bench.pageId}/history`, { direction });
      this.bench.addStep(step);
      this.bench.syncOf(step.scope)?.accept(step);
    } catch (error) {
      this.bench.fail(error as Error);
    } finally {
      queue?.dropForeseen();
    }
  }

  /** Undoes or redoes until a step is the last one that counts. */
  async goTo(seq: number): Promise<void> {
    for (;;) {
      const { undo, redo } = readHistory(this.bench.state.history);
      if (undo.at(-1) === seq) return;
      const direction = undo.includes(seq) ? 'undo' : redo.includes(seq) ? 'redo' : null;
      const before = this.bench.state.history.length;
      if (direction !== null) await this.step(direction);
      // Nothing moved: it is gone, or it failed and that was said.
      if (this.bench.state.history.length === before) return;
    }
  }
}
