import {
  applyEdits,
  assignRegions,
  DEFAULT_PREP,
  describeRegions,
  editCastScene,
  editColour,
  editGroup,
  editPart,
  editPrep,
  editsOfSpread,
  neighbourRegions,
  openSurvey,
  proposeFromExamples,
  readCastSheet,
  readPageDocument,
  redrawSurvey,
  regionAt,
  resolveFills,
  resolvePage,
  ruleSurvey,
  solveMarks,
  spreadFrom,
  autoMaxGap,
  contourGroups,
  silhouetteInLoop,
  type CastSheet,
  type CellGroups,
  type ExamplePage,
  type ExampleProposal,
  type GreyRaster,
  type KeyPlace,
  type KeyProposal,
  type KeyRaster,
  type OpenSurvey,
  type PageDocument,
  type PagePanel,
  type Prep,
  type RecordEdit,
  type RegionTraits,
  type Silhouette,
  type Records,
  type Spread,
  type SpreadOptions,
  type TileRaster,
} from '@jumble/core';
import { createStore } from 'zustand/vanilla';
import type { KeySeen } from '../engine/Engine.ts';
import type { DivideBy, Overlay, OverlayMark, OverlayWay, ShownCells, ShownSurvey } from '../engine/messages.ts';
import { INITIAL, type BenchState } from '../state/benchState.ts';
import { Looking, type LookPorts } from '../state/Looking.ts';
import { OpenWalk, type WalkPorts } from '../state/OpenWalk.ts';
import { PenDesk, type PenPorts } from '../state/PenDesk.ts';
import { ExampleDesk, type ExamplePorts } from '../state/ExampleDesk.ts';
import { FlatsDesk, type FlatsPorts } from '../state/FlatsDesk.ts';
import { KeyDesk, type KeyPorts } from '../state/KeyDesk.ts';
import { MarkDesk, type MarkPorts } from '../state/MarkDesk.ts';
import { SilhouetteDesk, type SilhouettePorts } from '../state/SilhouetteDesk.ts';
import type { Follow } from '../state/followOncePerFrame.ts';
import { signOf } from '../state/divideBy.ts';
import { GapDesk, type GapPorts } from '../state/GapDesk.ts';

/** A cast sheet with one character of two parts and "leave empty". For tests. */
export function smallCast(): CastSheet {
  const edits = [
    editCastScene({ id: 'day', name: 'Day', order: 0 }),
    editGroup({ id: 'wren', name: 'Wren', order: 0 }),
    editPart({ id: 'coat', groupId: 'wren', name: 'Coat', order: 0, slot: '1', empty: false }),
    editPart({ id: 'hair', groupId: 'wren', name: 'Hair', order: 1, slot: '2', empty: false }),
    editPart({ id: 'none', groupId: 'wren', name: 'Leave empty', order: 2, slot: '0', empty: true }),
    editColour('day', 'coat', '#336699'),
    editColour('day', 'hair', '#553311'),
  ];
  return readCastSheet(applyEdits(new Map(), edits).records);
}

