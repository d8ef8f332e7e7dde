import { countText } from '../../../measures.ts';
import type { Stage } from '../Stage.ts';
import { LINE_ART_SHORTCUTS, pressLineArt } from './lineArtShortcuts.ts';
import { lineArtHooks } from './lineArtHooks.ts';
import { LineArtPanel } from './LineArtPanel.tsx';
import { LineArtTool } from './LineArtTool.ts';
import { LineArtWorklist } from './LineArtWorklist.tsx';

/** The drawing itself: clean-up, panels, balloons, solid blacks. */
export const lineArtStage: Stage = {
  ...lineArtHooks,
  label: 'Line art',
  progress: ({ facts, lineDecisions }) => {
    const open = lineDecisions.length;
    if (facts === null) return { share: 0, words: '…' };
    return { share: 1 - open / Math.max(open, 8), words: open === 0 ? 'done' : `${countText(open)} to decide` };
  },
  left: { name: 'Line art', Content: LineArtWorklist },
  right: { name: 'The drawing', Content: LineArtPanel },
  tool: (bench, say) => new LineArtTool(bench, say),
  keys: LINE_ART_SHORTCUTS,
  press: pressLineArt,
};
