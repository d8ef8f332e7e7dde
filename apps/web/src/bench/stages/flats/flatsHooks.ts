import type { StageHooks } from '../../state/StageHooks.ts';
import { followGuide, rereadGuide } from './colourGuide.ts';
import { flatsOverlay, previewProposals } from './flats.ts';
import { setFlats } from './setFlats.ts';

export const flatsHooks: StageHooks = {
  name: 'flats',
  overlay: flatsOverlay,
  preview: previewProposals,
  divided: (bench, decided) => {
    bench.set({ islands: [] });
    if (!decided) return;
    // What was proposed names regions that have other numbers now: the key is read anew, the rest is asked for again.
    if (bench.state.flats.examples !== null) setFlats(bench, { examples: null });
    rereadGuide(bench);
  },
  documentChanged: (bench) => void followGuide(bench),
};