/** A bench without workers and server: the core computes at once, gestures are kept. For tests. */
export class FakeBench
  implements GapPorts, FlatsPorts, MarkPorts, KeyPorts, PenPorts, ExamplePorts, WalkPorts, SilhouettePorts, LookPorts
{
  readonly store = createStore<BenchState>(() => ({ ...INITIAL, cast: smallCast(), phase: 'ready', stage: 'gaps' }));
  readonly follow: Follow = (listener) => this.store.subscribe(listener);
  readonly pushed: { label: string; edits: readonly RecordEdit[] }[] = [];
  readonly castChanges: { label: string; edits: readonly RecordEdit[] }[] = [];
  readonly overlays: (Overlay | null)[] = [];
  readonly chosen: string[] = [];
  readonly failures: string[] = [];
  readonly looking: Looking = new Looking(this);
  readonly panels = { inShown: (): boolean => true };
  readonly gaps: GapDesk = new GapDesk(this);
  readonly flats: FlatsDesk = new FlatsDesk(this);
  readonly marks: MarkDesk = new MarkDesk(this);
  readonly keptKeys = new Map<string, KeyRaster>();
  readonly key: KeyDesk = new KeyDesk(this, {
    read: (file) => Promise.resolve({ width: 1, height: 1, rgb: new Uint8Array(3).fill(file.name.length) }),
    keep: (_job, file) => {
      this.keptKeys.set(`kept-${file.name}`, { width: 1, height: 1, rgb: new Uint8Array(3) });
      return Promise.resolve({ id: `kept-${file.name}` });
    },
    fetch: (picture) =>
      this.keptKeys.has(picture)
        ? Promise.resolve(this.keptKeys.get(picture)!)
        : Promise.reject(new Error('The key is no longer there.')),
  });
  readonly silhouette: SilhouetteDesk = new SilhouetteDesk(this);
  readonly pen: PenDesk = new PenDesk(this);
  readonly examples: ExampleDesk = new ExampleDesk(this, () => Promise.resolve(this.donePages));
  readonly walk: OpenWalk = new OpenWalk(this);
  donePages: readonly ExamplePage[] = [];
  readonly previewed: [region: number, part: string | null][] = [];
  /** What of the page is painted over, as it is shown. */
  painted: TileRaster | null = null;
  /** Cells as they were previewed; null where none were any more. */
  readonly cells: (Int32Array | null)[] = [];
  silhouetteFails = false;
  spreadFails = false;
  keyProposals: readonly KeyProposal[] = [];
  /** What is known of a key before all is; null for nothing. */
  keySeen: readonly KeyProposal[] | null = null;
  /** Keys are read when this is kept; null for at once. */
  keyHeld: Promise<void> | null = null;
  private stopKey: ((error: Error) => void) | null = null;
  dividedBy = '';
  records: Records = new Map();
  /** The mark being drawn, as it was shown. */
  readonly drafts: (OverlayMark | null)[] = [];
  /** The loop or cut being drawn, as it was shown. */
  readonly ways: (OverlayWay | null)[] = [];
  private opened: OpenSurvey | null = null;

  engine = {
    view: (): number => 0,
    point: (): number => 0,
    loupe: (): void => undefined,
    divide: (by: DivideBy): Promise<ShownSurvey> => Promise.resolve(this.divide(by)),
    overlay: (overlay: Overlay | null): number => this.overlays.push(overlay),
    wayDraft: (way: OverlayWay | null): void => void this.ways.push(way),
    markDraft: (mark: OverlayMark | null): void => void this.drafts.push(mark),
    corrections: (raster: TileRaster | null): void => void (this.painted = raster),
    patchCorrections: ({ tilesPerRow, tiles }: TileRaster): number => {
      this.painted = { tilesPerRow, tiles: new Map([...(this.painted?.tiles ?? []), ...tiles]) };
      return 0;
    },
    trace: () => Promise.resolve(null),
    spread: (at: readonly [number, number] | null): Promise<Spread | null> =>
      Promise.resolve(at === null ? null : this.spread(at)),
    crop: () => new Promise(() => undefined),
    contours: (holdFrom: number): Promise<CellGroups> => {
      const groups = contourGroups(this.opened!.survey, holdFrom);
      return this.silhouetteFails ? Promise.reject(new Error('no memory')) : Promise.resolve(groups);
    },
    silhouette: (
      loop: readonly (readonly [number, number])[],
      share: number,
      holdFrom: number,
      mayTake: Uint8Array | null,
    ): Promise<Silhouette> => {
      const { survey } = this.opened!;
      const may = (region: number): boolean => mayTake?.[region] !== 0;
      return this.silhouetteFails
        ? Promise.reject(new Error('no memory'))
        : Promise.resolve(silhouetteInLoop(survey, holdFrom, loop, share, may));
    },
    showCells: (cells: ShownCells | null): number => this.cells.push(cells?.cells ?? null),
    spreadMarks: (document: PageDocument, options: SpreadOptions): Promise<readonly RecordEdit[]> =>
      this.spreadFails
        ? Promise.reject(new Error('no memory'))
        : Promise.resolve(editsOfSpread(document, solveMarks(this.opened!, document, options), 1)),
    stopReadingKey: (): void => this.stopKey?.(new DOMException('Cancelled', 'AbortError') as unknown as Error),
    readKey: async (
      _key: KeyRaster,
      _place: KeyPlace | null,
      _parts: unknown,
      onStep: (share: number) => void,
      onSeen: (seen: KeySeen) => void,
    ) => {
      onStep(0.25);
      const match = { place: { scaleX: 1, scaleY: 1, shiftX: 0, shiftY: 0 }, explained: 0.9, elsewhere: 0.5 };
      if (this.keySeen !== null) onSeen({ match, reading: { proposals: this.keySeen, unknown: [], isWhole: false } });
      if (this.keyHeld !== null) {
        const stopped = new Promise<never>((_resolve, reject) => (this.stopKey = reject));
        await Promise.race([this.keyHeld, stopped]);
      }
      return { match, reading: { proposals: this.keyProposals, unknown: [], isWhole: true }, splits: [] };
    },
    proposeFromExamples: (
      panels: readonly PagePanel[] | null,
      wanted: readonly number[],
      examples: readonly ExamplePage[],
      own: readonly (string | null)[] | null,
    ): Promise<readonly ExampleProposal[]> => {
      const traits = describeRegions(this.opened!, panels ?? this.state.facts?.panels ?? []);
      const mine = own === null ? [] : [{ traits, parts: own }];
      return Promise.resolve(proposeFromExamples(traits, (region) => wanted.includes(region), [...examples, ...mine]));
    },
    neighbours: (): Promise<Int32Array> => Promise.resolve(neighbourRegions(this.opened!)),
  };

  private spread(at: readonly [number, number]): Spread | null {
    const { survey, base } = this.opened!;
    const { paper, paperFactor } = base.found!;
    return spreadFrom(survey, paper, paperFactor, at);
  }

  get state(): BenchState {
    return this.store.getState();
  }

  open(art: GreyRaster, prep: Prep = DEFAULT_PREP): this {
    this.opened = openSurvey(art, prep);
    if (prep !== DEFAULT_PREP) this.records = applyEdits(this.records, [editPrep(prep)]).records;
    const { survey } = this.opened;
    this.store.setState({
      survey,
      document: readPageDocument(this.records),
      resolved: resolveFills(survey, new Map(), (part) => part),
      openGaps: this.gaps.toRule(survey),
      view: { x: 0, y: 0, scale: 1, width: art.width, height: art.height },
      page: {
        id: 'p',
        jobId: 'j',
        name: 'Page',
        dpi: 300,
        full: null,
        width: art.width,
        height: art.height,
      } as BenchState['page'],
    });
    this.dividedBy = signOf(this.gaps.by());
    return this;
  }

  fail(error: Error): void {
    this.failures.push(error.message);
  }

  push(step: { label: string; edits: readonly RecordEdit[] }): void {
    this.pushed.push(step);
    this.records = applyEdits(this.records, step.edits).records;
    this.store.setState({ document: readPageDocument(this.records) });
    this.gaps.follow();
    this.refresh();
  }

  /** What the server's undo does: edits that no gesture here made. */
  take(edits: readonly RecordEdit[]): void {
    this.records = applyEdits(this.records, edits).records;
    this.store.setState({ document: readPageDocument(this.records) });
    this.gaps.follow();
  }

  showSurvey(survey: ShownSurvey, by?: string): void {
    if (by !== undefined) this.dividedBy = by;
    this.store.setState({ survey, openGaps: this.gaps.toRule(survey) });
    this.refresh();
  }

  give(regions: ReadonlySet<number>, partId: string | null): void {
    const { survey, document: page, resolved } = this.state;
    this.push({ label: 'Give', edits: assignRegions(survey!, page!.fills, resolved!, regions, partId, 99) });
  }

  previewGiven(regions: Iterable<number>, part: string | null): number {
    for (const region of regions) this.previewed.push([region, part]);
    return 0;
  }

  previewCells(cells: Int32Array): void {
    this.cells.push(cells);
  }

  set(part: Partial<BenchState>): void {
    this.store.setState(part);
  }

  paintedAt([x, y]: readonly [number, number]): string | null {
    return this.pen.partAt(Math.floor(x), Math.floor(y));
  }

  wordIfClicked(): number | null {
    return null;
  }

  /** What is told of the regions of the page. */
  traits(): RegionTraits {
    return describeRegions(this.opened!, this.state.document!.panels ?? this.state.facts?.panels ?? []);
  }

  showFlats(part: Partial<BenchState['flats']>): void {
    this.store.setState({ flats: { ...this.state.flats, ...part } });
  }

  changeCast(label: string, edits: readonly RecordEdit[]): void {
    this.castChanges.push({ label, edits });
  }

  choosePart(id: string): void {
    this.chosen.push(id);
  }

  regionAt(x: number, y: number): number | null {
    return regionAt(this.state.survey!, x, y);
  }

  pickPartAt([x, y]: readonly [number, number]): void {
    const part = this.pen.partAt(x, y);
    if (part !== null) this.choosePart(part);
  }

  refresh(): void {
    const { survey, document: page } = this.state;
    this.store.setState({
      resolved: resolvePage(survey!, page!.fills, this.pen.corrections(), (part) => part),
    });
    this.pen.show();
    this.flats.draw();
  }

  private divide({ maxGapPx, rulings, drawn }: DivideBy): ShownSurvey {
    const opened = this.opened!;
    const { survey } = opened;
    const limit = maxGapPx === 'auto' ? autoMaxGap(survey.lineWidthPx.median, survey.width, survey.height) : maxGapPx;
    const now = this.state.document?.drawn.join() ?? '';
    this.opened =
      drawn.join() === now
        ? { ...opened, survey: ruleSurvey(survey, limit, rulings) }
        : redrawSurvey(opened, drawn, limit, rulings);
    return this.opened.survey;
  }
}

/** A hut with a door of `gapPx`; `rooms` parts it by a wall with a door of the same size. For tests. */
export function hut(gapPx: number, rooms = false): GreyRaster {
  const [width, height] = [260, 220];
  const data = new Uint8Array(width * height).fill(255);
  const bar = (x0: number, y0: number, x1: number, y1: number): void => {
    for (let y = y0; y < y1; y++) data.fill(0, y * width + x0, y * width + x1);
  };
  bar(40, 40, 206, 46);
  bar(40, 40, 46, 186);
  bar(40, 180, 206, 186);
  for (const x of rooms ? [120, 200] : [200]) {
    bar(x, 40, x + 6, 113 - Math.floor(gapPx / 2));
    bar(x, 113 + Math.ceil(gapPx / 2), x + 6, 186);
  }
  return { width, height, data };
}
