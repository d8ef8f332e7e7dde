import {
  assignRegions,
  editArea,
  editHold,
  editRuling,
  editTile,
  formatColour,
  packTile,
  stampAfter,
  TILE_AREA,
  TILE_PX,
  type Finding,
  type FindingKind,
  type Point,
  type RecordEdit,
} from '@jumble/core';
import { correctionsOn, paintedTiles, showPainted } from '../../page/painted.ts';
import { previewPart } from '../../page/parts.ts';
import { regionAtPoint } from '../../page/partColours.ts';
import { refresh } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';

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
      return partAround(bench, findings);
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

function toTheMiddle(bench: Bench, findings: readonly Finding[]): Mended {
  const areas = [...(bench.state.document?.areas.values() ?? [])];
  const first = Math.max(-1, ...areas.map(({ stamp }) => stamp)) + 1;
  const edits = findings.map(({ x, y, width, height }, k) => {
    const [left, top, right, bottom] = [x - 1, y - 1, x + width + 1, y + height + 1].map((one) => Math.max(0, one)) as [number, number, number, number]; // prettier-ignore
    const points: Point[] = [[left, top], [right, top], [right, bottom], [left, bottom]]; // prettier-ignore
    return editArea(crypto.randomUUID(), { points, rule: { rule: 'middle' }, stamp: first + k });
  });
  return { edits, mended: findings };
}

/** The part that most of the border of each place has. */
async function partsAround(bench: Bench, findings: readonly Finding[]): Promise<Map<Finding, string>> {
  let pairs = new Int32Array(0);
  await bench.turns.run(async () => {
    pairs = new Int32Array(await bench.engine.neighbours());
  });
  const found = new Map<Finding, string>();
  for (const finding of findings) {
    const region = regionAtPoint(bench.state, ...finding.at);
    const lengths = new Map<string, number>();
    for (let k = 0; k < pairs.length; k += 3) {
      const [a, b, px] = [pairs[k]!, pairs[k + 1]!, pairs[k + 2]!];
      if (a !== region && b !== region) continue;
      const part = bench.state.resolved?.partOfRegion[a === region ? b : a] ?? null;
      if (part !== null) lengths.set(part, (lengths.get(part) ?? 0) + px);
    }
    const [longest] = [...lengths].sort((one, two) => two[1] - one[1]);
    if (longest !== undefined) found.set(finding, longest[0]);
  }
  return found;
}

async function partAround(bench: Bench, findings: readonly Finding[]): Promise<Mended> {
  return assigned(bench, findings, await partsAround(bench, findings));
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

function closed({ state: { survey } }: Bench, findings: readonly Finding[]): Mended {
  const mended: Finding[] = [];
  const edits = findings.flatMap((finding) => {
    const closure = survey?.closures.find(
      ({ from, accepted }) =>
        accepted && Math.round(from[0]) === finding.at[0] && Math.round(from[1]) === finding.at[1],
    );
    if (closure === undefined) return [];
    mended.push(finding);
    return [editRuling(closure.key, 'closed')];
  });
  return { edits, mended };
}

function lighter({ state: { holds, survey, document: page } }: Bench, findings: readonly Finding[]): Mended {
  const mended: Finding[] = [];
  if (holds === null || survey === null) return { edits: [], mended };
  const order = Math.max(-1, ...[...(page?.holds.values() ?? [])].map((one) => one.order)) + 1;
  const edits = findings.flatMap((finding) => {
    const at = finding.at[1] * survey.width + finding.at[0];
    const low = holds.low.find(({ piece }) => holds.at[piece] === at);
    if (low === undefined || low.proposed === null) return [];
    mended.push(finding);
    const rule = { lines: { at: [finding.at] }, colour: formatColour(low.proposed), order: order + mended.length };
    return [editHold(crypto.randomUUID(), rule)];
  });
  return { edits, mended };
}

/** Shows the page as the remedy would make it, where that is a matter of colours. */
export async function showRemedy(bench: Bench, finding: Finding): Promise<void> {
  const { kind } = finding;
  if (kind === 'empty' || kind === 'lone-region' || kind === 'balloon') {
    const part = kind === 'balloon' ? null : ((await partsAround(bench, [finding])).get(finding) ?? null);
    const region = regionAtPoint(bench.state, ...finding.at);
    if (region !== null && (part !== null || kind === 'balloon')) previewPart(bench, [region], part);
  } else {
    const { tilesPerRow, parts } = correctionsOn(bench);
    const { tiles } = withoutPainted(bench, [finding]);
    if (tiles.size === 0) return;
    bench.engine.patchCorrections(paintedTiles(bench.state, { tilesPerRow, parts, tiles }));
  }
  bench.set({ remedyShown: true });
}

/** Shows the page as it is. */
export function hideRemedy(bench: Bench): void {
  if (!bench.state.remedyShown) return;
  bench.set({ remedyShown: false });
  showPainted(bench, true);
  refresh(bench);
}
