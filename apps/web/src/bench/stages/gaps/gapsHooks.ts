import type { StageHooks } from '../../state/StageHooks.ts';
import { gapsOverlay, listGaps } from './gaps.ts';

export const gapsHooks: StageHooks = {
  name: 'gaps',
  overlay: gapsOverlay,
  divided: (bench) => {
    bench.set({ leak: null });
    listGaps(bench);
  },
};
