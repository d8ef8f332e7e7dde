import { countText } from '../../../measures.ts';
import { isReady, type Stage } from '../Stage.ts';
import { HoldRules } from './HoldRules.tsx';
import { holdsHooks } from './holdsHooks.ts';
import { HOLDS_SHORTCUTS, pressHolds } from './holdsShortcuts.ts';
import { HoldTool } from './HoldTool.ts';
import { HoldWorklist } from './HoldWorklist.tsx';

/** Lines that are not black. */
export const holdsStage: Stage = {
  ...holdsHooks,
  label: 'Holds',
  progress: (state) => {
    if (!isReady(state)) return { share: 0, words: '…' };
    const open = state.holds?.low.length ?? 0;
    const rules = state.document?.holds.size ?? 0;
    if (rules + (state.document?.lineStrokes.size ?? 0) === 0) return { share: 1, words: 'all black' };
    return { share: open === 0 ? 1 : 0, words: open === 0 ? 'done' : `${countText(open)} too faint` };
  },
  left: { name: 'Holds', Content: HoldWorklist },
  right: { name: 'Rules of lines', Content: HoldRules },
  tool: (bench, say) => new HoldTool(bench, say),
  keys: HOLDS_SHORTCUTS,
  press: pressHolds,
};
