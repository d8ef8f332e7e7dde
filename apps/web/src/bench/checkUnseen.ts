import type { JobView } from '@jumble/contracts';
import type { FindingKind } from '@jumble/core';
import { startEngine } from './engine/startEngine.ts';
import { makeBench, openPage } from './page/openBench.ts';
import { setJob, setStage } from './page/show.ts';
import { certify } from './stages/check/certificate.ts';
import { openFindings } from './stages/check/findings.ts';
import { STAGES } from './stages/stages.ts';
import type { Bench } from './state/Bench.ts';

/** What came of checking a page that nobody looks at. */
export interface UnseenCheck {
  /** Findings to settle, by kind; in no order. */
  readonly open: ReadonlyMap<FindingKind, number>;
  readonly isCertified: boolean;
}

/**
 * Opens a page, checks it as the stage Check does, and leaves it.
 *
 * @param certifies whether a page without open findings is certified, as one step. @param signal leaves it early.
 * @throws Error where the page cannot be read or checked; AbortError when it was left early.
 */
export async function checkUnseen(
  pageId: string,
  job: Pick<JobView, 'name' | 'trim'>,
  certifies: boolean,
  signal: AbortSignal,
): Promise<UnseenCheck> {
  let refuse: (error: Error) => void = () => undefined;
  const failed = new Promise<never>((_, reject) => (refuse = reject));
  signal.addEventListener('abort', () => refuse(signal.reason as Error));
  const bench = makeBench(pageId, startEngine(), STAGES, refuse);
  try {
    setJob(bench, job);
    setStage(bench, 'check');
    return await Promise.race([failed, check(bench, certifies)]);
  } finally {
    bench.close();
  }
}

async function check(bench: Bench, certifies: boolean): Promise<UnseenCheck> {
  await openPage(bench);
  if (bench.state.phase === 'failed') throw new Error(bench.state.phaseText ?? 'The page cannot be read.');
  await findingsOf(bench);
  const open = new Map<FindingKind, number>();
  for (const { kind } of openFindings(bench.state)) open.set(kind, (open.get(kind) ?? 0) + 1);
  if (certifies && open.size === 0 && bench.state.certified !== true) {
    await certify(bench);
    await bench.settled();
  }
  return { open, isCertified: open.size === 0 && (certifies || bench.state.certified === true) };
}

/** Waits until the page is checked as it is, and until it is known whether a certificate it has still holds. */
function findingsOf(bench: Bench): Promise<void> {
  const isDone = (): boolean => {
    const { findings, checking, document, certified } = bench.state;
    return findings !== null && !checking && (document?.certificate === null || certified !== null);
  };
  if (isDone()) return Promise.resolve();
  return new Promise((resolve) => {
    const stop = bench.store.subscribe(() => {
      if (!isDone()) return;
      stop();
      resolve();
    });
  });
}
