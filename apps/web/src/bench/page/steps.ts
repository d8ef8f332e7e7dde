import type { AppendedView } from '@jumble/contracts';
import { readHistory } from '@jumble/core';
import { request } from '../../api/http.ts';
import type { Bench } from '../state/Bench.ts';

/** Takes the latest step of page or cast sheet back, or does the one again that was taken back last. */
export function step(bench: Bench, direction: 'undo' | 'redo'): Promise<void> {
  return bench.stepping.run(() => stepOnce(bench, direction));
}

async function stepOnce(bench: Bench, direction: 'undo' | 'redo'): Promise<void> {
  if (bench.isClosed) return;
  await bench.settled();
  const { history } = bench.state;
  const seq = readHistory(history)[direction].at(-1);
  const scope = history.find((one) => one.seq === seq)?.scope;
  if (seq === undefined || scope === undefined) return;
  const queue = bench.syncOf(scope);
  try {
    queue?.showAhead(direction, seq);
    const { step: done } = await request<AppendedView>('POST', `/api/pages/${bench.pageId}/history`, { direction });
    bench.addStep(done);
    bench.syncOf(done.scope)?.accept(done);
  } finally {
    queue?.rollBack();
  }
}

/** Undoes or redoes until a step is the last one that counts. */
export async function goToStep(bench: Bench, seq: number): Promise<void> {
  for (;;) {
    const { undo, redo } = readHistory(bench.state.history);
    if (undo.at(-1) === seq) return;
    const direction = undo.includes(seq) ? 'undo' : redo.includes(seq) ? 'redo' : null;
    const before = bench.state.history.length;
    if (direction !== null) await step(bench, direction);
    // Nothing moved: it is gone, or it failed and that was said.
    if (bench.state.history.length === before) return;
  }
}
