import {
  assignRegions,
  editFill,
  editSeen,
  findIslands,
  looseSpread,
  regionAt,
  groupsInLoop,
  regionsLike,
  type RecordEdit,
} from '@jumble/core';
import type { Engine } from '../engine/Engine.ts';
import { FILL_WAYS, stampAfter, type BenchState, type FillWay, type FlatsState } from './benchState.ts';
import type { ExampleDesk } from './ExampleDesk.ts';
import type { KeyDesk } from './KeyDesk.ts';
import type { MarkDesk } from './MarkDesk.ts';
import type { GapDesk } from './GapDesk.ts';
import type { PendingStep } from './SyncQueue.ts';
import type { ShownSurvey } from '../engine/messages.ts';
import { counted } from '../../measures.ts';

type Point = readonly [number, number];

/** What the flats desk needs of its bench. */
export interface FlatsPorts {
  readonly state: BenchState;
  readonly engine: Pick<Engine, 'overlay' | 'wayDraft' | 'neighbours'>;
  readonly gaps: Pick<GapDesk, 'inTurn'>;
  readonly key: Pick<KeyDesk, 'preview' | 'follow'>;
  readonly marks: Pick<MarkDesk, 'overlay'>;
  readonly examples: Pick<ExampleDesk, 'preview'>;
  push(step: PendingStep): void;
  give(regions: ReadonlySet<number>, partId: string | null): void;
  readonly walk: { go(direction: 1 | -1): void };
  previewGiven(regions: Iterable<number>, partId: string | null): number;
  /** Shows what is decided, without previews. */
  refresh(): void;
  showFlats(part: Partial<FlatsState>): void;
  set(part: Pick<BenchState, 'islands'>): void;
  fail(error: Error): void;
}

/** The Flats stage of one page: its ways to fill, loops, and what is looked over. */
export class FlatsDesk {
  constructor(private readonly bench: FlatsPorts) {}

  setWay(way: FillWay): void {
    if (way === this.bench.state.flats.way) return;
    this.setWayDraft([]);
    this.bench.showFlats({ way });
    // What the key proposes shows while it is the way.
    this.bench.refresh();
    void this.bench.key.follow();
  }

  /** Chooses a way by its place, from 1. @returns whether there is one. */
  setWayAt(place: number): boolean {
    const way = FILL_WAYS[place - 1];
    if (way !== undefined) this.setWay(way);
    return way !== undefined;
  }

  /** Puts marks over the page, and what is proposed into it. */
  draw(): void {
    if (this.bench.state.stage !== 'flats') return;
    this.bench.key.preview();
    this.bench.examples.preview();
    const marks = this.bench.marks.overlay();
    this.bench.engine.overlay(
      marks.length === 0
        ? null
        : {
            closures: new Float32Array(0),
            current: -1,
            draft: null,
            leak: null,
            narrowest: null,
            shapes: [],
            specks: new Float32Array(0),
            marks,
          },
    );
  }

  // --- surround ------------------------------------------------------------------------------

  /** From shapes to silhouettes, and back. */
  turnLoop(): void {
    this.bench.showFlats({ loopTakes: this.bench.state.flats.loopTakes === 'shapes' ? 'silhouette' : 'shapes' });
  }

  /** Shows the loop that is being drawn, or the way of a cut; with no points, none. */
  setWayDraft(points: readonly Point[], closed = true): void {
    this.bench.engine.wayDraft(points.length === 0 ? null : { points, closed });
  }

  /** What a loop takes, by the threshold. */
  enclosed(loop: readonly Point[]): readonly number[] {
    const { survey, resolved, flats } = this.bench.state;
    if (survey === null) return [];
    const regions = groupsInLoop(survey, survey.regions, loop, flats.share);
    return flats.onlyOpen ? regions.filter((region) => resolved?.partOfRegion[region] === null) : regions;
  }

