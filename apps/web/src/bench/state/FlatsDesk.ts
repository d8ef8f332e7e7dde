import {
  assignRegions,
  colourOfPart,
  editFill,
  editMark,
  editRuling,
  editSeen,
  findIslands,
  looseSpread,
  partFinder,
  parseColour,
  regionAt,
  regionsInLoop,
  regionsLike,
  resolveFills,
  type CastSheet,
  type Fill,
  type KeyMatch,
  type KeyPlace,
  type KeyProposal,
  type KeyRaster,
  type Mark,
  type PageDocument,
  type RecordEdit,
  type ResolvedFills,
  type Survey,
} from '@jumble/core';
import type { Engine } from '../engine/Engine.ts';
import type { OverlayMark } from '../engine/messages.ts';
import { FILL_WAYS, type BenchState, type FillWay, type FlatsState, type KeyOnPage } from './benchState.ts';
import type { ExampleDesk } from './ExampleDesk.ts';
import type { GapDesk } from './GapDesk.ts';
import type { PendingStep } from './SyncQueue.ts';

type Point = readonly [number, number];

/** What the flats desk needs of its bench. */
export interface FlatsPorts {
  readonly state: BenchState;
  readonly engine: Pick<Engine, 'overlay' | 'spreadMarks' | 'readKey' | 'neighbours'>;
  readonly gaps: Pick<GapDesk, 'inTurn' | 'settle'>;
  readonly examples: Pick<ExampleDesk, 'preview'>;
  push(step: PendingStep): void;
  give(regions: ReadonlySet<number>, partId: string | null): void;
  goToOpen(direction: 1 | -1): void;
  previewGiven(regions: Iterable<number>, partId: string | null): number;
  /** Shows what is decided, without previews. */
  refresh(): void;
  showFlats(part: Partial<FlatsState>): void;
  showIslands(islands: readonly number[]): void;
  fail(error: Error): void;
}

/** Proposals of a key from this confidence on are taken without a look, unless the flatter says otherwise. */
const SURE_FROM = 0.85;
/** The page's regions have to explain so much of a key, and so much more than of the key lying the wrong way round. */
const LEAST_EXPLAINED = 0.6;
const LEAST_MATCH = 0.1;

/** The Flats stage of one page: the ways to fill beyond point and sweep. */
export class FlatsDesk {
  private loop: readonly Point[] = [];
  private draft: Mark | null = null;
  private previewing = false;
  private wantsPreview = false;

  constructor(private readonly bench: FlatsPorts) {}

  setWay(way: FillWay): void {
    if (way === this.bench.state.flats.way) return;
    this.loop = [];
    this.bench.showFlats({ way });
    // What the key proposes shows while it is the way.
    this.bench.refresh();
  }

  /** Chooses a way by its place, from 1. @returns whether there is one. */
  setWayAt(place: number): boolean {
    const way = FILL_WAYS[place - 1];
    if (way !== undefined) this.setWay(way);
    return way !== undefined;
  }

