import {
  cutOfKey,
  editDrawn,
  editRuling,
  type Closure,
  type LeakTrace,
  type PixelBox,
  type Ruling,
  gapsToRule,
  keyOfCut,
} from '@jumble/core';
import { counted, lengthText } from '../../../measures.ts';
import { EMPTY_OVERLAY, type Overlay } from '../../engine/messages.ts';
import { changeDivision } from '../../page/division.ts';
import { showBox } from '../../page/look.ts';
import { inShownPanel } from '../../page/panels.ts';
import { drawOver } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import { closureNear, endNear, shownClosures, strokesOf, type ClosureEnd } from './closuresOnPage.ts';

// --- looking ---------------------------------------------------------------------------------

/** Of closures to be ruled on, those in the panel the worklist keeps to. */
export function gapsListed(state: BenchState): readonly string[] {
  if (state.panelShown === null) return state.openGaps;
  return state.openGaps.filter((gap) => {
    const { from, to } = cutOfKey(gap);
    return inShownPanel(state, (from[0] + to[0]) / 2, (from[1] + to[1]) / 2);
  });
}

/** Goes to the next closure to be ruled on, or the one before. */
export function goToGap(bench: Bench, direction: 1 | -1): void {
  const { gapKey } = bench.state;
  const openGaps = gapsListed(bench.state);
  if (openGaps.length === 0) {
    selectGap(bench, null);
    return;
  }
  const at = gapKey === null ? -1 : openGaps.indexOf(gapKey);
  const next =
    at < 0 ? (direction === 1 ? 0 : openGaps.length - 1) : (at + direction + openGaps.length) % openGaps.length;
  selectGap(bench, openGaps[next]!);
}

/** Selects a closure and shows it close up. */
export function selectGap(bench: Bench, key: string | null, show = true): void {
  bench.set({ gapKey: key });
  const closure = bench.state.survey?.closures.find((one) => one.key === key);
  if (show && closure !== undefined) {
    const [[x0, y0], [x1, y1]] = [closure.from, closure.to];
    const box: PixelBox = [Math.min(x0, x1), Math.min(y0, y1), Math.max(x0, x1), Math.max(y0, y1)];
    showWithRoom(bench, box, 60 + closure.widthPx);
  }
  drawOver(bench);
}

function showWithRoom(bench: Bench, [left, top, right, bottom]: PixelBox, room: number): void {
  showBox(bench, [left - room, top - room, right + room, bottom + room]);
}

const closuresShown = ({ survey }: BenchState): readonly Closure[] => shownClosures(survey?.closures ?? []);

/** The shown closure nearest to a page point within a reach, in page px. */
export function closureAt(state: BenchState, x: number, y: number, reachPx: number): Closure | null {
  return closureNear(closuresShown(state), x, y, reachPx);
}

/** The end of a closure drawn by hand that lies nearest to a point within a reach, in page px. */
export function closureEndAt({ document: page }: BenchState, x: number, y: number, reachPx: number): ClosureEnd | null {
  return endNear(page?.drawn ?? [], x, y, reachPx);
}

export function setClosureDraft(bench: Bench, closureDraft: BenchState['closureDraft']): void {
  bench.set({ closureDraft });
  drawOver(bench);
}

/** The closures over the page, the one being drawn, and a leak. */
export function gapsOverlay(state: BenchState): Overlay {
  const { gapKey, leak, closureDraft, page } = state;
  const shown = closuresShown(state);
  const lengthPx =
    closureDraft === null ? 0 : Math.hypot(closureDraft[2] - closureDraft[0], closureDraft[3] - closureDraft[1]);
  return {
    ...EMPTY_OVERLAY,
    closures: strokesOf(shown),
    current: shown.findIndex((one) => one.key === gapKey),
    draft: closureDraft,
    ...(closureDraft === null ? {} : { draftLabel: lengthText(lengthPx, page?.dpi ?? null) }),
    leak: leak?.path ?? null,
    narrowest: leak?.narrowest ?? null,
  };
}

// --- ruling ----------------------------------------------------------------------------------

/** Rules on the closure the worklist stands at, and goes on. */
export async function ruleCurrentGap(bench: Bench, ruling: Ruling): Promise<void> {
  const { gapKey } = bench.state;
  if (gapKey === null) {
    goToGap(bench, 1);
    return;
  }
  const openGaps = gapsListed(bench.state);
  const after = openGaps.slice(openGaps.indexOf(gapKey) + 1);
  const goOn = (): void => {
    const left = gapsListed(bench.state);
    selectGap(bench, after.find((key) => left.includes(key)) ?? left[0] ?? null);
  };
  // The worklist goes on at once: a key pressed while the page is still being divided rules on the next gap.
  const done = ruleGaps(bench, [gapKey], ruling);
  setUnderWay(bench, gapKey, true);
  goOn();
  await done;
  setUnderWay(bench, gapKey, false);
  // A ruling may settle others with it.
  const standing = bench.state.gapKey;
  if (standing !== null && after.includes(standing) && !bench.state.openGaps.includes(standing)) goOn();
}

