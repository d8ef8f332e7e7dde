import { editPalette, editScratch, formatColour, scratchColours, touchingParts } from '@jumble/core';
import type { Bench } from '../state/Bench.ts';

/** Assigns every part of the job a loud colour unlike those it touches on this page. */
export async function showScratchColours(bench: Bench): Promise<void> {
  const parts = bench.state.cast?.parts.filter((part) => !part.empty);
  if (parts === undefined || bench.state.resolved === null) return;
  const pairs = await bench.engine.touching().catch((error: Error) => bench.fail(error));
  if (pairs === undefined) return;
  const number = new Map(parts.map((part, k) => [part.id, k]));
  // What was given meanwhile counts.
  const partOfRegion = Int32Array.from(bench.state.resolved.partOfRegion, (id) =>
    id === null ? -1 : (number.get(id) ?? -1),
  );
  const { rgb, leastDistance } = scratchColours(parts.length, touchingParts(pairs, partOfRegion));
  const edits = parts.map((part, k) => editScratch(part.id, formatColour(rgb[k]!)));
  bench.changeCast('Use scratch colours', [...edits, editPalette('scratch')]);
  bench.set({ scratchDistance: Number.isFinite(leastDistance) ? leastDistance : null });
}

/** Shows the colours of the page's scene again. */
export function showRealColours(bench: Bench): void {
  bench.changeCast('Use the real colours', [editPalette('scene')]);
  bench.set({ scratchDistance: null });
}
