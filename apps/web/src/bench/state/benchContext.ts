import { createContext, useContext, useSyncExternalStore } from 'react';
import type { Bench } from './Bench.ts';
import type { BenchState } from './benchState.ts';

export const BenchContext = createContext<Bench | null>(null);

export function useBench(): Bench {
  const bench = useContext(BenchContext);
  if (bench === null) throw new Error('useBench needs a bench around it');
  return bench;
}

/** Reads from the bench's state; the component is drawn anew, with the next frame, when what it reads changes. */
export function useBenchState<T>(select: (state: BenchState) => T): T {
  const bench = useBench();
  return useSyncExternalStore(bench.follow, () => select(bench.state));
}
