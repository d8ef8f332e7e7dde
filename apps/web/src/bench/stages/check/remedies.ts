import {
  assignRegions,
  editArea,
  editHold,
  editRuling,
  editTile,
  formatColour,
  keyOfFinding,
  packTile,
  rgbaWord,
  stampAfter,
  TILE_AREA,
  TILE_PX,
  type Closure,
  type Finding,
  type FindingKind,
  type LowContrast,
  type Point,
  type RecordEdit,
  type TrapArea,
} from '@jumble/core';
import { correctionsOn, paintedTiles, showPainted } from '../../page/painted.ts';
import { partAround } from '../../page/partAround.ts';
import { previewPart } from '../../page/parts.ts';
import { regionAtPoint } from '../../page/partColours.ts';
import { drawOver, refresh } from '../../page/show.ts';
import { trapOfPage } from '../../page/trap.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';

/** What one key does about a finding. */
export interface Remedy {
  /** "Wipe it out". */
  readonly words: string;
  readonly edits: readonly RecordEdit[];
}

/** What one key does about findings of a kind; kinds that are left out have no remedy of one key. */
export const REMEDY_WORDS: Readonly<Partial<Record<FindingKind, string>>> = {
  'missed-corner': 'Wipe out what was painted',
  'show-through': 'Wipe out what was painted',
  stray: 'Wipe out what was painted',
  sliver: 'Wipe out what was painted',
  halo: 'Trap to the middle here',
  empty: 'Give it the part around it',
  'lone-region': 'Give it the part around it',
  'open-gap': 'Close the gap',
  'low-contrast': 'Take the proposed lightness',
  balloon: 'Leave it empty',
};

/** Works out what one key does about a finding; null where there is no such thing. */
export async function remedyFor(bench: Bench, finding: Finding): Promise<Remedy | null> {
  const { edits, mended } = await remedyForAll(bench, [finding]);
  return mended.length === 0 ? null : { words: REMEDY_WORDS[finding.kind]!, edits };
}

/** What one step does about several findings of one kind. */
export async function remedyForAll(
  bench: Bench,
  findings: readonly Finding[],
): Promise<{ readonly edits: readonly RecordEdit[]; readonly mended: readonly Finding[] }> {
  const [first] = findings;
  if (first === undefined) return { edits: [], mended: [] };
  switch (first.kind) {
    case 'missed-corner':
    case 'show-through':
    case 'stray':
    case 'sliver':
      return wipedOut(bench, findings);
    case 'halo':
      return toTheMiddle(bench, findings);
    case 'empty':
    case 'lone-region':
      return assigned(bench, findings, await partsAround(bench, findings));
    case 'balloon':
      return assigned(bench, findings, new Map(findings.map((one) => [one, null])));
    case 'open-gap':
      return closed(bench, findings);
    case 'low-contrast':
      return lighter(bench, findings);
    default:
      return { edits: [], mended: [] };
  }
}

type Mended = Awaited<ReturnType<typeof remedyForAll>>;

/** Squares of painted pixels without what was painted at places, and the places where something was. */
function withoutPainted(
  bench: Bench,
  findings: readonly Finding[],
): { readonly tiles: ReadonlyMap<number, Uint16Array>; readonly mended: readonly Finding[] } {
  const { tilesPerRow, tiles } = correctionsOn(bench);
  const changed = new Map<number, Uint16Array>();
  const squareOf = (x: number, y: number): number => Math.floor(y / TILE_PX) * tilesPerRow + Math.floor(x / TILE_PX);
  const placeOf = (x: number, y: number): number => (y % TILE_PX) * TILE_PX + (x % TILE_PX);
  const valueAt = (x: number, y: number): number => {
    const square = squareOf(x, y);
    return (changed.get(square) ?? tiles.get(square))?.[placeOf(x, y)] ?? 0;
  };
  const mended = findings.filter(({ at, x, y, width, height }) => {
    const value = valueAt(at[0], at[1]);
    if (value === 0) return false;
    const queue: Point[] = [at];
    while (queue.length > 0) {
      const [px, py] = queue.pop()!;
      if (px < x || py < y || px >= x + width || py >= y + height || valueAt(px, py) !== value) continue;
      const square = squareOf(px, py);
      let tile = changed.get(square);
      if (tile === undefined) changed.set(square, (tile = tiles.get(square)?.slice() ?? new Uint16Array(TILE_AREA)));
      tile[placeOf(px, py)] = 0;
      queue.push([px - 1, py], [px + 1, py], [px, py - 1], [px, py + 1]);
    }
    return true;
  });
  return { tiles: changed, mended };
}

