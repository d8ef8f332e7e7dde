import {
  assignRegions,
  editDrawn,
  editPrep,
  editRuling,
  fillsAcrossClosures,
  fillsAfterDivision,
  fillsWith,
  outlinesAcross,
  regionsOfCells,
  resolveFills,
  type Fill,
  type RecordEdit,
  stampAfter,
} from '@jumble/core';
import { counted } from '../../measures.ts';
import type { DivideBy, ShownSurvey } from '../engine/messages.ts';
import type { Bench } from '../state/Bench.ts';
import type { BenchState } from '../state/benchState.ts';
import { byAfter, textOfDivision } from './divideBy.ts';
import { showSurvey } from './show.ts';

const DIVIDED_MEANWHILE = 'The page came to be divided otherwise meanwhile. Nothing was changed; draw the loop again.';

/** What divides the page, by its document. */
export function divisionOf({ document: page }: Pick<BenchState, 'document'>): DivideBy {
  return { maxGapPx: page?.prep.maxGapPx ?? 'auto', rulings: page?.rulings ?? new Map(), drawn: page?.drawn ?? [] };
}

/** A step that divides the page anew. */
export interface DividingStep {
  readonly label: string;
  readonly edits: readonly RecordEdit[];
  /** Closures that are drawn by it. */
  readonly drawn?: readonly string[];
  /** Otherwise nothing is changed. */
  readonly isWorth?: (before: ShownSurvey, after: ShownSurvey) => boolean;
  /** Edits by the fills of the divided page. */
  readonly more?: (after: ShownSurvey, fills: ReadonlyMap<string, Fill>) => readonly RecordEdit[];
}

/**
 * Applies edits that divide the page anew, and lets every piece keep its part, all as one step: the division is computed
 * first, so that page and regions change together.
 */
export function changeDivision(bench: Bench, step: DividingStep): Promise<void> {
  const { label, drawn = [], isWorth = () => true, more = () => [] } = step;
  return bench.turns.run(async () => {
    const before = bench.state.decidedSurvey ?? bench.state.survey;
    const drawnBefore = bench.state.document?.drawn.join();
    if (before === null || drawnBefore === undefined) return;
    // What is drawn across an open outline leaves it closed to both sides.
    const held = outlinesAcross(before.closures, drawn).map((key) => editRuling(key, 'closed'));
    const edits = [...step.edits, ...held];
    const by = byAfter(divisionOf(bench.state), edits);
    const after = await bench.engine.divide(by);
    if (!isWorth(before, after)) {
      const now = divisionOf(bench.state);
      showSurvey(bench, await bench.engine.divide(now), textOfDivision(now));
      return;
    }
    // Fills made meanwhile count.
    const made = bench.state.document!.fills;
    const fills =
      by.drawn.join() === drawnBefore
        ? fillsAfterDivision(
            resolveFills(before, made, (part) => part),
            after,
            made,
            (at) => regionOfPixel(before, at),
          )
        : fillsAcrossClosures(after, new Set(drawn), made);
    showDecided(bench, after, by);
    bench.push({ label, edits: [...edits, ...fills, ...more(after, fillsWith(made, fills))] });
  });
}

/** Applies edits that say themselves which part every piece has, and divides the page by them, as one step. */
export function settleDivision(bench: Bench, label: string, edits: readonly RecordEdit[]): Promise<void> {
  return bench.turns.run(async () => {
    const by = byAfter(divisionOf(bench.state), edits);
    const after = await bench.engine.divide(by);
    showDecided(bench, after, by);
    bench.push({ label, edits });
  });
}

/** The step that follows shows who has the regions. */
function showDecided(bench: Bench, survey: ShownSurvey, by: DivideBy): void {
  bench.set({ decidedSurvey: null });
  showSurvey(bench, survey, textOfDivision(by), false);
}