  /** Puts marks and the loop being drawn over the page. */
  draw(): void {
    const { stage, flats, document: page, cast } = this.bench.state;
    if (stage !== 'flats') return;
    this.previewKey();
    this.bench.examples.preview();
    const { way, marksShown } = flats;
    const shown = page !== null && cast !== null && (way === 'marks' ? marksShown : false);
    const all = shown ? [...page.marks.values(), ...(this.draft === null ? [] : [this.draft])] : [];
    const partOf = cast === null ? () => null : partFinder(cast);
    const marks = all.flatMap((mark): OverlayMark[] => {
      const part = cast!.parts.find((one) => one.id === partOf(mark.part));
      if (part === undefined) return [];
      return [{ points: mark.points, colour: colourOfPart(cast!, part.id, page!.scene), empty: part.empty }];
    });
    this.bench.engine.overlay(
      marks.length === 0 && this.loop.length === 0
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
            loop: this.loop,
          },
    );
  }

  // --- surround ------------------------------------------------------------------------------

  setLoop(loop: readonly Point[]): void {
    this.loop = loop;
    this.draw();
  }

  /** What a loop takes, by the threshold. */
  enclosed(loop: readonly Point[]): readonly number[] {
    const { survey, resolved, flats } = this.bench.state;
    if (survey === null) return [];
    const regions = regionsInLoop(survey, loop, flats.share);
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

  // --- marks ---------------------------------------------------------------------------------

  setDraft(mark: Mark | null): void {
    this.draft = mark;
    this.draw();
  }

  addMark(mark: Mark): void {
    this.draft = null;
    this.bench.push({ label: `Mark ${this.nameOf(mark.part)}`, edits: [editMark(crypto.randomUUID(), mark)] });
    this.bench.showFlats({ unspread: true });
  }

  /** The mark nearest to a point within a reach, in page px. */
  markAt([x, y]: Point, reachPx: number): string | null {
    let best = reachPx * reachPx;
    let found: string | null = null;
    for (const [id, { points }] of this.bench.state.document?.marks ?? []) {
      points.forEach((b, k) => {
        const a = points[Math.max(0, k - 1)]!;
        const length2 = (b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2 || 1;
        const t = Math.max(0, Math.min(1, ((x - a[0]) * (b[0] - a[0]) + (y - a[1]) * (b[1] - a[1])) / length2));
        const d = (x - a[0] - (b[0] - a[0]) * t) ** 2 + (y - a[1] - (b[1] - a[1]) * t) ** 2;
        if (d >= best) return;
        best = d;
        found = id;
      });
    }
    return found;
  }

  eraseMarks(ids: readonly string[]): void {
    if (ids.length === 0) return;
    const what = ids.length === 1 ? 'a mark' : `${ids.length} marks`;
    this.bench.push({ label: `Erase ${what}`, edits: ids.map((id) => editMark(id, null)) });
    this.bench.showFlats({ unspread: true });
  }

  /** All marks of one part, or of all parts (null), in one go. */
  eraseMarksOf(partId: string | null): void {
    const marks = this.bench.state.document?.marks ?? new Map<string, Mark>();
    this.eraseMarks([...marks].flatMap(([id, mark]) => (partId === null || mark.part === partId ? [id] : [])));
  }

  /** Gives a mark to the chosen part. */
  recolourMark(id: string): void {
    const { document: page, partId } = this.bench.state;
    const mark = page?.marks.get(id);
    if (mark === undefined || partId === null || mark.part === partId) return;
    this.bench.push({
      label: `Give a mark to ${this.nameOf(partId)}`,
      edits: [editMark(id, { ...mark, part: partId })],
    });
    this.bench.showFlats({ unspread: true });
  }

  /** Spreads the marks over the page, or over the panel the worklist keeps to. */
  async spread(): Promise<void> {
    const { document: page, flats } = this.bench.state;
    this.wantsPreview = false;
    if (page === null || flats.spreading || !hasMarks(page)) return;
    this.bench.showFlats({ spreading: true });
    try {
      const edits = await this.solve(false);
      const count = page.marks.size;
      if (edits.length > 0) await this.bench.gaps.settle(`Spread ${count === 1 ? '1 mark' : `${count} marks`}`, edits);
      this.bench.showFlats({ unspread: false });
    } finally {
      this.bench.showFlats({ spreading: false });
    }
  }

  /** Shows what spreading would come to now, without doing it. While it is worked out, the latest asked for wins. */
  async previewSpread(): Promise<void> {
    const { document: page } = this.bench.state;
    const idle = !this.previewing;
    this.wantsPreview = true;
    if (!idle || page === null || !hasMarks(page)) return;
    this.previewing = true;
    try {
      while (this.wantsPreview) {
        this.wantsPreview = false;
        const edits = await this.solve(true);
        // Spreading itself, asked for meanwhile, shows what it did.
        if (!this.bench.state.flats.spreading) this.showSpread(edits);
      }
    } finally {
      this.previewing = false;
    }
  }

  private async solve(preview: boolean): Promise<readonly RecordEdit[]> {
    let edits: readonly RecordEdit[] = [];
    await this.bench.gaps.inTurn(async () => {
      const { document: now, panelShown, facts, cast, flats } = this.bench.state;
      const panel = panelShown === null ? null : ((now!.panels ?? facts?.panels ?? [])[panelShown]?.points ?? null);
      edits = await this.bench.engine.spreadMarks(asNow(now!, cast!), flats.spread, panel, preview);
    });
    return edits;
  }

  /** Colours regions as edits would; pieces that a cut would part show the part of the last one. */
  private showSpread(edits: readonly RecordEdit[]): void {
    const { survey, document: page } = this.bench.state;
    if (survey === null || page === null) return;
    this.bench.refresh();
    const fills = new Map(page.fills);
    for (const { key, value } of edits) {
      if (!key.startsWith('fill/')) continue;
      if (value === null) fills.delete(key.slice(5));
      else fills.set(key.slice(5), value as unknown as Fill);
    }
    const ofPart = new Map<string | null, number[]>();
    resolveFills(survey, fills, partFinder(this.bench.state.cast!)).partOfRegion.forEach((part, region) => {
      if (part === this.bench.state.resolved?.partOfRegion[region]) return;
      const list = ofPart.get(part);
      if (list === undefined) ofPart.set(part, [region]);
      else list.push(region);
    });
    for (const [part, regions] of ofPart) this.bench.previewGiven(regions, part);
  }

  /** What the marks came to becomes fills like any other, and the marks go. */
  marksToFills(): void {
    const page = this.bench.state.document;
    if (page === null) return;
    const edits = [...page.marks.keys()].map((id) => editMark(id, null));
    for (const [key, { by, ...fill }] of page.fills) if (by === 'mark') edits.push(editFill(key, fill));
    if (edits.length === 0) return;
    this.bench.push({ label: 'Turn marks into plain fills', edits });
    this.bench.showFlats({ unspread: false });
  }

  // --- key -----------------------------------------------------------------------------------

  /** Lays a key over the page and reads it. */
  async layKey(name: string, raster: KeyRaster, place: KeyPlace | null = null): Promise<void> {
    const { cast, document: page, flats } = this.bench.state;
    if (cast === null || page === null) return;
    const sureFrom = flats.key?.sureFrom ?? SURE_FROM;
    this.bench.showFlats({
      key: { name, raster, match: flats.key?.match ?? null, reading: null, splits: [], sureFrom },
    });
    // What is left empty shows paper.
    const parts = cast.parts.map(({ id, empty }) => ({
      id,
      rgb: empty ? 0xffffff : parseColour(colourOfPart(cast, id, page.scene)),
    }));
    await this.bench.gaps.inTurn(async () => {
      try {
        const { match, reading, splits } = await this.bench.engine.readKey(raster, place, parts);
        this.bench.showFlats({
          key: { name, raster, match, reading, splits, sureFrom: this.bench.state.flats.key?.sureFrom ?? sureFrom },
        });
        this.bench.refresh();
      } catch (error) {
        this.bench.showFlats({ key: null });
        throw error;
      }
    });
  }

  /** Moves the key by page px. */
  nudgeKey(dx: number, dy: number): void {
    const { key } = this.bench.state.flats;
    if (key === null || key.match === null) return;
    const { place } = key.match;
    void this.layKey(key.name, key.raster, {
      ...place,
      shiftX: place.shiftX - dx * place.scaleX,
      shiftY: place.shiftY - dy * place.scaleY,
    });
  }

  dropKey(): void {
    this.bench.showFlats({ key: null });
    this.bench.refresh();
  }

  /** Proposals of the key for regions that have no part, or none that is sure. */
  private proposed(): readonly KeyProposal[] {
    const { flats, resolved } = this.bench.state;
    if (resolved === null) return [];
    return (flats.key?.reading?.proposals ?? []).filter((one) => mayPropose(one.region, resolved));
  }

  /** Shows what the key proposes, as if it was taken. */
  private previewKey(): void {
    const { flats, stage } = this.bench.state;
    if (flats.way !== 'key' || stage !== 'flats') return;
    const ofPart = new Map<string, number[]>();
    for (const { region, part } of this.proposed()) {
      const list = ofPart.get(part);
      if (list === undefined) ofPart.set(part, [region]);
      else list.push(region);
    }
    for (const [part, regions] of ofPart) this.bench.previewGiven(regions, part);
  }

  setSureFrom(sureFrom: number): void {
    const { key } = this.bench.state.flats;
    if (key !== null) this.bench.showFlats({ key: { ...key, sureFrom } });
  }

  /** Takes the key's proposals for regions without a part; the doubtful ones are listed to be looked at. */
  async takeKey(): Promise<void> {
    const { flats, survey, document: page, resolved } = this.bench.state;
    const reading = flats.key?.reading;
    if (reading === null || reading === undefined || survey === null || page === null || resolved === null) return;
    const stamp = stampAfter(page);
    const proposed = this.proposed();
    const cleared = assignRegions(
      survey,
      page.fills,
      resolved,
      proposed.map((one) => one.region),
      null,
      stamp,
    );
    const given = proposed.map(({ region, part, confidence }) => {
      const at = survey.regions.anchor[region]!;
      const x = at % survey.width;
      const y = (at - x) / survey.width;
      const sure = confidence >= flats.key!.sureFrom;
      const fill: Fill = { part, anchors: [[x, y]], stamp, by: 'key', ...(sure ? {} : { look: 'key' }) };
      return editFill(`${x},${y}`, fill);
    });
    // A region in several colours leaks: the cuts between them close, and each piece has its own.
    const open = new Set(proposed.map((one) => one.region));
    const split = flats
      .key!.splits.filter((one) => open.has(one.region))
      .flatMap(({ closures, pieces }) => [
        ...closures.map((key) => editRuling(key, 'closed')),
        ...pieces.map(({ part, at }) => {
          const x = at % survey.width;
          const y = (at - x) / survey.width;
          return editFill(`${x},${y}`, { part, anchors: [[x, y]], stamp: stamp + 1, by: 'key' });
        }),
      ]);
    const edits = [...new Map([...cleared, ...given, ...split].map((edit) => [edit.key, edit])).values()];
    if (split.length > 0) await this.bench.gaps.settle(`Take ${given.length} parts from the key`, edits);
    else if (given.length > 0) this.bench.push({ label: `Take ${given.length} parts from the key`, edits });
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
    const what = regions.length === 1 ? '1 part' : `${regions.length} parts`;
    if (edits.size > 0) this.bench.push({ label: `Agree with ${what}`, edits: [...edits.values()] });
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
      this.bench.showIslands(found);
    });
    return found.length;
  }

  /** An island that is right as it is: it is not listed again. */
  keepIsland(region: number): void {
    const { survey, islands } = this.bench.state;
    if (survey === null) return;
    this.bench.push({ label: 'Keep an island', edits: [editSeen(islandKey(survey, region), true)] });
    this.bench.showIslands(islands.filter((one) => one !== region));
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
    this.bench.goToOpen(1);
  }

  private nameOf(partId: string): string {
    return this.bench.state.cast?.parts.find((part) => part.id === partId)?.name ?? '';
  }
}

