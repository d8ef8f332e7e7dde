import { countText } from '../../../measures.ts';
import { CastPanel } from '../../cast/CastPanel.tsx';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import type { PageTool } from '../../tools/PageTool.ts';
import { isReady, type Stage } from '../Stage.ts';
import { flatsHooks } from './flatsHooks.ts';
import { FLATS_SHORTCUTS, pressFlats } from './flatsShortcuts.ts';
import { MarkTool } from './MarkTool.ts';
import { PenTool } from './PenTool.ts';
import { SurroundTool } from './SurroundTool.ts';
import { SweepTool } from './SweepTool.ts';
import { Worklist } from './Worklist.tsx';

/** Who has which region. */
export const flatsStage: Stage = {
  ...flatsHooks,
  label: 'Flats',
  progress: (state) => {
    const open = state.openRegions.length;
    const toLook = countToLook(state);
    const total = state.survey?.regions.count ?? 0;
    const left = open === 0 ? `${countText(toLook)} to look at` : `${countText(open)} open`;
    return {
      share: total === 0 ? 0 : 1 - (open + toLook) / total,
      words: !isReady(state) ? '…' : open + toLook === 0 ? 'done' : left,
    };
  },
  left: { name: 'Worklist', Content: Worklist },
  right: { name: 'Cast sheet', Content: CastPanel },
  tool: toolOfWay,
  keys: FLATS_SHORTCUTS,
  press: pressFlats,
};

function countToLook({ lookRegions, islands }: BenchState): number {
  if (islands.length === 0) return lookRegions.length;
  return new Set([...lookRegions, ...islands]).size;
}

function toolOfWay(bench: Bench, say: (words: string) => void): PageTool {
  const { way } = bench.state.flats;
  if (way === 'pen') return new PenTool(bench, say);
  if (way === 'surround') return new SurroundTool(bench, say);
  return way === 'marks' ? new MarkTool(bench, say) : new SweepTool(bench);
}
