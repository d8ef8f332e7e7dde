import { degreesOfSlope, editPrep, straightenDocument, type Prep } from '@jumble/core';
import { drawOver } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';

/** Pointed-at paper counts as paper down to this much darker, ink up to this much lighter. */
const POINT_MARGIN = 4;

/** Changes how the line art is read. */
export function setPrep(bench: Bench, label: string, change: Partial<Prep>): void {
  const page = bench.state.document;
  if (page !== null) bench.push({ label, edits: [editPrep({ ...page.prep, ...change })] });
}

/** Turns the page to a slope, with everything on it. */
export function setSlope(bench: Bench, slopePpm: number | null): void {
  const { document: page, page: view } = bench.state;
  if (page === null || view === null) return;
  const label =
    slopePpm === null || slopePpm === 0
      ? 'Leave the page as it lies'
      : `Straighten the page by ${degreesOfSlope(slopePpm).toFixed(2)}°`;
  bench.push({ label, edits: straightenDocument(page, slopePpm, view.width, view.height) });
}

/** What is at a point is paper, or is ink, from now on. @returns what was wrong with the place, if anything. */
export async function pointAt(bench: Bench, what: 'paper' | 'ink', x: number, y: number): Promise<string | null> {
  const { survey } = bench.state;
  if (survey === null) return null;
  const grey = await bench.engine.greyAt(x, y);
  const { blackPoint, whitePoint } = survey.inkPoints;
  const next =
    what === 'paper'
      ? { blackPoint, whitePoint: Math.max(1, Math.min(255, grey - POINT_MARGIN)) }
      : { blackPoint: Math.min(254, grey + POINT_MARGIN), whitePoint };
  if (next.blackPoint >= next.whitePoint) {
    return what === 'paper'
      ? `This is as dark as ink (grey ${grey}). Point at bare paper.`
      : `This is as light as paper (grey ${grey}). Point at ink.`;
  }
  setPrep(bench, what === 'paper' ? `Set grey ${grey} as paper` : `Set grey ${grey} as ink`, { inkPoints: next });
  return null;
}

/** Shows which specks a limit would take, without deciding it; null shows none. */
export function previewSpecks(bench: Bench, limitPx2: number | null): void {
  bench.set({ speckPreviewPx2: limitPx2 });
  drawOver(bench);
}
