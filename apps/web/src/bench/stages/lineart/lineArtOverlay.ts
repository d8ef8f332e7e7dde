import { trimBoxes } from '@jumble/core';
import { EMPTY_OVERLAY, type Overlay, type OverlayShape } from '../../engine/messages.ts';
import { panelsOf } from '../../page/panels.ts';
import type { BenchState } from '../../state/benchState.ts';

type Box = readonly [number, number, number, number];

/** Trim, panels, what is to be decided and the specks that would go. */
export function lineArtOverlay(state: BenchState): Overlay {
  const { lineDecisions: list, lineKey, panelPicked, panelDraft, cornerDraft, facts, speckPreviewPx2 } = state;
  const shapes: OverlayShape[] = [...trimShapes(state)];
  panelsOf(state).forEach(({ points }, k) => {
    const picked = k === panelPicked;
    const shown =
      picked && cornerDraft !== null ? points.map((p, n) => (n === cornerDraft.corner ? cornerDraft.to : p)) : points;
    shapes.push({ points: shown, look: picked ? 'chosen' : 'panel', label: String(k + 1), handles: picked });
  });
  for (const one of list) {
    if (one.kind !== 'balloon' && one.kind !== 'solid' && one.kind !== 'change') continue;
    if (one.key !== lineKey) shapes.push({ points: corners(one.box), look: one.kind });
  }
  const current = list.find((one) => one.key === lineKey);
  if (current !== undefined && current.kind !== 'skew' && current.kind !== 'specks')
    shapes.push({ points: corners(current.box), look: 'chosen' });
  if (panelDraft !== null) shapes.push({ points: corners(panelDraft), look: 'chosen' });
  const limit = speckPreviewPx2 ?? (current?.kind === 'specks' ? (facts?.speckLimitPx2 ?? null) : null);
  const specks = limit === null || facts === null ? EMPTY_OVERLAY.specks : specksBelow(facts.speckAt, limit);
  return { ...EMPTY_OVERLAY, shapes, specks };
}

/** Trim and bleed of the job. */
function trimShapes(state: BenchState): OverlayShape[] {
  const boxes = trimBoxes(state.trim, state.page);
  if (boxes === null) return [];
  return [
    { points: corners(boxes.cut), look: 'trim' },
    { points: corners(boxes.bleed), look: 'bleed' },
  ];
}

function corners([x0, y0, x1, y1]: Box): readonly (readonly [number, number])[] {
  return [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ];
}

function specksBelow(speckAt: Float32Array, limitPx2: number): Float32Array {
  const shown: number[] = [];
  for (let k = 0; k < speckAt.length; k += 3) {
    if (speckAt[k + 2]! <= limitPx2) shown.push(speckAt[k]!, speckAt[k + 1]!, Math.sqrt(speckAt[k + 2]! / Math.PI));
  }
  return Float32Array.from(shown);
}
