import type { LeakTrace } from '@jumble/core';

/** What the Gaps stage keeps in the bench's state. */
export interface GapsState {
  /** Closures to be ruled on, those with most at stake first. */
  readonly openGaps: readonly string[];
  /** Gaps that were ruled on, while the page is still being divided by it. */
  readonly gapsUnderWay: ReadonlySet<string>;
  /** Closure the worklist stands at. */
  readonly gapKey: string | null;
  /** The closure that is being drawn: from where to where. */
  readonly closureDraft: readonly [number, number, number, number] | null;
  /** What the next click on the page says of leaks: where colour runs from, or the places that should be apart. */
  readonly leakAsked: 'run' | 'trace' | 'trace-to' | null;
  readonly leak: LeakTrace | null;
}

export const GAPS_INITIAL: GapsState = {
  openGaps: [],
  gapsUnderWay: new Set(),
  gapKey: null,
  closureDraft: null,
  leakAsked: null,
  leak: null,
};
