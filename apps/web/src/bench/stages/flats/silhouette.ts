import { cellsInContour, cellsOf, regionsOfCells, type CellGroups, type Silhouette } from '@jumble/core';
import { closeAndAssign } from '../../page/division.ts';
import { assignPart, previewCells } from '../../page/parts.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import { setFlats } from './setFlats.ts';

// Surround's rough way: all inside the outer contour of what a loop goes round takes one part, to be carved after.

type Loop = readonly (readonly [number, number])[];

/** A loop begins: what it needs is found meanwhile. */
export function beginSilhouette(bench: Bench): void {
  if (groupsNow(bench.state) === null) void findContours(bench);
}

/** Shows what the loop would take if it were closed now. */
export function previewSilhouette(bench: Bench, loop: Loop, partId: string): void {
  setFlats(bench, { silhouetteDraft: { loop, partId } });
  const { survey, flats } = bench.state;
  const groups = groupsNow(bench.state);
  if (survey === null || groups === null) {
    void findContours(bench);
    return;
  }
  const may = mayTake(bench.state);
  const { inside, box } = cellsInContour(survey, groups, loop, flats.share, (region) => may?.[region] !== 0);
  if (box === null) bench.engine.showCells(null);
  else previewCells(bench, cellsOf(inside), box, partId);
}

/** The loop is given up. */
export function cancelSilhouette(bench: Bench): void {
  setFlats(bench, { silhouetteDraft: null });
  bench.engine.showCells(null);
}

/**
 * Assigns what the loop takes, as one step; gaps of the contour are closed with it.
 *
 * @returns whether there was anything to take.
 */
export async function takeSilhouette(bench: Bench, loop: Loop, partId: string): Promise<boolean> {
  setFlats(bench, { silhouetteDraft: null });
  let found: Silhouette | null = null;
  await bench.turns.run(async () => {
    const { share, contourHold } = bench.state.flats;
    found = await bench.engine.silhouette(loop, share, contourHold, mayTake(bench.state));
  });
  const { survey } = bench.state;
  const { cells, closures } = found ?? NOTHING;
  if (survey !== null && cells.length > 0) {
    const taken = new Set(cells);
    if (closures.length === 0) assignPart(bench, regionsOfCells(survey, taken), partId);
    else await closeAndAssign(bench, survey, closures, taken, partId);
  }
  bench.engine.showCells(null);
  // Where it failed that was told.
  return found === null || cells.length > 0;
}

/** What hangs together; null where the page was divided otherwise, or the control moved. */
function groupsNow({ survey, flats }: BenchState): CellGroups | null {
  const { contours, contourHold } = flats;
  return contours?.survey === survey && contours?.holdFrom === contourHold ? contours!.groups : null;
}

/** Finds what hangs together, then shows the loop as it is drawn by then. */
async function findContours(bench: Bench): Promise<void> {
  if (bench.state.flats.findingContours) return;
  setFlats(bench, { findingContours: true });
  try {
    const { survey, flats } = bench.state;
    if (survey === null) return;
    const groups = await bench.engine.contours(flats.contourHold);
    setFlats(bench, { contours: { survey, holdFrom: flats.contourHold, groups } });
  } catch {
    // What cannot be found is told when the loop is closed.
    return;
  } finally {
    setFlats(bench, { findingContours: false });
  }
  const draft = bench.state.flats.silhouetteDraft;
  if (draft !== null) previewSilhouette(bench, draft.loop, draft.partId);
}

/** 1 for regions that may be taken; null for all. */
function mayTake({ resolved, flats }: BenchState): Uint8Array | null {
  return flats.onlyOpen ? Uint8Array.from(resolved?.partOfRegion ?? [], (part) => (part === null ? 1 : 0)) : null;
}

const NOTHING: Silhouette = { cells: new Int32Array(0), closures: [] };
