import { countText } from '../../../measures.ts';
import { CastPanel } from '../../cast/CastPanel.tsx';
import { pressRegions } from '../flats/flatsShortcuts.ts';
import { SweepTool } from '../flats/SweepTool.ts';
import { isReady, type Stage } from '../Stage.ts';
import { HandoffPanel } from './HandoffPanel.tsx';

/** What goes to the colourist. */
export const handoffStage: Stage = {
  name: 'handoff',
  label: 'Hand off',
  progress: (state) => {
    const open = state.openRegions.length;
    return { share: 0, words: !isReady(state) ? '…' : open === 0 ? 'ready' : `${countText(open)} empty` };
  },
  left: { name: 'Hand off', Content: HandoffPanel },
  right: { name: 'Cast sheet', Content: CastPanel },
  // What is found to be missing while handing off is put right here.
  tool: (bench) => new SweepTool(bench),
  keys: [],
  press: (event, bench) => pressRegions(event.key, bench),
};