function wipedOut(bench: Bench, findings: readonly Finding[]): Mended {
  const { tilesPerRow, parts } = correctionsOn(bench);
  const { tiles, mended } = withoutPainted(bench, findings);
  const edits = [...tiles].map(
    ([square, values]) =>
    editTile(`${square % tilesPerRow},${Math.floor(square / tilesPerRow)}`, packTile(values, (value) => parts[value - 1]!)), // prettier-ignore
  );
  return { edits, mended };
}

/** Areas around places in which trap goes to the middle of the line, over all that are there. */
function middleAreas(bench: Bench, findings: readonly Finding[]): TrapArea[] {
  const areas = [...(bench.state.document?.areas.values() ?? [])];
  const first = Math.max(-1, ...areas.map(({ stamp }) => stamp)) + 1;
  return findings.map(({ x, y, width, height }, k) => {
    const [left, top, right, bottom] = [x - 1, y - 1, x + width + 1, y + height + 1].map((one) => Math.max(0, one)) as [number, number, number, number]; // prettier-ignore
    const points: Point[] = [[left, top], [right, top], [right, bottom], [left, bottom]]; // prettier-ignore
    return { points, rule: { rule: 'middle' }, stamp: first + k };
  });
}

function toTheMiddle(bench: Bench, findings: readonly Finding[]): Mended {
  const edits = middleAreas(bench, findings).map((area) => editArea(crypto.randomUUID(), area));
  return { edits, mended: findings };
}

/** The part that most of the border of each place has. */
async function partsAround(bench: Bench, findings: readonly Finding[]): Promise<Map<Finding, string>> {
  const found = new Map<Finding, string>();
  await bench.turns.run(async () => {
    const neighbours = await bench.engine.neighbours();
    for (const finding of findings) {
      const region = regionAtPoint(bench.state, ...finding.at);
      const part = region === null ? null : partAround(neighbours, bench.state.resolved?.partOfRegion ?? [], region);
      if (part !== null) found.set(finding, part);
    }
  });
  return found;
}

/** Gives regions parts, or takes theirs away. */
function assigned(bench: Bench, findings: readonly Finding[], parts: ReadonlyMap<Finding, string | null>): Mended {
  const { survey, document: page, resolved } = bench.state;
  if (survey === null || page === null || resolved === null) return { edits: [], mended: [] };
  const regions = new Map<string | null, number[]>();
  const mended = findings.filter((finding) => {
    const part = parts.get(finding);
    const region = regionAtPoint(bench.state, ...finding.at);
    if (part === undefined || region === null) return false;
    regions.set(part, [...(regions.get(part) ?? []), region]);
    return true;
  });
  const stamp = stampAfter(page);
  const edits = [...regions].flatMap(([part, list], k) =>
    assignRegions(survey, page.fills, resolved, list, part, stamp + k),
  );
  return { edits, mended };
}

function closed({ state }: Bench, findings: readonly Finding[]): Mended {
  const mended: Finding[] = [];
  const edits = findings.flatMap((finding) => {
    const closure = gapAt(state, finding);
    if (closure === undefined) return [];
    mended.push(finding);
    return [editRuling(closure.key, 'closed')];
  });
  return { edits, mended };
}

