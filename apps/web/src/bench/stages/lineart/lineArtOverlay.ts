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

/** Trim and bleed of the job, in the middle of the file. */
function trimShapes({ trim, page }: BenchState): OverlayShape[] {
  if (trim === null || page === null || page.dpi === null) return [];
  const px = (mm: number): number => (mm / 25.4) * page.dpi!;
  const around = (extraMm: number): readonly (readonly [number, number])[] => {
    const [w, h] = [px(trim.widthMm + 2 * extraMm), px(trim.heightMm + 2 * extraMm)];
    const [x, y] = [(page.width - w) / 2, (page.height - h) / 2];
    return corners([x, y, x + w, y + h]);
  };
  return [
    { points: around(0), look: 'trim' },
    { points: around(trim.bleedMm), look: 'bleed' },
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
