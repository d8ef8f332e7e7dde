import type { Bench } from '../../state/Bench.ts';
import type { FlatsState, GuideWork } from './flatsState.ts';

export function setFlats(bench: Bench, part: Partial<FlatsState>): void {
  bench.set({ flats: { ...bench.state.flats, ...part } });
}

export function setGuideWork(bench: Bench, part: Partial<GuideWork>): void {
  setFlats(bench, { guideWork: { ...bench.state.flats.guideWork, ...part } });
}