  /** Takes away what was spread loosely over a place, up to the outline. */
  takeLoose(region: number): void {
    const { survey, resolved } = this.bench.state;
    if (survey === null || resolved === null || resolved.partOfRegion[region] === null) return;
    this.bench.give(new Set(looseSpread(survey, resolved.partOfRegion, region)), null);
  }

  /** A region and all like it: those with the same part, or of about the same size and shape. */
  likeThis(region: number): readonly number[] {
    const { survey, resolved } = this.bench.state;
    if (survey === null || resolved === null) return [];
    const part = resolved.partOfRegion[region];
    if (part === null || part === undefined)
      return regionsLike(survey, region).filter((one) => resolved.partOfRegion[one] === null);
    return resolved.partOfRegion.flatMap((other, one) => (other === part ? [one] : []));
  }

  // --- looking over --------------------------------------------------------------------------

  /** Agrees with every part that is still to be looked at, in the panel the worklist keeps to. */
  agreeWithAll(): void {
    const { resolved, survey, document: page, lookRegions, panelShown, panelOfRegion } = this.bench.state;
    if (resolved === null || survey === null || page === null) return;
    const regions = lookRegions.filter((one) => panelShown === null || panelOfRegion?.[one] === panelShown);
    if (regions.length === 0) return;
    const edits = new Map<string, RecordEdit>();
    const mine = new Set(regions);
    // A fill that stands in several regions is agreed with where all of these are looked at.
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
    if (edits.size > 0) this.bench.push({ label: `Confirm ${what}`, edits: [...edits.values()] });
  }

  /** Looks for regions that lie in their own part all around: probably they are something else. */
  async lookForIslands(): Promise<number> {
    let found: number[] = [];
    await this.bench.gaps.inTurn(async () => {
      const pairs = await this.bench.engine.neighbours();
      const { survey, resolved, document: page } = this.bench.state;
      if (survey === null || resolved === null || page === null) return;
      const least = 4 * survey.crumbLimitPx2;
      found = findIslands(pairs, survey.regions.areaPx, resolved.partOfRegion, least).filter(
        (region) => !page.seen.has(islandKey(survey, region)),
      );
      this.bench.set({ islands: found });
    });
    return found.length;
  }

  /** An island that is right as it is: it is not listed again. */
  keepIsland(region: number): void {
    const { survey, islands } = this.bench.state;
    if (survey === null) return;
    this.bench.push({ label: 'Keep an island', edits: [editSeen(islandKey(survey, region), true)] });
    this.bench.set({ islands: islands.filter((one) => one !== region) });
  }

  // --- neighbours ----------------------------------------------------------------------------

  /** Gives the region the worklist stands at the part of the neighbour it touches longest. */
  async giveToNeighbour(): Promise<void> {
    const { current, resolved } = this.bench.state;
    if (current === null || resolved === null) return;
    let part: string | null = null;
    await this.bench.gaps.inTurn(async () => {
      const pairs = await this.bench.engine.neighbours();
      const lengths = new Map<string, number>();
      for (let k = 0; k < pairs.length; k += 3) {
        const [a, b, px] = [pairs[k]!, pairs[k + 1]!, pairs[k + 2]!];
        if (a !== current && b !== current) continue;
        const other = this.bench.state.resolved?.partOfRegion[a === current ? b : a];
        if (other !== null && other !== undefined) lengths.set(other, (lengths.get(other) ?? 0) + px);
      }
      let most = 0;
      for (const [one, px] of lengths) {
        if (px <= most) continue;
        most = px;
        part = one;
      }
    });
    if (part === null) return;
    this.bench.give(new Set([current]), part);
    this.bench.walk.go(1);
  }
}

/** An island by its deepest point. */
function islandKey({ width, regions }: Pick<ShownSurvey, 'width' | 'regions'>, region: number): string {
  const at = regions.anchor[region]!;
  return `island/${at % width},${Math.floor(at / width)}`;
}
