import { KIND_WORDS, keyOfFinding, type Finding } from '@jumble/core';
import { EMPTY_OVERLAY, type Overlay, type OverlayShape } from '../../engine/messages.ts';
import type { BenchState } from '../../state/benchState.ts';
import { strokesOf } from '../gaps/closuresOnPage.ts';
import { findingNow, findingsListed } from './findings.ts';
import { isOfRegion } from './findingWords.ts';
import { gapAt } from './remedies.ts';

/** Room between a place and its outline, in px: it shows what it is about. */
const ROOM_PX = 3;

/** The places of findings: the one the worklist stands at with its name, those about to be mended together, the others thin. */
export function checkOverlay(state: BenchState): Overlay {
  const { findingKey, mendKind } = state;
  const { open, notes } = findingsListed(state);
  const shapes: OverlayShape[] = [];
  let chosen: OverlayShape | null = null;
  for (const finding of [...open, ...notes]) {
    const points = outlineOf(finding);
    if (keyOfFinding(finding) === findingKey && !isOfRegion(finding))
      chosen = { points, look: 'chosen', label: KIND_WORDS[finding.kind] };
    else if (finding.kind === mendKind || !isOfRegion(finding))
      shapes.push({ points, look: finding.kind === mendKind ? 'fault' : 'area' });
  }
  // What is stood at lies over the others.
  return { ...EMPTY_OVERLAY, shapes: chosen === null ? shapes : [...shapes, chosen], closures: closureStoodAt(state) };
}

/** The gap that is stood at: as it is proposed, or as it would be closed. */
function closureStoodAt(state: BenchState): Overlay['closures'] {
  const finding = findingNow(state);
  const gap = finding?.kind === 'open-gap' ? gapAt(state, finding) : undefined;
  return gap === undefined ? EMPTY_OVERLAY.closures : strokesOf([{ ...gap, accepted: state.remedyShown }]);
}

function outlineOf({ x, y, width, height }: Finding): OverlayShape['points'] {
  const [left, top, right, bottom] = [x - ROOM_PX, y - ROOM_PX, x + width + ROOM_PX, y + height + ROOM_PX];
  return [[left, top], [right, top], [right, bottom], [left, bottom]]; // prettier-ignore
}
