import type { Bench } from '../../state/Bench.ts';
import type { FlatsState, KeyWork } from './flatsState.ts';

export function setFlats(bench: Bench, part: Partial<FlatsState>): void {
  bench.set({ flats: { ...bench.state.flats, ...part } });
}

export function setKeyWork(bench: Bench, part: Partial<KeyWork>): void {
  setFlats(bench, { keyWork: { ...bench.state.flats.keyWork, ...part } });
}
