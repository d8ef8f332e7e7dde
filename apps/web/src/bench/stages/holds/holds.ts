import {
  editHold,
  editLineCut,
  editLineJoin,
  editLineStroke,
  formatColour,
  holdsInOrder,
  MOST_LINE_POINTS,
  type HoldRule,
  type RecordEdit,
} from '@jumble/core';
import { counted } from '../../../measures.ts';
import { chosenLines, refreshView, showBox } from '../../page/look.ts';
import { inShownPanel } from '../../page/panels.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import { strokesOnlyOn } from './brush.ts';
import { dropDraft, lineAt, pointOf, setDraft } from './draft.ts';
import { ruleOfDraft } from './followHolds.ts';
import { ruleInWords } from './holdWords.ts';

// --- rules -----------------------------------------------------------------------------------

const nextOrder = ({ document: page }: BenchState): number =>
  Math.max(-1, ...[...(page?.holds.values() ?? [])].map(({ order }) => order)) + 1;

/** Takes the rule that is being made, as one step. */
export function takeDraft(bench: Bench): void {
  const { holdDraft, document: page } = bench.state;
  if (holdDraft === null || page === null) return;
  const { id } = holdDraft;
  const before = id === null ? undefined : page.holds.get(id);
  const rule: HoldRule = {
    ...(before?.off === true ? { off: true } : {}),
    ...ruleOfDraft(holdDraft),
    order: before?.order ?? nextOrder(bench.state),
  };
  dropDraft(bench);
  const label = `${before === undefined ? 'Colour' : 'Change'} lines: ${ruleInWords(rule, bench.state.cast)}`;
  bench.push({ label: label.slice(0, 200), edits: [editHold(id ?? crypto.randomUUID(), rule)] });
  refreshView(bench);
}

export function removeRule(bench: Bench, id: string): void {
  dropDraft(bench);
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
  const { holds, lineStrokes } = bench.state.document!;
  const edits = [
    ...[...holds.keys()].map((id) => editHold(id, null)),
    ...[...lineStrokes.keys()].map((id) => editLineStroke(id, null)),
  ];
  if (edits.length === 0) return;
  dropDraft(bench);
  bench.push({ label: 'All lines back to black', edits });
}

/** The chosen lines back to black, whatever rules take them, as one step. */
export function chosenBlack(bench: Bench): void {
  const chosen = chosenLines(bench.state);
  if (chosen === undefined) return;
  const at: (readonly [number, number])[] = [];
  for (let piece = 0; piece + 1 < chosen.length; piece++)
    if (chosen[piece + 1] === 1) at.push(pointOf(bench.state, piece));
  dropDraft(bench);
  if (at.length === 0) return;
  bench.push({
    label: `${counted(at.length, 'line')} back to black`,
    edits: [
      ...rulesOfPoints([[at, '#000000']], nextOrder(bench.state)),
      ...strokesOnlyOn(bench.state, (piece) => chosen[piece + 1] === 1).map((id) => editLineStroke(id, null)),
    ],
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
