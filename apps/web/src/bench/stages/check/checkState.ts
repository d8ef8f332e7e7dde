import type { Finding, FindingKind } from '@jumble/core';

/** What the Check stage keeps in the bench's state. */
export interface CheckState {
  /** What the last check found; null while the page was not checked, or changed since. */
  readonly findings: readonly Finding[] | null;
  readonly checking: boolean;
  /** The finding the worklist stands at, by its key. */
  readonly findingKey: string | null;
  /** Whether the page shows what the remedy would make of the finding. */
  readonly remedyShown: boolean;
  /** The kind whose findings are about to be mended together. */
  readonly mendKind: FindingKind | null;
  /** Whether a reason for letting the finding stay is being written. */
  readonly waiving: boolean;
  /** Whether the page's certificate is for what the page is now; null until that is known. */
  readonly certified: boolean | null;
}

export const CHECK_INITIAL: CheckState = {
  findings: null,
  checking: false,
  findingKey: null,
  remedyShown: false,
  mendKind: null,
  waiving: false,
  certified: null,
};
