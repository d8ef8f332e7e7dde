import {
  assignRegions,
  editFill,
  editSeen,
  findIslands,
  groupsInLoop,
  looseSpread,
  regionAt,
  regionsLike,
  type RecordEdit,
  stampAfter,
} from '@jumble/core';
import { counted } from '../../../measures.ts';
import { EMPTY_OVERLAY, type Overlay, type ShownSurvey } from '../../engine/messages.ts';
import { partAround } from '../../page/partAround.ts';
import { assignPart } from '../../page/parts.ts';
import { refresh } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import { followGuide, previewGuide } from './colourGuide.ts';
import { previewExamples } from './examples.ts';
import { FILL_WAYS, type FillWay } from './flatsState.ts';
import { marksOverlay } from './marks.ts';
import { goToRegion } from './openRegions.ts';
import { setFlats } from './setFlats.ts';

type Point = readonly [number, number];

export function setWay(bench: Bench, way: FillWay): void {
  if (way === bench.state.flats.way) return;
  setWayDraft(bench, []);
  setFlats(bench, { way });
  // What the key proposes shows while it is the way.
  refresh(bench);
  void followGuide(bench);
}

/** Chooses a way by its place, from 1. @returns whether there is one. */
export function setWayAt(bench: Bench, place: number): boolean {
  const way = FILL_WAYS[place - 1];
  if (way !== undefined) setWay(bench, way);
  return way !== undefined;
}

/** The marks over the page. */
export function flatsOverlay(state: BenchState): Overlay | null {
  const marks = marksOverlay(state);
  return marks.length === 0 ? null : { ...EMPTY_OVERLAY, marks };
}

/** Shows what is proposed into the page. */
export function previewProposals(bench: Bench): void {
  previewGuide(bench);
  previewExamples(bench);
}

// --- surround --------------------------------------------------------------------------------

/** From shapes to silhouettes, and back. */
export function turnLoop(bench: Bench): void {
  setFlats(bench, { loopTakes: bench.state.flats.loopTakes === 'shapes' ? 'silhouette' : 'shapes' });
}

/** Shows the loop that is being drawn, or the way of a cut; with no points, none. */
export function setWayDraft(bench: Bench, points: readonly Point[], closed = true): void {
  bench.engine.wayDraft(points.length === 0 ? null : { points, closed });
}

/** What a loop takes, by the threshold. */
export function enclosed({ survey, resolved, flats }: BenchState, loop: readonly Point[]): readonly number[] {
  if (survey === null) return [];
  const regions = groupsInLoop(survey, survey.regions, loop, flats.share);
  return flats.onlyOpen ? regions.filter((region) => resolved?.partOfRegion[region] === null) : regions;
}

/** Takes away what was spread loosely over a place, up to the outline. */
export function takeLoose(bench: Bench, region: number): void {
  const { survey, resolved } = bench.state;
  if (survey === null || resolved === null || resolved.partOfRegion[region] === null) return;
  assignPart(bench, new Set(looseSpread(survey, resolved.partOfRegion, region)), null);
}

/** A region and all like it: those with the same part, or of about the same size and shape. */
export function likeThis({ survey, resolved }: BenchState, region: number): readonly number[] {
  if (survey === null || resolved === null) return [];
  const part = resolved.partOfRegion[region];
  if (part === null || part === undefined)
    return regionsLike(survey, region).filter((one) => resolved.partOfRegion[one] === null);
  return resolved.partOfRegion.flatMap((other, one) => (other === part ? [one] : []));
}

// --- looking over ----------------------------------------------------------------------------

/** Confirms every part that is still to be looked at, in the panel the worklist keeps to. */
export function confirmAll(bench: Bench): void {
  const { resolved, survey, document: page, lookRegions, panelShown, panelOfRegion } = bench.state;
  if (resolved === null || survey === null || page === null) return;
  const regions = lookRegions.filter((one) => panelShown === null || panelOfRegion?.[one] === panelShown);
  if (regions.length === 0) return;
  const edits = new Map<string, RecordEdit>();
  const mine = new Set(regions);
  // A fill that stands in several regions is confirmed where all of these are looked at.
  for (const region of regions) {
    for (const key of resolved.fillsOfRegion.get(region) ?? []) {
      const fill = page.fills.get(key);
      if (fill?.look === undefined) continue;
      const elsewhere = fill.anchors.some(([x, y]) => {
        const there = regionAt(survey, x, y);
        return there !== null && !mine.has(there);
      });
      if (elsewhere) continue;
      const { look: _, ...rest } = fill;
      edits.set(key, editFill(key, rest));
    }
  }
  // Where two parts meet the one that shows stays.
  for (const region of resolved.conflicts) {
    if (!mine.has(region)) continue;
    const part = resolved.partOfRegion[region]!;
    for (const edit of assignRegions(survey, page.fills, resolved, [region], part, stampAfter(page)))
      edits.set(edit.key, edit);
  }
  const what = counted(regions.length, 'part');
  if (edits.size > 0) bench.push({ label: `Confirm ${what}`, edits: [...edits.values()] });
}

/** Looks for regions that lie in their own part all around: probably they are something else. */
export async function lookForIslands(bench: Bench): Promise<number> {
  let found: number[] = [];
  await bench.turns.run(async () => {
    const pairs = await bench.engine.neighbours();
    const { survey, resolved, document: page } = bench.state;
    if (survey === null || resolved === null || page === null) return;
    const least = 4 * survey.crumbLimitPx2;
    found = findIslands(pairs, survey.regions.areaPx, resolved.partOfRegion, least).filter(
      (region) => !page.seen.has(islandName(survey, region)),
    );
    bench.set({ islands: found });
  });
  return found.length;
}

/** An island that is right as it is: it is not listed again. */
export function keepIsland(bench: Bench, region: number): void {
  const { survey, islands } = bench.state;
  if (survey === null) return;
  bench.push({ label: 'Keep an island', edits: [editSeen(islandName(survey, region), true)] });
  bench.set({ islands: islands.filter((one) => one !== region) });
}

/** An island by its deepest point. */
function islandName({ width, regions }: Pick<ShownSurvey, 'width' | 'regions'>, region: number): string {
  const at = regions.anchor[region]!;
  return `island/${at % width},${Math.floor(at / width)}`;
}

/** Assigns the region the worklist stands at, takes its part away (null), or confirms what it has; and goes on. */
export function ruleCurrentRegion(bench: Bench, partId: string | null): void {
  const { current, resolved, islands, lookRegions } = bench.state;
  if (current === null) {
    goToRegion(bench, 1);
    return;
  }
  if (partId !== null && islands.includes(current)) keepIsland(bench, current);
  else if (partId !== null && resolved !== null && lookRegions.includes(current))
    // It was looked at: it keeps its part.
    assignPart(bench, new Set([current]), resolved.partOfRegion[current]!);
  else assignPart(bench, new Set([current]), partId);
  if (partId !== null) goToRegion(bench, 1);
}

/** Assigns the region the worklist stands at to the part of the neighbour it touches longest. */
export async function assignToNeighbour(bench: Bench): Promise<void> {
  const { current, resolved } = bench.state;
  if (current === null || resolved === null) return;
  let part: string | null = null;
  await bench.turns.run(async () => {
    const neighbours = await bench.engine.neighbours();
    part = partAround(neighbours, bench.state.resolved?.partOfRegion ?? [], current);
  });
  if (part === null) return;
  assignPart(bench, new Set([current]), part);
  goToRegion(bench, 1);
}
