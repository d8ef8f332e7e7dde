import {
  holdsInOrder,
  MOST_LINE_POINTS,
  pieceNear,
  planParts,
  scenesShown,
  type HoldColour,
  type LineSelect,
  type Point,
} from '@jumble/core';
import { countText } from '../../../measures.ts';
import { refreshView } from '../../page/look.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import { followHolds } from './followHolds.ts';
import type { HoldDraft } from './holdsState.ts';

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

/** The point a line is kept under. */
export const pointOf = ({ holds, survey }: BenchState, piece: number): readonly [number, number] => {
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
  else setDraft(bench, { ...(holdDraft ?? NEW_DRAFT), lines: { at } });
}

const NEW_DRAFT: HoldDraft = { id: null, lines: { all: true }, colour: { darken: 0.4 }, inScene: {}, scene: null };

/** Shows a rule that is being made or changed; null for none any more. */
export function setDraft(bench: Bench, holdDraft: HoldDraft | null): void {
  bench.set({ holdDraft });
  followHolds(bench);
  showGradientEnds(bench);
  refreshView(bench);
}

/** Forgets the rule being made: what comes next shows. */
export function dropDraft(bench: Bench): void {
  bench.set({ holdDraft: null });
  showGradientEnds(bench);
}

/** Begins to change a rule. */
export function openRule(bench: Bench, id: string): void {
  const rule = bench.state.document?.holds.get(id);
  if (rule === undefined) return;
  const { lines, colour, inScene = {} } = rule;
  setDraft(bench, { id, lines, colour, inScene, scene: null });
}

export function setDraftLines(bench: Bench, lines: LineSelect): void {
  setDraft(bench, { ...(bench.state.holdDraft ?? NEW_DRAFT), lines });
}

/** The colour that is on show in the editor: that of the scene it stands at. */
export function draftColour({ colour, inScene, scene }: HoldDraft): HoldColour {
  return (scene === null ? undefined : inScene[scene]) ?? colour;
}

export function setDraftColour(bench: Bench, colour: HoldColour): void {
  const draft = bench.state.holdDraft ?? NEW_DRAFT;
  const { scene, inScene } = draft;
  setDraft(bench, scene === null ? { ...draft, colour } : { ...draft, inScene: { ...inScene, [scene]: colour } });
}

/** Turns the editor to the colour in one scene; null for the one that all others have. */
export function setDraftScene(bench: Bench, scene: string | null): void {
  const { holdDraft } = bench.state;
  if (holdDraft !== null) setDraft(bench, { ...holdDraft, scene });
}

/** Drops the colour of the scene the editor stands at: the one of all others holds there too. */
export function dropSceneColour(bench: Bench): void {
  const { holdDraft } = bench.state;
  const scene = holdDraft?.scene ?? null;
  if (holdDraft === null || scene === null) return;
  const { [scene]: _, ...inScene } = holdDraft.inScene;
  setDraft(bench, { ...holdDraft, inScene });
}

/** Place of the rule being made or changed among those that count. */
export function placeOfDraft({ holdDraft, document: page }: Pick<BenchState, 'holdDraft' | 'document'>): number | null {
  if (holdDraft === null || page === null) return null;
  const rules = holdsInOrder(page);
  return holdDraft.id === null ? rules.length : rules.findIndex(({ id }) => id === holdDraft.id);
}

// --- the ends of a gradient --------------------------------------------------------------------

/** The two ends of the gradient the editor stands at; null for none. */
export function gradientEnds({ holdDraft }: Pick<BenchState, 'holdDraft'>): readonly [Point, Point] | null {
  if (holdDraft === null) return null;
  const colour = draftColour(holdDraft);
  if (typeof colour === 'string' || !('gradient' in colour)) return null;
  return [colour.gradient[0][1], colour.gradient[1][1]];
}

/** Shows the ends of the gradient on the page, or none. */
export function showGradientEnds(bench: Bench): void {
  const points = gradientEnds(bench.state);
  bench.engine.wayDraft(points === null ? null : { points, closed: false, handles: true });
}

export function setGradientEnds(bench: Bench, ends: readonly [Point, Point]): void {
  const { holdDraft } = bench.state;
  if (holdDraft === null) return;
  const colour = draftColour(holdDraft);
  if (typeof colour === 'string' || !('gradient' in colour)) return;
  const [[from], [to]] = colour.gradient;
  setDraftColour(bench, {
    gradient: [
      [from, ends[0]],
      [to, ends[1]],
    ],
  });
}

/** Where a new gradient runs: from the top to the foot of what is chosen. */
export function endsOfChosen(state: BenchState): readonly [Point, Point] {
  const { holds, page } = state;
  const place = placeOfDraft(state);
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let piece = 0; piece < (holds?.count ?? 0); piece++) {
    if (holds!.ruleOf[piece] !== place) continue;
    left = Math.min(left, holds!.box[piece * 4]!);
    top = Math.min(top, holds!.box[piece * 4 + 1]!);
    right = Math.max(right, holds!.box[piece * 4 + 2]!);
    bottom = Math.max(bottom, holds!.box[piece * 4 + 3]!);
  }
  if (left > right) [left, top, right, bottom] = [0, 0, page?.width ?? 1, page?.height ?? 1];
  const middle = Math.round((left + right) / 2);
  return [
    [middle, top],
    [middle, bottom - 1],
  ];
}