function setUnderWay(bench: Bench, gap: string, isUnderWay: boolean): void {
  const gapsUnderWay = new Set(bench.state.gapsUnderWay);
  if (isUnderWay) gapsUnderWay.add(gap);
  else gapsUnderWay.delete(gap);
  bench.set({ gapsUnderWay });
  listGaps(bench);
}

/** Lists the gaps to be ruled on anew. */
export function listGaps(bench: Bench): void {
  const { survey, gapsUnderWay } = bench.state;
  if (survey !== null) bench.set({ openGaps: gapsToRule(survey.closures).filter((key) => !gapsUnderWay.has(key)) });
}

/** Rules on closures, as one step. */
export function ruleGaps(bench: Bench, keys: readonly string[], ruling: Ruling | null): Promise<void> {
  const hand = keys.filter((key) => bench.state.document?.drawn.includes(key) === true);
  if (hand.length > 0 && ruling !== 'closed')
    return changeDivision(bench, { label: 'Delete a closure', edits: hand.map((key) => editDrawn(key, false)) });
  const what = counted(keys.length, 'gap');
  const label = ruling === null ? `Reset ${what}` : ruling === 'closed' ? `Close ${what}` : `Leave ${what} open`;
  return changeDivision(bench, { label, edits: keys.map((key) => editRuling(key, ruling)) });
}

/** Closures to be ruled on that are at least this likely. */
export function gapsAbove({ survey, openGaps }: BenchState, confidence: number): readonly string[] {
  const open = new Set(openGaps);
  return (survey?.closures ?? [])
    .filter((one) => open.has(one.key) && one.confidence >= confidence)
    .map((one) => one.key);
}

/** Draws a closure by hand between two ink pixels. */
export function drawClosure(
  bench: Bench,
  from: readonly [number, number],
  to: readonly [number, number],
): Promise<void> {
  const key = keyOfCut({ from, to });
  return changeDivision(bench, { label: 'Draw a closure', drawn: [key], edits: [editDrawn(key, true)] });
}

/** Moves an end of a closure that was drawn by hand, as one step. */
export function moveClosureEnd(bench: Bench, { key, end }: ClosureEnd, to: readonly [number, number]): Promise<void> {
  const cut = cutOfKey(key);
  const [a, b] = end === 'from' ? [to, cut.to] : [cut.from, to];
  const moved = keyOfCut({ from: a, to: b });
  if (moved === key) return Promise.resolve();
  return changeDivision(bench, {
    label: 'Move an end of a closure',
    drawn: [moved],
    edits: [editDrawn(key, false), editDrawn(moved, true)],
  });
}

// --- leaks -----------------------------------------------------------------------------------

/** The next click lets colour run, or the next two trace a leak; null asks for nothing more. */
export function askLeak(bench: Bench, leakAsked: BenchState['leakAsked']): void {
  bench.set({ leakAsked });
  if (leakAsked !== 'trace-to') clearLeak(bench);
}

/**
 * Shows the widest way from one place to another, with its narrowest point.
 *
 * @returns null where there is none, undefined when the trace failed and that was said.
 */
export async function traceLeak(
  bench: Bench,
  from: readonly [number, number],
  to: readonly [number, number],
): Promise<LeakTrace | null | undefined> {
  let leak: LeakTrace | null | undefined;
  await bench.turns.run(async () => {
    leak = await bench.engine.trace(from, to);
  });
  if (leak === undefined) return undefined;
  bench.set({ leak });
  if (leak !== null) {
    const [x, y] = leak.narrowest;
    showWithRoom(bench, [x, y, x, y], 140 + 2 * leak.widthPx);
  }
  drawOver(bench);
  return leak;
}

/**
 * The leak test: colour runs from a place over everything it reaches.
 *
 * @returns its area in px, null on ink, undefined when the test failed and that was said.
 */
export async function testLeak(bench: Bench, at: readonly [number, number]): Promise<number | null | undefined> {
  let area: number | null | undefined;
  await bench.turns.run(async () => {
    area = (await bench.engine.flood(at))?.areaPx ?? null;
  });
  return area;
}

export function clearLeak(bench: Bench): void {
  void bench.engine.flood(null);
  bench.set({ leak: null });
  drawOver(bench);
}
