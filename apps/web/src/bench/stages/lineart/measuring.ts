import { isAbort } from '../../engine/abort.ts';
import type { Bench } from '../../state/Bench.ts';
import { followPanels } from '../../page/panels.ts';
import { settleRevision } from '../../page/reading.ts';
import { drawOver, refresh } from '../../page/show.ts';
import { changeKey, lineDecisions } from './lineDecisions.ts';

/** Measures the page as it was read last. */
export async function measure(bench: Bench): Promise<void> {
  const { survey, document: page, page: view } = bench.state;
  if (survey === null || page === null || view === null) return;
  const measurement = { panels: JSON.stringify(page.panels) };
  bench.set({ measuring: { text: 'Pieces of ink', share: 0 }, measurement });
  const isLatest = (): boolean => bench.state.measurement === measurement;
  try {
    const { facts, skew } = await bench.engine.describe(
      page.panels,
      [...page.solids.keys()].map(pointOf),
      (measuring) => bench.set({ measuring }),
    );
    if (!isLatest()) return;
    bench.set({ facts, skew, measuring: null });
    // Balloons just found are taken out of what is proposed.
    if (bench.state.flats.examples !== null) refresh(bench);
    else followPanels(bench);
    listDecisions(bench);
    if (view.previousGreyHash !== null && bench.state.changes === null) {
      const changes = await bench.engine.changesSince(`/api/pages/${view.id}/grey/${view.previousGreyHash}`);
      bench.set({ changes });
      listDecisions(bench);
    }
  } catch (error) {
    if (isLatest()) bench.set({ measuring: null });
    if (!isAbort(error)) bench.fail(error as Error);
  }
}

/** Leaves measuring: it can be begun again. */
export function stopMeasuring(bench: Bench): void {
  bench.engine.stopDescribing();
}

/** Lists the open decisions by what is measured and decided now. */
export function listDecisions(bench: Bench): void {
  const { survey, document, page, facts, skew, changes, resolved, lineKey, measurement, settlingRevision } =
    bench.state;
  if (survey === null || document === null || page === null || facts === null) return;
  if (measurement?.panels !== JSON.stringify(document.panels)) void measure(bench);
  const hasPart = (region: number): boolean => (resolved?.partOfRegion[region] ?? null) !== null;
  const decisions = lineDecisions({ page, survey, document, facts, skew, changes, hasPart });
  bench.set({
    lineDecisions: decisions,
    lineKey: decisions.some((one) => one.key === lineKey) ? lineKey : null,
  });
  // A file that changed nothing is settled as well.
  if (changes !== null && page.previousGreyHash !== null) {
    const settled = changes.every((change) => document.seen.has(changeKey(page, change)));
    if (settled && settlingRevision !== page.greyHash) {
      bench.set({ settlingRevision: page.greyHash });
      void settleRevision(bench);
    }
  }
  drawOver(bench);
}

/** The page point a decision is named by. */
export function pointOf(key: string): readonly [number, number] {
  return key.split(',').map(Number) as unknown as readonly [number, number];
}
