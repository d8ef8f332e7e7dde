import type { StepScope } from '@jumble/contracts';
import type { Engine } from '../engine/Engine.ts';
import { Bench } from '../state/Bench.ts';
import type { StageHooks } from '../state/StageHooks.ts';
import { fitPage } from '../state/viewport.ts';
import { followDivision } from './division.ts';
import { setView } from './look.ts';
import { choosePart } from './parts.ts';
import { followReading, readPage } from './reading.ts';
import { refresh } from './show.ts';

/** What the page shows follows from its documents. */
export function followDocument(bench: Bench, scope: StepScope): void {
  if (scope === 'page') {
    followDivision(bench);
    followReading(bench);
    for (const stage of bench.stages) stage.documentChanged?.(bench);
  }
  refresh(bench);
}

/** A bench for a page; {@link openPage} fetches and reads it. */
export function makeBench(
  pageId: string,
  engine: Engine,
  stages: readonly StageHooks[],
  onProblem: (error: Error) => void,
): Bench {
  return new Bench(pageId, { engine, stages, onDocument: followDocument, onProblem });
}

/** Fetches the page and reads it; why that failed stands in the state. */
export async function openPage(bench: Bench): Promise<void> {
  try {
    const page = await bench.load();
    if (page === null) return;
    await readPage(bench, page);
    if (bench.isClosed) return;
    const { view, cast, partId } = bench.state;
    if (view !== null) setView(bench, fitPage(page, view));
    const first = cast?.parts[0];
    if (partId === null && first !== undefined) choosePart(bench, first.id);
  } catch (error) {
    bench.set({ phase: 'failed', phaseText: (error as Error).message });
  }
}
