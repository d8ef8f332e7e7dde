import type { Closure } from '@jumble/core';
import { countText } from '../../../measures.ts';
import { CastPanel } from '../../cast/CastPanel.tsx';
import { latest } from '../../state/latest.ts';
import { isReady, type Stage } from '../Stage.ts';
import { gapsHooks } from './gapsHooks.ts';
import { GAPS_SHORTCUTS, pressGaps } from './gapsShortcuts.ts';
import { GapTool } from './GapTool.ts';
import { GapWorklist } from './GapWorklist.tsx';

const countAccepted = latest((closures: readonly Closure[]) => closures.filter((one) => one.accepted).length);

/** Gaps in the lines: which close, which stay open. */
export const gapsStage: Stage = {
  ...gapsHooks,
  label: 'Gaps',
  progress: (state) => {
    const open = state.openGaps.length;
    const accepted = state.survey === null ? 0 : countAccepted(state.survey.closures);
    return {
      share: accepted === 0 ? 1 : 1 - open / Math.max(accepted, open),
      words: !isReady(state) ? '…' : open === 0 ? 'done' : `${countText(open)} to rule on`,
    };
  },
  left: { name: 'Gaps', Content: GapWorklist },
  right: { name: 'Cast sheet', Content: CastPanel },
  tool: (bench, say) => new GapTool(bench, say),
  keys: GAPS_SHORTCUTS,
  press: pressGaps,
};
