import { holdsInOrder, partFinder, planParts, scenesOfPage, withPartsOf, type HoldRule } from '@jumble/core';
import type { HoldsBy } from '../../engine/messages.ts';
import { refreshView } from '../../page/look.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import type { HoldDraft } from './holdsState.ts';

/** What the lines on show were coloured by. */
const known = new WeakMap<Bench, HoldsBy>();

/** Colours the lines anew where something changed that they depend on; while there is no rule they are divided on this stage alone. */
export function followHolds(bench: Bench): void {
  if (bench.state.stage !== 'holds') leaveStage(bench);
  const by = holdsBy(bench.state);
  if (by === null) return;
  if (by.rules.length + by.strokes.length === 0 && bench.state.stage !== 'holds') {
    if (known.delete(bench)) bench.engine.showHolds(null);
    bench.set({ holds: null, lowPiece: null });
    return;
  }
  void colour(bench);
}

/** A rule that was not applied, and the map, do not show on other stages. */
function leaveStage(bench: Bench): void {
  if (bench.state.holdDraft !== null) bench.set({ holdDraft: null });
  if (bench.state.contrastMap) setContrastMap(bench, false);
  if (bench.state.holdBrush.on) bench.set({ holdBrush: { ...bench.state.holdBrush, on: false } });
}

async function colour(bench: Bench): Promise<void> {
  if (bench.isClosed || bench.state.holdsLookedFor) return;
  const by = holdsBy(bench.state);
  if (by === null || isSame(known.get(bench), by)) return;
  bench.set({ holdsLookedFor: true });
  let isDone = false;
  await bench.turns.run(async () => {
    // The page may have been divided meanwhile.
    if (by.partOfRegion.length !== bench.state.survey?.regions.count) return;
    const holds = await bench.engine.colourLines(by);
    known.set(bench, by);
    const { lowPiece } = bench.state;
    bench.set({ holds, lowPiece: holds.low.some(({ piece }) => piece === lowPiece) ? lowPiece : null });
    showLines(bench);
    refreshView(bench);
    isDone = true;
  });
  bench.set({ holdsLookedFor: false });
  // What failed was said; it is tried again with the next change.
  if (!isDone) return;
  const now = holdsBy(bench.state);
  if (now !== null && !isSame(known.get(bench), now)) await colour(bench);
}

/** What of a draft becomes the rule. */
export function ruleOfDraft({
  lines,
  colour: own,
  inScene,
}: HoldDraft): Pick<HoldRule, 'lines' | 'colour' | 'inScene'> {
  return { lines, colour: own, ...(Object.keys(inScene).length === 0 ? {} : { inScene }) };
}

/** Rules as they count, with the one that is being made. */
function holdsBy({ document: page, cast, survey, resolved, trap, trapInk, holdDraft }: BenchState): HoldsBy | null {
  if (page === null || cast === null || survey === null || resolved === null || trap === null) return null;
  const partOf = partFinder(cast);
  const rules = holdsInOrder(page).map((rule) =>
    rule.id === holdDraft?.id ? { ...rule, ...ruleOfDraft(holdDraft), off: false } : rule,
  );
  if (holdDraft !== null && holdDraft.id === null) rules.push({ id: '', ...ruleOfDraft(holdDraft), order: Infinity });
  const { scenes, ofRegion } = scenesOfPage(survey, page);
  return {
    lineEdits: page.lineEdits,
    strokes: [...page.lineStrokes.values()],
    groups: planParts(cast, scenes),
    partOfRegion: resolved.partOfRegion,
    scenes: { ids: scenes, ofRegion },
    rules: rules.map((rule) => withPartsOf(rule, partOf)),
    limits: cast.holds,
    trap,
    trapInk,
  };
}

function isSame(a: HoldsBy | undefined, b: HoldsBy): boolean {
  if (a === undefined) return false;
  const text = ({ lineEdits, groups, rules, strokes, limits, scenes }: HoldsBy): string =>
    JSON.stringify([lineEdits, groups, rules, strokes, limits, scenes.ids]);
  const usesFlats = b.rules.some(({ colour: own, inScene }) =>
    [own, ...Object.values(inScene ?? {})].some((one) => typeof one !== 'string' && 'around' in one),
  );
  return (
    a.partOfRegion.length === b.partOfRegion.length &&
    a.partOfRegion.every((part, region) => part === b.partOfRegion[region]) &&
    a.scenes.ofRegion.every((scene, region) => scene === b.scenes.ofRegion[region]) &&
    text(a) === text(b) &&
    (!usesFlats || (a.trap === b.trap && a.trapInk === b.trapInk))
  );
}

/** Tones of the map of contrast, from what can hardly be told apart to black: little-endian RGBA words. */
export const CONTRAST_TONES: readonly number[] = [
  0xffd9d9d9, 0xffb0b0b0, 0xff858585, 0xff5c5c5c, 0xff343434, 0xff161616,
];
/** CIEDE2000 that a tone stands for. */
export const CONTRAST_STEP = 9;

/** Shows the lines in their colours, or in the tones of their contrast. */
function showLines(bench: Bench): void {
  const { holds, contrastMap, stage } = bench.state;
  if (holds === null) return;
  if (!contrastMap || stage !== 'holds') {
    bench.engine.showHolds(holds.paint);
    return;
  }
  const words = new Uint32Array(holds.count + 1);
  holds.contrast.forEach((least, piece) => {
    const tone = Math.min(CONTRAST_TONES.length - 1, Math.floor(least / CONTRAST_STEP));
    words[piece + 1] = CONTRAST_TONES[tone]!;
  });
  bench.engine.showHolds({ ...holds.paint, words, varying: null });
}

export function setContrastMap(bench: Bench, contrastMap: boolean): void {
  bench.set({ contrastMap });
  showLines(bench);
  refreshView(bench);
}
