import { countText } from '../../../measures.ts';
import { isReady, type Stage } from '../Stage.ts';
import { checkHooks } from './checkHooks.ts';
import { CheckRules } from './CheckRules.tsx';
import { CHECK_SHORTCUTS, pressCheck } from './checkShortcuts.ts';
import { CheckTool } from './CheckTool.ts';
import { CheckWorklist } from './CheckWorklist.tsx';
import { openFindings } from './findings.ts';

/** What is wrong with the page, and that nothing is. */
export const checkStage: Stage = {
  ...checkHooks,
  label: 'Check',
  progress: (state) => {
    if (!isReady(state)) return { share: 0, words: '…' };
    if (state.certified === true) return { share: 1, words: 'certified' };
    if (state.findings === null) return { share: 0, words: state.checking ? '…' : 'not checked' };
    const open = openFindings(state).length;
    return { share: open === 0 ? 0.9 : 0, words: open === 0 ? 'no findings' : `${countText(open)} to settle` };
  },
  left: { name: 'Check', Content: CheckWorklist },
  right: { name: 'Rules of the check', Content: CheckRules },
  tool: (bench) => new CheckTool(bench),
  keys: CHECK_SHORTCUTS,
  press: pressCheck,
};
