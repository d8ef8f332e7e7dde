import type { Page } from '@playwright/test';

/** What a walk looks at of the state behind the interface; where it can, it looks at the screen. */
export interface WalkedState {
  readonly faults: readonly { readonly kind: string }[] | null;
  readonly faultsLookedFor: boolean;
  readonly holds: {
    readonly rgb: Int32Array;
    readonly low: readonly unknown[];
    readonly counts: readonly number[];
  } | null;
  readonly holdsLookedFor: boolean;
  readonly holdDraft: object | null;
  readonly findings: readonly { readonly kind: string; readonly at: readonly [number, number] }[] | null;
  readonly findingKey: string | null;
  readonly checking: boolean;
  readonly certified: boolean | null;
  readonly document: {
    readonly areas: ReadonlyMap<string, unknown>;
    readonly holds: ReadonlyMap<string, unknown>;
    readonly lineStrokes: ReadonlyMap<string, unknown>;
    readonly tiles: ReadonlyMap<string, unknown>;
    readonly trap: unknown;
  };
  readonly cast: {
    readonly parts: readonly { readonly id: string; readonly trap?: unknown }[];
    readonly colours: ReadonlyMap<string, ReadonlyMap<string, string>>;
  };
  readonly page: { readonly jobId: string };
  readonly resolved: { readonly partOfRegion: readonly string[] };
  readonly survey: { readonly width: number; readonly regions: { readonly anchor: Int32Array } };
}

/** Asks the state of the bench. @param select runs in the page and knows nothing of what is around it here. */
export const stateOf = <T>(page: Page, select: (state: WalkedState) => T): Promise<T> =>
  page.evaluate(
    (text) => (0, eval)(text)((window as unknown as { jumbleBench: { state: WalkedState } }).jumbleBench.state) as T,
    `(${select.toString()})`,
  );