/** Divides the page as the document says, when it came to say something else (undo, another tab). */
export function followDivision(bench: Bench): void {
  const { survey, document: page, dividedBy } = bench.state;
  if (survey === null || page === null || dividedBy === textOfDivision(divisionOf(bench.state))) return;
  void bench.turns.run(async () => {
    const by = divisionOf(bench.state);
    if (bench.state.dividedBy === textOfDivision(by)) return;
    const next = await bench.engine.divide(by);
    bench.set({ decidedSurvey: null });
    showSurvey(bench, next, textOfDivision(by));
  });
}

/** Shows what another largest gap would do, without deciding it. The latest one asked for wins. */
export function previewMaxGap(bench: Bench, maxGapPx: number): void {
  const idle = bench.state.previewedGapPx === null;
  bench.set({ previewedGapPx: maxGapPx });
  if (!idle) return;
  void bench.turns.run(async () => {
    bench.set({ decidedSurvey: bench.state.decidedSurvey ?? bench.state.survey });
    try {
      for (let shown = -1; bench.state.previewedGapPx !== null && bench.state.previewedGapPx !== shown;) {
        shown = bench.state.previewedGapPx;
        showSurvey(bench, await bench.engine.divide({ ...divisionOf(bench.state), maxGapPx: shown }));
      }
    } finally {
      bench.set({ previewedGapPx: null });
    }
  });
}

/** Decides the largest gap to close. */
export async function setMaxGap(bench: Bench, maxGapPx: 'auto' | number): Promise<void> {
  const page = bench.state.document;
  if (page === null) return;
  bench.set({ previewedGapPx: null });
  const words = maxGapPx === 'auto' ? 'by the line width' : `to ${maxGapPx} px`;
  await changeDivision(bench, {
    label: `Set the largest gap to close ${words}`,
    edits: [editPrep({ ...page.prep, maxGapPx })],
  });
}

/** Cuts a region along a way of at least two pixels, as one step. @returns whether it parts anything. */
export async function cutAlong(bench: Bench, way: readonly (readonly [number, number])[]): Promise<boolean> {
  const drawn = way.slice(1).map(([x, y], k) => `${way[k]![0]},${way[k]![1]}-${x},${y}`);
  let parts = false;
  await changeDivision(bench, {
    label: 'Cut a region',
    drawn,
    edits: drawn.map((closure) => editDrawn(closure, true)),
    isWorth: (before, after) => (parts = after.regions.count > before.regions.count),
  });
  return parts;
}

/** Opens the closures between two regions, as one step. */
export function joinAcross(bench: Bench, closures: readonly string[]): Promise<void> {
  const drawn = new Set(bench.state.document?.drawn);
  return changeDivision(bench, {
    label: 'Join two regions',
    edits: closures.map((closure) => (drawn.has(closure) ? editDrawn(closure, false) : editRuling(closure, 'open'))),
  });
}

/**
 * Closes gaps and assigns the regions that then lie in cells to a part, as one step. If the page came to be divided
 * otherwise meanwhile nothing is changed, and that is told.
 */
export function closeAndAssign(
  bench: Bench,
  seen: ShownSurvey,
  closures: readonly string[],
  cells: ReadonlySet<number>,
  partId: string,
): Promise<void> {
  const name = bench.state.cast?.parts.find((part) => part.id === partId)?.name ?? '';
  return changeDivision(bench, {
    label: `Close ${counted(closures.length, 'gap')} and assign what lies inside to ${name}`,
    edits: closures.map((closure) => editRuling(closure, 'closed')),
    isWorth: (before) => {
      if (before !== seen) bench.fail(new Error(DIVIDED_MEANWHILE));
      return before === seen;
    },
    more: (after, fills) =>
      assignRegions(
        after,
        fills,
        resolveFills(after, fills, (part) => part),
        regionsOfCells(after, cells),
        partId,
        stampAfter(bench.state.document!),
      ),
  });
}

function regionOfPixel(survey: ShownSurvey, at: number): number {
  const cell = survey.field[at]!;
  return cell < 0 ? -1 : survey.regions.ofCell[cell]!;
}
