import type { PageView } from '@jumble/contracts';
import { request } from '../../api/http.ts';
import type { Bench } from '../state/Bench.ts';
import { divisionOf, followDivision } from './division.ts';
import { textOfDivision } from './divideBy.ts';
import { knownCuts, readFrom } from './readFrom.ts';
import { drawOver, refresh } from './show.ts';

/** A page becomes ink and regions: when it is opened, and anew when its document or files say something else. */
export async function readPage(bench: Bench, page: PageView): Promise<void> {
  const document = bench.state.document!;
  const from = readFrom(page, document);
  const by = divisionOf(bench.state);
  const prep = { ...from.prep, maxGapPx: document.prep.maxGapPx };
  const survey = await bench.engine.survey({ ...from, prep }, by, knownCuts(page, document), (phaseText, phaseShare) =>
    bench.set({ phaseText, phaseShare }),
  );
  if (bench.isClosed) return;
  const isFirst = bench.state.survey === null;
  bench.set({
    survey,
    readBy: JSON.stringify(from),
    dividedBy: textOfDivision(by),
    phase: 'ready',
    facts: null,
    phaseShare: 1,
    hovered: null,
    current: null,
  });
  for (const stage of bench.stages) stage.divided?.(bench, !isFirst);
  refresh(bench);
  followDivision(bench);
  drawOver(bench);
  for (const stage of bench.stages) stage.pageRead?.(bench);
}

/** Reads the page anew when its document or its files came to say something else about the ink. */
export function followReading(bench: Bench): void {
  const { page, survey } = bench.state;
  if (page === null || survey === null || isRead(bench, page)) return;
  void bench.turns.run(async () => {
    const latest = bench.state.page!;
    if (bench.isClosed || isRead(bench, latest)) return;
    bench.set({ phase: 'again' });
    try {
      await readPage(bench, latest);
    } finally {
      if (bench.state.phase === 'again') bench.set({ phase: 'ready' });
    }
  });
}

function isRead(bench: Bench, page: PageView): boolean {
  const { document, readBy } = bench.state;
  return document === null || readBy === JSON.stringify(readFrom(page, document));
}

/** Takes what the server says of the page's files now. */
export function takePage(bench: Bench, page: PageView): void {
  bench.set({ page });
  followReading(bench);
}

/** The changes of a revised file are looked through. */
export async function settleRevision(bench: Bench): Promise<void> {
  try {
    takePage(bench, await request<PageView>('DELETE', `/api/pages/${bench.pageId}/revision`));
    bench.set({ changes: null });
    for (const stage of bench.stages) stage.partsChanged?.(bench);
  } catch (error) {
    bench.fail(error as Error);
  }
}