/** The closure that nobody ruled on at a place. */
export function gapAt({ survey }: Pick<BenchState, 'survey'>, { at }: Finding): Closure | undefined {
  return survey?.closures.find(
    ({ from, accepted }) => accepted && Math.round(from[0]) === at[0] && Math.round(from[1]) === at[1],
  );
}

/** The line that is too faint at a place. */
function faintLine({ holds, survey }: BenchState, { at }: Finding): LowContrast | undefined {
  if (holds === null || survey === null) return undefined;
  return holds.low.find(({ piece }) => holds.at[piece] === at[1] * survey.width + at[0]);
}

function lighter({ state }: Bench, findings: readonly Finding[]): Mended {
  const mended: Finding[] = [];
  const order = Math.max(-1, ...[...(state.document?.holds.values() ?? [])].map((one) => one.order)) + 1;
  const edits = findings.flatMap((finding) => {
    const proposed = faintLine(state, finding)?.proposed ?? null;
    if (proposed === null) return [];
    mended.push(finding);
    const rule = { lines: { at: [finding.at] }, colour: formatColour(proposed), order: order + mended.length };
    return [editHold(crypto.randomUUID(), rule)];
  });
  return { edits, mended };
}

/** Whether it can be seen on the page what a remedy would do. */
export const isShown = (kind: FindingKind): boolean => REMEDY_WORDS[kind] !== undefined;

/** Shows the page as the remedy would make it. */
export async function showRemedy(bench: Bench, finding: Finding): Promise<void> {
  if (!isShown(finding.kind)) return;
  const shows = await showIt(bench, finding);
  // The worklist may have gone on meanwhile.
  if (shows && bench.state.findingKey === keyOfFinding(finding)) {
    bench.set({ remedyShown: true });
    drawOver(bench);
  } else if (shows) restore(bench);
}

/** @returns false where there is nothing to show. */
async function showIt(bench: Bench, finding: Finding): Promise<boolean> {
  switch (finding.kind) {
    case 'empty':
    case 'lone-region':
    case 'balloon': {
      const isBalloon = finding.kind === 'balloon';
      const part = isBalloon ? null : ((await partsAround(bench, [finding])).get(finding) ?? null);
      const region = regionAtPoint(bench.state, ...finding.at);
      if (region === null || (part === null && !isBalloon)) return false;
      previewPart(bench, [region], part);
      return true;
    }
    case 'halo': {
      const { survey, document: page, cast, resolved, page: view } = bench.state;
      if (survey === null || page === null || cast === null || resolved === null) return false;
      const areas = new Map([...page.areas, ...middleAreas(bench, [finding]).map((area) => ['', area] as const)]);
      bench.engine.paintUnder(trapOfPage(survey, { ...page, areas }, cast, resolved, view?.dpi ?? null));
      return true;
    }
    case 'low-contrast': {
      const { holds } = bench.state;
      const line = faintLine(bench.state, finding);
      if (holds === null || line === undefined || line.proposed === null) return false;
      const words = holds.paint.words.slice();
      words[line.piece + 1] = rgbaWord(line.proposed);
      bench.engine.showHolds({ ...holds.paint, words });
      return true;
    }
    case 'open-gap':
      // Its closure is drawn over the page.
      return gapAt(bench.state, finding) !== undefined;
    default: {
      const { tilesPerRow, parts } = correctionsOn(bench);
      const { tiles } = withoutPainted(bench, [finding]);
      if (tiles.size === 0) return false;
      bench.engine.patchCorrections(paintedTiles(bench.state, { tilesPerRow, parts, tiles }));
      return true;
    }
  }
}

/** Shows the page as it is. */
export function hideRemedy(bench: Bench): void {
  if (!bench.state.remedyShown) return;
  bench.set({ remedyShown: false });
  restore(bench);
}

function restore(bench: Bench): void {
  const { holds } = bench.state;
  if (holds !== null) bench.engine.showHolds(holds.paint);
  showPainted(bench, true);
  refresh(bench);
}
