import type { PageComputer } from './PageComputer.ts';

/** A {@link PageComputer} that is asked from afar: every answer is waited for. */
export type Computing = {
  readonly [K in keyof PageComputer]: PageComputer[K] extends (...args: infer Args) => infer Out
    ? (...args: Args) => Promise<Awaited<Out>>
    : never;
};