/** Marks and fills by the parts they mean now; those of a part that is no more count for nothing. */
function asNow(page: PageDocument, cast: CastSheet): PageDocument {
  const partOf = partFinder(cast);
  const mapped = <T extends { readonly part: string }>(all: ReadonlyMap<string, T>, keep: (one: T) => boolean) =>
    new Map(
      [...all].flatMap(([key, one]) => {
        const part = partOf(one.part);
        return part === null && !keep(one) ? [] : [[key, { ...one, part: part ?? one.part }] as const];
      }),
    );
  return {
    ...page,
    marks: mapped(page.marks, () => false),
    // What marks gave before has to be known to make way.
    fills: mapped(page.fills, (fill) => fill.by === 'mark'),
  };
}

/** Whether there is anything to spread, or to take back. */
function hasMarks(page: PageDocument): boolean {
  return page.marks.size > 0 || [...page.fills.values()].some((fill) => fill.by === 'mark');
}

/** A stamp later than that of every fill. */
function stampAfter({ fills }: PageDocument): number {
  let stamp = 0;
  for (const fill of fills.values()) stamp = Math.max(stamp, fill.stamp + 1);
  return stamp;
}

/** An island by its deepest point. */
function islandKey({ width, regions }: Pick<Survey, 'width' | 'regions'>, region: number): string {
  const at = regions.anchor[region]!;
  return `island/${at % width},${Math.floor(at / width)}`;
}

/** A key speaks where nothing is decided: no part, or one that somebody still has to look at. */
export function mayPropose(region: number, { partOfRegion, looks }: ResolvedFills): boolean {
  return partOfRegion[region] === null || looks.has(region);
}

/** Whether a key belongs to the page it lies on. */
export function keyFits(match: KeyMatch): boolean {
  return match.explained >= Math.max(LEAST_EXPLAINED, match.elsewhere + LEAST_MATCH);
}

/** How many proposals of a key are taken as they are, and how many have to be looked at. */
export function countProposals(
  { reading, sureFrom }: KeyOnPage,
  resolved: ResolvedFills | null,
): { readonly sure: number; readonly doubtful: number } {
  let [sure, doubtful] = [0, 0];
  for (const { region, confidence } of reading?.proposals ?? []) {
    if (resolved === null || !mayPropose(region, resolved)) continue;
    if (confidence >= sureFrom) sure++;
    else doubtful++;
  }
  return { sure, doubtful };
}
