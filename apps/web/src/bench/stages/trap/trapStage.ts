import { countText } from '../../../measures.ts';
import { isReady, type Stage } from '../Stage.ts';
import { trapHooks } from './trapHooks.ts';
import { pressTrap, TRAP_SHORTCUTS } from './trapShortcuts.ts';
import { TrapRules } from './TrapRules.tsx';
import { TrapTool } from './TrapTool.ts';
import { TrapWorklist } from './TrapWorklist.tsx';

/** How far colour runs under the lines. */
export const trapStage: Stage = {
  ...trapHooks,
  label: 'Trap',
  progress: (state) => {
    if (!isReady(state) || state.faults === null) return { share: 0, words: '…' };
    const open = state.faults.length;
    const { survey, openRegions, document } = state;
    if (openRegions.length === survey?.regions.count && document?.tiles.size === 0)
      return { share: 0, words: 'nothing filled' };
    return { share: open === 0 ? 1 : 0, words: open === 0 ? 'done' : `${countText(open)} to mend` };
  },
  left: { name: 'Trap', Content: TrapWorklist },
  right: { name: 'Rules of trap', Content: TrapRules },
  tool: (bench, say) => new TrapTool(bench, say),
  keys: TRAP_SHORTCUTS,
  press: pressTrap,
};
