import type { StageHooks } from '../../state/StageHooks.ts';
import { checkOverlay } from './checkOverlay.ts';
import { followCheck, leaveCheck } from './followCheck.ts';

export const checkHooks: StageHooks = {
  name: 'check',
  overlay: checkOverlay,
  preview: followCheck,
  partsChanged: (bench) => {
    leaveCheck(bench);
    followCheck(bench);
  },
  documentChanged: followCheck,
  pageRead: (bench) =>
    bench.set({ findings: null, findingKey: null, remedyShown: false, mendKind: null, waiving: false }),
};
