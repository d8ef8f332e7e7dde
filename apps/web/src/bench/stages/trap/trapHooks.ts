import type { StageHooks } from '../../state/StageHooks.ts';
import { followFaults } from './faults.ts';
import { showCompared } from './rules.ts';
import { trapOverlay } from './trapOverlay.ts';

export const trapHooks: StageHooks = {
  name: 'trap',
  overlay: trapOverlay,
  // What the stage shows of the page comes with the preview: it is called while the stage is shown.
  preview: (bench) => {
    showCompared(bench);
    followFaults(bench);
  },
  pageRead: (bench) => {
    bench.set({ faults: null, faultKey: null, widestPx: null });
    void bench.turns.run(async () => bench.set({ widestPx: await bench.engine.widestLine() }));
  },
  partsChanged: followFaults,
};
