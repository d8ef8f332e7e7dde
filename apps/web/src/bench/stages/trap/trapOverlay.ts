import { EMPTY_OVERLAY, type Overlay, type OverlayShape } from '../../engine/messages.ts';
import type { BenchState } from '../../state/benchState.ts';
import { ruleWords } from '../../page/ruleWords.ts';
import { faultNow } from './faults.ts';

/** The areas with a rule of their own, the outline being drawn, and the place the worklist stands at. */
export function trapOverlay(state: BenchState): Overlay {
  const { document: page, areaId, areaDraft } = state;
  const shapes: OverlayShape[] = [...(page?.areas ?? [])].map(([id, { points, rule }]) => ({
    points,
    look: id === areaId ? 'chosen' : 'area',
    ...(id === areaId ? { label: ruleWords(rule) } : {}),
  }));
  const fault = faultNow(state);
  if (fault !== undefined) shapes.push({ points: fault.outline, look: 'fault' });
  if (areaDraft !== null && areaDraft.length > 1) shapes.push({ points: areaDraft, look: 'chosen' });
  return { ...EMPTY_OVERLAY, shapes };
}
