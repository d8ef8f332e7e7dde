import type { StageHooks } from '../../state/StageHooks.ts';
import { followHolds } from './followHolds.ts';

export const holdsHooks: StageHooks = {
  name: 'holds',
  // Without a rule the lines are divided once the stage is shown.
  preview: followHolds,
  partsChanged: followHolds,
  pageRead: (bench) => bench.set({ holds: null, holdDraft: null, lowPiece: null }),
};
