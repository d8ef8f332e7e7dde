import {
  editHold,
  editLineCut,
  editLineJoin,
  formatColour,
  holdsInOrder,
  MOST_LINE_POINTS,
  partFinder,
  pieceNear,
  planParts,
  scenesOfPage,
  scenesShown,
  withPartsOf,
  type HoldColour,
  type HoldRule,
  type LineSelect,
  type RecordEdit,
} from '@jumble/core';
import { counted, countText } from '../../../measures.ts';
import type { HoldsBy } from '../../engine/messages.ts';
import { chosenLines, refreshView, showBox } from '../../page/look.ts';
import { inShownPanel } from '../../page/panels.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import { ruleInWords } from './holdWords.ts';

// --- following -------------------------------------------------------------------------------

/** What the lines on show were coloured by. */
const known = new WeakMap<Bench, HoldsBy>();

/** Colours the lines anew where something changed that they depend on; while there is no rule they are divided on this stage alone. */
export function followHolds(bench: Bench): void {
  if (bench.state.stage !== 'holds') leaveStage(bench);
  const by = holdsBy(bench.state);
  if (by === null) return;
  if (by.rules.length === 0 && bench.state.stage !== 'holds') {
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

/** Rules as they count, with the one that is being made. */
function holdsBy({ document: page, cast, survey, resolved, trap, trapInk, holdDraft }: BenchState): HoldsBy | null {
  if (page === null || cast === null || survey === null || resolved === null || trap === null) return null;
  const partOf = partFinder(cast);
  const rules = holdsInOrder(page).map((rule) =>
    rule.id === holdDraft?.id ? { ...rule, lines: holdDraft.lines, colour: holdDraft.colour, off: false } : rule,
  );
  if (holdDraft !== null && holdDraft.id === null)
    rules.push({ id: '', lines: holdDraft.lines, colour: holdDraft.colour, order: Infinity });
  const { scenes, ofRegion } = scenesOfPage(survey, page);
  return {
    lineEdits: page.lineEdits,
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
  const text = ({ lineEdits, groups, rules, limits, scenes }: HoldsBy): string =>
    JSON.stringify([lineEdits, groups, rules, limits, scenes.ids]);
  const usesFlats = b.rules.some(({ colour: one }) => typeof one !== 'string' && 'around' in one);
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

// --- choosing --------------------------------------------------------------------------------

/** The line at a page point; null for none near. */
export function lineAt({ holds, survey }: BenchState, x: number, y: number, reachPx: number): number | null {
  if (holds === null || survey === null) return null;
  const { ofPixel } = holds.paint;
  const piece = pieceNear({ ...survey, ofPixel }, x, y, Math.max(1, Math.round(reachPx)));
  return piece < 0 ? null : piece;
}

/** More pairs of parts than this are not listed: those with the most lines between them are. */
const MOST_BORDERS = 30;

/** Pairs of parts that lines lie between, those with the longest lines first. */
export function bordersOnPage({
  holds,
  cast,
  document: page,
}: Pick<BenchState, 'holds' | 'cast' | 'document'>): (readonly [
  { id: string; name: string },
  { id: string; name: string },
])[] {
  if (holds === null || cast === null || page === null) return [];
  const parts = planParts(cast, scenesShown(page)).flatMap((group) => group.parts);
  const length = new Map<number, number>();
  for (let piece = 0; piece < holds.count; piece++) {
    const [a, b] = [Math.min(holds.one[piece]!, holds.two[piece]!), Math.max(holds.one[piece]!, holds.two[piece]!)];
    if (a < 0 || a === b || b >= parts.length) continue;
    const key = a * parts.length + b;
    length.set(key, (length.get(key) ?? 0) + holds.lengthPx[piece]!);
  }
  return [...length]
    .sort(([keyA, a], [keyB, b]) => b - a || keyA - keyB)
    .slice(0, MOST_BORDERS)
    .map(([key]) => [parts[Math.floor(key / parts.length)]!, parts[key % parts.length]!]);
}

const pointOf = ({ holds, survey }: BenchState, piece: number): readonly [number, number] => {
  const at = holds!.at[piece]!;
  return [at % survey!.width, Math.floor(at / survey!.width)];
};

/** Adds lines to those chosen by hand, or takes them away. */
export function chooseLines(bench: Bench, pieces: readonly number[], takes: boolean): void {
  const { holdDraft, holds } = bench.state;
  if (holds === null) return;
  const before = holdDraft !== null && 'at' in holdDraft.lines ? holdDraft.lines.at : [];
  // A point that lies on no line any more is kept: the line may come back with the next file.
  const chosen = new Map<number | string, readonly [number, number]>(
    before.map((point) => [lineAt(bench.state, point[0], point[1], 2) ?? point.join(), point]),
  );
  for (const piece of pieces) {
    if (takes) chosen.delete(piece);
    else chosen.set(piece, pointOf(bench.state, piece));
  }
  const at = [...chosen.values()];
  if (at.length > MOST_LINE_POINTS)
    bench.fail(
      new Error(
        `One rule holds ${countText(MOST_LINE_POINTS)} lines chosen by hand at most; ${countText(at.length)} would be. Nothing was changed.`,
      ),
    );
  else if (at.length === 0) setDraft(bench, null);
  else setDraft(bench, { ...(holdDraft ?? { id: null, colour: DEFAULT_COLOUR }), lines: { at } });
}

export const DEFAULT_COLOUR: HoldColour = { darken: 0.4 };

/** Shows a rule that is being made or changed; null for none any more. */
export function setDraft(bench: Bench, holdDraft: BenchState['holdDraft']): void {
  bench.set({ holdDraft });
  followHolds(bench);
  refreshView(bench);
}

export function setDraftLines(bench: Bench, lines: LineSelect): void {
  setDraft(bench, { ...(bench.state.holdDraft ?? { id: null, colour: DEFAULT_COLOUR }), lines });
}

export function setDraftColour(bench: Bench, colour_: HoldColour): void {
  setDraft(bench, { ...(bench.state.holdDraft ?? { id: null, lines: { all: true } }), colour: colour_ });
}

// --- rules -----------------------------------------------------------------------------------

const nextOrder = ({ document: page }: BenchState): number =>
  Math.max(-1, ...[...(page?.holds.values() ?? [])].map(({ order }) => order)) + 1;

/** Takes the rule that is being made, as one step. */
export function takeDraft(bench: Bench): void {
  const { holdDraft, document: page } = bench.state;
  if (holdDraft === null || page === null) return;
  const { id, lines, colour: tone } = holdDraft;
  const before = id === null ? undefined : page.holds.get(id);
  const rule: HoldRule = { ...before, lines, colour: tone, order: before?.order ?? nextOrder(bench.state) };
  bench.set({ holdDraft: null });
  const label = `${before === undefined ? 'Colour' : 'Change'} lines: ${ruleInWords(rule, bench.state.cast)}`;
  bench.push({ label: label.slice(0, 200), edits: [editHold(id ?? crypto.randomUUID(), rule)] });
  refreshView(bench);
}

export function removeRule(bench: Bench, id: string): void {
  bench.set({ holdDraft: null });
  bench.push({ label: 'Lines of a rule back to black', edits: [editHold(id, null)] });
}

export function switchRule(bench: Bench, id: string, off: boolean): void {
  const rule = bench.state.document?.holds.get(id);
  if (rule === undefined) return;
  const { off: _, ...rest } = rule;
  bench.push({
    label: off ? 'Switch a rule of lines off' : 'Switch a rule of lines on',
    edits: [editHold(id, off ? { ...rest, off } : rest)],
  });
}

/** Moves a rule before the one that counts less, or after the one that counts more. */
export function moveRule(bench: Bench, id: string, by: -1 | 1): void {
  const rules = holdsInOrder(bench.state.document!);
  const at = rules.findIndex((rule) => rule.id === id);
  const [one, two] = [rules[at], rules[at + by]];
  if (one === undefined || two === undefined) return;
  const edit = ({ id: key, ...rule }: (typeof rules)[number], order: number): RecordEdit =>
    editHold(key, { ...rule, order });
  const order = one.order === two.order ? two.order + by : two.order;
  bench.push({ label: 'Reorder the rules of lines', edits: [edit(one, order), edit(two, one.order)] });
}

/** All lines of the page back to black, as one step. */
export function allBlack(bench: Bench): void {
  const ids = [...(bench.state.document?.holds.keys() ?? [])];
  if (ids.length === 0) return;
  bench.set({ holdDraft: null });
  bench.push({ label: 'All lines back to black', edits: ids.map((id) => editHold(id, null)) });
}

/** The chosen lines back to black, whatever rules take them, as one step. */
export function chosenBlack(bench: Bench): void {
  const chosen = chosenLines(bench.state);
  if (chosen === undefined) return;
  const at: (readonly [number, number])[] = [];
  for (let piece = 0; piece + 1 < chosen.length; piece++)
    if (chosen[piece + 1] === 1) at.push(pointOf(bench.state, piece));
  bench.set({ holdDraft: null });
  if (at.length === 0) return;
  bench.push({
    label: `${counted(at.length, 'line')} back to black`,
    edits: rulesOfPoints([[at, '#000000']], nextOrder(bench.state)),
  });
  refreshView(bench);
}

/** Rules that give lines chosen by points a colour each; more points than one rule may hold make several. */
function rulesOfPoints(
  groups: readonly (readonly [at: readonly (readonly [number, number])[], colour: string])[],
  order: number,
): RecordEdit[] {
  const chunks = groups.flatMap(([at, tone]) =>
    Array.from({ length: Math.ceil(at.length / MOST_LINE_POINTS) }, (_, k) => ({
      lines: { at: at.slice(k * MOST_LINE_POINTS, (k + 1) * MOST_LINE_POINTS) },
      colour: tone,
    })),
  );
  return chunks.map((rule, k) => editHold(crypto.randomUUID(), { ...rule, order: order + k }));
}

/** Cuts the line at a page point in two there, or takes a cut near it back. @returns whether there was a line or a cut. */
export function cutLineAt(bench: Bench, [x, y]: readonly [number, number], reachPx: number): boolean {
  const cut = bench.state.document?.lineEdits.cuts.find(([cx, cy]) => Math.hypot(cx - x, cy - y) <= reachPx);
  if (cut !== undefined) {
    bench.push({ label: 'Take a cut of a line back', edits: [editLineCut(cut, false)] });
    return true;
  }
  if (lineAt(bench.state, x, y, reachPx) === null) return false;
  bench.push({ label: 'Cut a line', edits: [editLineCut([x, y], true)] });
  return true;
}

/** Makes the chosen lines one, as one step. @returns whether there were two or more. */
export function joinChosen(bench: Bench): boolean {
  const lines = bench.state.holdDraft?.lines;
  if (lines === undefined || !('at' in lines) || lines.at.length < 2) return false;
  const [first, ...rest] = lines.at;
  const edits = rest.map((point) => editLineJoin(first!, point, true));
  bench.push({ label: `Join ${counted(lines.at.length, 'line')}`, edits });
  setDraft(bench, { ...bench.state.holdDraft!, lines: { at: [first!] } });
  return true;
}

/** The lowest contrast of the lines a rule colours, and the colour of the first; Infinity and -1 where it colours none. */
export function factsOfRule(
  holds: BenchState['holds'],
  place: number,
): { readonly lowest: number; readonly rgb: number } {
  let lowest = Infinity;
  let rgb = -1;
  holds?.ruleOf.forEach((number, piece) => {
    if (number !== place) return;
    lowest = Math.min(lowest, holds.contrast[piece]!);
    if (rgb < 0) rgb = holds.rgb[piece]!;
  });
  return { lowest, rgb };
}

// --- contrast --------------------------------------------------------------------------------

export function lowListed(state: BenchState): NonNullable<BenchState['holds']>['low'] {
  const low = state.holds?.low ?? [];
  return state.panelShown === null ? low : low.filter(({ piece }) => inShownPanel(state, ...pointOf(state, piece)));
}

/** Room around a line, in page px. */
const ROOM_PX = 40;

export function selectLow(bench: Bench, lowPiece: number | null): void {
  bench.set({ lowPiece });
  if (lowPiece === null) return;
  const [left, top, right, bottom] = bench.state.holds!.box.subarray(lowPiece * 4, lowPiece * 4 + 4) as unknown as [number, number, number, number]; // prettier-ignore
  showBox(bench, [left - ROOM_PX, top - ROOM_PX, right + ROOM_PX, bottom + ROOM_PX]);
}

export function goToLow(bench: Bench, direction: 1 | -1): void {
  const listed = lowListed(bench.state);
  const at = listed.findIndex(({ piece }) => piece === bench.state.lowPiece);
  const next = at < 0 ? (direction === 1 ? 0 : listed.length - 1) : (at + direction + listed.length) % listed.length;
  selectLow(bench, listed[next]?.piece ?? null);
}

/** Gives a line, or all that are listed, the lightness that is proposed, as one step. */
export function takeProposed(bench: Bench, all: boolean): void {
  const listed = lowListed(bench.state);
  const meant = all ? listed : listed.filter(({ piece }) => piece === bench.state.lowPiece);
  if (meant.length === 0) {
    goToLow(bench, 1);
    return;
  }
  // Lines that get the same colour make one rule.
  const byColour = new Map<number, (readonly [number, number])[]>();
  for (const { piece, proposed } of meant) {
    if (proposed === null) continue;
    const points = byColour.get(proposed);
    if (points === undefined) byColour.set(proposed, [pointOf(bench.state, piece)]);
    else points.push(pointOf(bench.state, piece));
  }
  if (byColour.size === 0) return;
  const order = nextOrder(bench.state);
  const edits = rulesOfPoints(
    [...byColour].map(([rgb, at]) => [at, formatColour(rgb)]),
    order,
  );
  const next = listed[listed.findIndex(({ piece }) => piece === bench.state.lowPiece) + 1];
  bench.push({ label: `Make ${counted(meant.length, 'line')} readable`, edits });
  if (!all) selectLow(bench, next?.piece ?? null);
}
