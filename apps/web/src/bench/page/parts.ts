import { assignRegions, type PixelBox, stampAfter } from '@jumble/core';
import { counted } from '../../measures.ts';
import { OPEN } from '../engine/messages.ts';
import type { Bench } from '../state/Bench.ts';
import { outlinePointed } from './look.ts';
import { paintedAt } from './painted.ts';
import { regionAtPoint, wordsIn } from './partColours.ts';
import { refresh } from './show.ts';

export function choosePart(bench: Bench, partId: string): void {
  bench.set({ partId });
  if (bench.state.show === 'part') refresh(bench);
  outlinePointed(bench);
}

/** Takes up the part at a page point: what is painted there, or what the region has. */
export function pickPartAt(bench: Bench, at: readonly [number, number]): void {
  const { resolved, survey } = bench.state;
  if (survey === null) return;
  const region = regionAtPoint(bench.state, ...at);
  const part = paintedAt(bench, at) ?? (region === null ? null : (resolved?.partOfRegion[region] ?? null));
  if (part !== null) choosePart(bench, part);
}

/** Shows regions with a part before the gesture is finished; null shows them without one. */
export function previewPart(bench: Bench, regions: Iterable<number>, partId: string | null): number {
  const list = Int32Array.from(regions);
  const part = bench.state.cast?.parts.find((one) => one.id === partId);
  const wordIn = part === undefined ? () => OPEN : wordsIn(bench.state, part);
  return bench.engine.patch(list, Uint32Array.from(list, wordIn));
}

/** Shows cells with a part before the gesture is finished. */
export function previewCells(bench: Bench, cells: Int32Array, box: PixelBox, partId: string): void {
  const { cast, survey } = bench.state;
  const part = cast?.parts.find((one) => one.id === partId);
  if (part === undefined || survey === null) return;
  const wordIn = wordsIn(bench.state, part);
  const colours = Uint32Array.from(cells, (cell) => wordIn(survey.regions.ofCell[cell]!));
  bench.engine.showCells({ cells, colours, box });
}

/** Assigns regions to a part, or takes theirs away (null), as one step. */
export function assignPart(bench: Bench, regions: ReadonlySet<number>, partId: string | null): void {
  const { survey, document: page, resolved, cast, islands } = bench.state;
  if (survey === null || page === null || resolved === null || cast === null) return;
  const changed = [...regions].filter(
    (region) =>
      resolved.partOfRegion[region] !== partId ||
      resolved.looks.has(region) ||
      (resolved.fillsOfRegion.get(region)?.length ?? 0) > 1,
  );
  if (changed.length === 0) return;
  const edits = assignRegions(survey, page.fills, resolved, changed, partId, stampAfter(page));
  if (edits.length === 0) return;
  // What was assigned anew is no island any more.
  if (islands.length > 0) bench.set({ islands: islands.filter((region) => !regions.has(region)) });
  const what = counted(changed.length, 'region');
  const name = cast.parts.find((part) => part.id === partId)?.name ?? '';
  bench.push({ label: partId === null ? `Remove the part from ${what}` : `Assign ${what} to ${name}`, edits });
}
