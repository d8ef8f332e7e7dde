import type { DocumentView, PageView, StepScope, StepView, TrimDto } from '@jumble/contracts';
import {
  assignRegions,
  colourOfPart,
  editTrap,
  parseColour,
  readCastSheet,
  readPageDocument,
  regionAt,
  rgbaWord,
  scenesOfPage,
  trapDepth2,
  type CastPart,
  type PixelBox,
  type RecordEdit,
  type Records,
  type TrapRule,
} from '@jumble/core';
import { createStore, type StoreApi } from 'zustand/vanilla';
import { getJson } from '../../api/http.ts';
import { Engine } from '../engine/Engine.ts';
import { OPEN, type ShownSurvey } from '../engine/messages.ts';
import { INITIAL, stampAfter, type BenchState, type FlatsState, type ShowMode, type StageName } from './benchState.ts';
import { ExampleDesk } from './ExampleDesk.ts';
import { FlatsDesk } from './FlatsDesk.ts';
import { KeyDesk } from './KeyDesk.ts';
import { MarkDesk } from './MarkDesk.ts';
import { followOncePerFrame, type Follow } from './followOncePerFrame.ts';
import { GapDesk } from './GapDesk.ts';
import { LineArtDesk, type LineArtState } from './LineArtDesk.ts';
import { PenDesk } from './PenDesk.ts';
import { PanelWalk } from './PanelWalk.ts';
import { OpenWalk } from './OpenWalk.ts';
import { Looking } from './Looking.ts';
import { PageReading } from './PageReading.ts';
import { ScratchDesk } from './ScratchDesk.ts';
import { SilhouetteDesk } from './SilhouetteDesk.ts';
import { StepWalk } from './StepWalk.ts';
import { shownColours, summarise } from './summarise.ts';
import { SyncQueue, type PendingStep, type SyncEvents } from './SyncQueue.ts';
import { fitPage } from './viewport.ts';
import { counted } from '../../measures.ts';

/**
 * One page on the bench: its state, its engine and everything that can be done to it. Framework-free;
 * components read the store and call the methods.
 */
export class Bench {
  readonly store: StoreApi<BenchState> = createStore<BenchState>(() => INITIAL);
  /** For components; the store's own subscription tells of each change at once. */
  readonly follow: Follow = followOncePerFrame(this.store);
  readonly engine: Engine;
  readonly reading: PageReading = new PageReading(this);
  readonly looking: Looking = new Looking(this);
  readonly gaps: GapDesk = new GapDesk(this);
  readonly lineArt: LineArtDesk = new LineArtDesk(this);
  readonly panels: PanelWalk = new PanelWalk(this);
  readonly flats: FlatsDesk = new FlatsDesk(this);
  readonly marks: MarkDesk = new MarkDesk(this);
  readonly key: KeyDesk = new KeyDesk(this);
  readonly silhouette: SilhouetteDesk = new SilhouetteDesk(this);
  readonly pen: PenDesk = new PenDesk(this);
  readonly examples: ExampleDesk = new ExampleDesk(this);
  readonly scratch: ScratchDesk = new ScratchDesk(this);
  readonly walk: OpenWalk = new OpenWalk(this);
  readonly steps: StepWalk = new StepWalk(this);
  /** What the survey is divided by. */
  dividedBy = '';
  private readonly pageSync: SyncQueue;
  private castSync: SyncQueue | null = null;
  isClosed = false;
  private readonly ticker: ReturnType<typeof setInterval>;

  constructor(
    readonly pageId: string,
    private readonly onProblem: (error: Error) => void,
  ) {
    this.engine = new Engine({
      onStep: (phaseText, phaseShare) => this.set({ phaseText, phaseShare }),
      onMeasuring: (measuring) => this.set({ measuring }),
    });
    this.pageSync = new SyncQueue('page', `/api/pages/${pageId}`, this.syncEvents());
    this.ticker = setInterval(() => {
      if (document.visibilityState === 'visible') this.set({ secondsHere: this.state.secondsHere + 1 });
    }, 1000);
    void this.open();
  }

  get state(): BenchState {
    return this.store.getState();
  }

  // --- opening -------------------------------------------------------------------------------

  private async open(): Promise<void> {
    try {
      const page = await getJson<PageView>(`/api/pages/${this.pageId}`);
      if (this.isClosed) return;
      this.castSync = new SyncQueue('cast', `/api/jobs/${page.jobId}/cast`, this.syncEvents());
      this.set({ page });
      const [pageDocument, castDocument, history] = await Promise.all([
        getJson<DocumentView>(`/api/pages/${this.pageId}/document`),
        getJson<DocumentView>(`/api/jobs/${page.jobId}/cast`),
        getJson<Omit<StepView, 'edits'>[]>(`/api/pages/${this.pageId}/history`),
      ]);
      if (this.isClosed) return;
      this.castSync.load(castDocument);
      this.pageSync.load(pageDocument);
      this.set({ history });
      await this.read(page);
    } catch (error) {
      if (!this.isClosed) this.set({ phase: 'failed', phaseText: (error as Error).message });
    }
  }

  private async read(page: PageView): Promise<void> {
    await this.reading.read(page);
    if (this.isClosed) return;
    const { view } = this.state;
    if (view !== null) this.looking.setView(fitPage(page, view));
    const first = this.state.cast?.parts[0];
    if (this.state.partId === null && first !== undefined) this.choosePart(first.id);
  }

  setTrim(trim: TrimDto | null): void {
    if (JSON.stringify(trim) === JSON.stringify(this.state.trim)) return;
    this.set({ trim });
    this.lineArt.draw();
  }

  close(): void {
    this.isClosed = true;
    clearInterval(this.ticker);
    this.pageSync.close();
    this.castSync?.close();
    this.engine.close();
  }

  /** Gestures that are not acknowledged yet. */
  get unsaved(): number {
    return this.pageSync.waiting + (this.castSync?.waiting ?? 0);
  }

  // --- documents -----------------------------------------------------------------------------

  private syncEvents(): SyncEvents {
    return {
      onRecords: (scope, records) => this.takeRecords(scope, records),
      onStep: (step) => this.addStep(step),
      onState: (state, waiting) => this.set({ sync: { state, waiting } }),
      onClash: (clash) => this.set({ clash }),
      onProblem: this.onProblem,
    };
  }

  private takeRecords(scope: StepScope, records: Records): void {
    if (scope === 'page') {
      this.set({ document: readPageDocument(records) });
      this.gaps.follow();
      this.reading.follow();
      void this.key.follow();
    } else {
      const cast = readCastSheet(records);
      const { partId } = this.state;
      this.set({ cast, partId: cast.parts.some((part) => part.id === partId) ? partId : (cast.parts[0]?.id ?? null) });
    }
    this.refresh();
  }

  /** Shows all of the page, or a part of it alone. */
  setShow(show: ShowMode): void {
    this.set({ show });
    this.looking.setOptions({ showInk: show !== 'flats', showFlats: show !== 'ink' });
    this.refresh();
  }

  /** Takes regions that were divided anew; `by` says by what, when it is decided and no preview. */
  showSurvey(survey: ShownSurvey, by?: string, refresh = true): void {
    if (this.isClosed) return;
    if (by !== undefined) {
      this.dividedBy = by;
      this.dropStaleProposals();
    }
    this.set({ survey, openGaps: this.gaps.toRule(survey), islands: [], hovered: null, current: null, leak: null });
    this.engine.showDivision(survey);
    if (refresh) this.refresh();
    this.gaps.draw();
  }

  /** What was proposed names regions that have other numbers now: the key is read anew, the rest is asked for again. */
  dropStaleProposals(): void {
    const { key, examples } = this.state.flats;
    if (examples !== null) this.showFlats({ examples: null });
    if (key?.reading !== null && key?.reading !== undefined)
      void this.key.lay(key.name, key.raster, key.match?.place ?? null, key.picture);
  }

  showLineArt(part: Partial<LineArtState>): void {
    this.set(part);
    if (!('facts' in part)) return;
    // Balloons just found are taken out of what is proposed.
    if (this.state.flats.examples !== null) this.refresh();
    else this.panels.refresh();
  }

  showFlats(part: Partial<FlatsState>): void {
    this.set({ flats: { ...this.state.flats, ...part } });
  }

  /** Says what went wrong, unless the bench was left meanwhile. */
  fail(error: Error): void {
    if (!this.isClosed) this.onProblem(error);
  }

  setStage(stage: StageName): void {
    if (this.state.stage === stage) return;
    this.set({ stage, current: null, leak: null, comparing: false, pointing: null });
    // What a key proposes shows on the Flats stage alone.
    if (this.state.flats.key !== null || this.state.flats.examples !== null) this.refresh();
    this.looking.refresh();
    this.gaps.draw();
    this.lineArt.draw();
    this.flats.draw();
  }

  /** Shows a gesture on the page and sends it. */
  push(step: PendingStep): void {
    this.pageSync.push(step);
  }

  /** Works out who has which region, and shows it. */
  refresh(): void {
    const { survey, document: page, cast } = this.state;
    if (survey === null || page === null || cast === null) return;
    const { scenes, ofRegion } = scenesOfPage(survey, page);
    const words = scenes.map((scene) => this.wordsOfParts(scene));
    const { resolved, openRegions, lookRegions, regionsOfPart, colours } = summarise(
      survey,
      page,
      cast,
      words,
      ofRegion,
      this.pen.corrections(),
    );
    const { current } = this.state;
    this.set({
      resolved,
      openRegions,
      lookRegions,
      regionsOfPart,
      current: current !== null && current < survey.regions.count ? current : null,
    });
    this.engine.paint(shownColours(this.state.show, colours, resolved, this.state.partId), trapDepth2(page.trap));
    this.pen.show();
    this.looking.point();
    this.panels.refresh();
    this.lineArt.list();
    this.flats.draw();
  }

  /** RGBA word of every part, as it is shown in a scene. */
  private wordsOfParts(scene: string | null): Map<string, number> {
    return new Map((this.state.cast?.parts ?? []).map((part) => [part.id, this.wordOf(part, scene)]));
  }

  /** Scene a region shows: its panel's, or the page's. */
  private sceneOf(region: number): string | null {
    const { document: page, panelOfRegion } = this.state;
    return page?.panels?.[panelOfRegion?.[region] ?? -1]?.scene ?? page?.scene ?? null;
  }

  private wordOf(part: CastPart, scene: string | null): number {
    return part.empty ? 0 : rgbaWord(parseColour(colourOfPart(this.state.cast!, part.id, scene)));
  }

  /** RGBA word of what a click would make of a region; null where it would make nothing. */
  wordIfClicked(region: number): number | null {
    const { stage, flats, cast, partId } = this.state;
    const part = cast?.parts.find((one) => one.id === partId);
    const gives = stage === 'flats' && flats.way !== 'pen' && flats.way !== 'marks';
    return gives && part !== undefined && !part.empty ? this.wordOf(part, this.sceneOf(region)) : null;
  }

  /** How a part looks in each region, by its scene. */
  private wordsIn(part: CastPart): (region: number) => number {
    const known = new Map<string | null, number>();
    return (region) => {
      const scene = this.sceneOf(region);
      let word = known.get(scene);
      if (word === undefined) known.set(scene, (word = this.wordOf(part, scene)));
      return word;
    };
  }

  /** Resolves once every gesture is acknowledged. */
  async settled(): Promise<void> {
    await Promise.all([this.pageSync.settled(), this.castSync?.settled()]);
  }

  // --- filling -------------------------------------------------------------------------------

  choosePart(partId: string): void {
    this.set({ partId });
    if (this.state.show === 'part') this.refresh();
    this.looking.point();
  }

  /** Takes up the part at a page point: what is painted there, or what the region has. */
  pickPartAt([x, y]: readonly [number, number]): void {
    const { resolved, survey } = this.state;
    if (survey === null) return;
    const region = this.regionAt(x, y);
    const part = this.paintedAt([x, y]) ?? (region === null ? null : (resolved?.partOfRegion[region] ?? null));
    if (part !== null) this.choosePart(part);
  }

  /** The part that is painted over the regions at a page point. */
  paintedAt([x, y]: readonly [number, number]): string | null {
    const { survey } = this.state;
    const isInside = survey !== null && x >= 0 && y >= 0 && x < survey.width && y < survey.height;
    return isInside ? this.pen.partAt(x, y) : null;
  }

  /** The region at a page point, or null on ink and outside. */
  regionAt(x: number, y: number): number | null {
    const { survey } = this.state;
    return survey === null ? null : regionAt(survey, x, y);
  }

  /** Shows regions as given before the gesture is finished. */
  previewGiven(regions: Iterable<number>, partId: string | null): number {
    const list = Int32Array.from(regions);
    const part = this.state.cast?.parts.find((one) => one.id === partId);
    const wordIn = part === undefined ? () => OPEN : this.wordsIn(part);
    return this.engine.patch(list, Uint32Array.from(list, wordIn));
  }

  /** Shows cells as given before the gesture is finished. */
  previewCells(cells: Int32Array, box: PixelBox, partId: string): void {
    const { cast, survey } = this.state;
    const part = cast?.parts.find((one) => one.id === partId);
    if (part === undefined || survey === null) return;
    const wordIn = this.wordsIn(part);
    const colours = Uint32Array.from(cells, (cell) => wordIn(survey.regions.ofCell[cell]!));
    this.engine.showCells({ cells, colours, box });
  }

  /** Gives regions the part, or takes theirs away (null), as one step. */
  give(regions: ReadonlySet<number>, partId: string | null): void {
    const { survey, document: page, resolved, cast } = this.state;
    if (survey === null || page === null || resolved === null || cast === null) return;
    const changed = [...regions].filter(
      (region) =>
        resolved.partOfRegion[region] !== partId ||
        resolved.looks.has(region) ||
        (resolved.fillsOfRegion.get(region)?.length ?? 0) > 1,
    );
    if (changed.length === 0) return;
    const edits = assignRegions(survey, page.fills, resolved, changed, partId, stampAfter(page));
    if (edits.length === 0) return;
    // What was given anew is no island any more.
    if (this.state.islands.length > 0)
      this.set({ islands: this.state.islands.filter((region) => !regions.has(region)) });
    const what = counted(changed.length, 'region');
    const name = cast.parts.find((part) => part.id === partId)?.name ?? '';
    this.pageSync.push({
      label: partId === null ? `Remove the part from ${what}` : `Assign ${what} to ${name}`,
      edits,
    });
  }

  setTrap(trap: TrapRule): void {
    const words = trap.rule === 'middle' ? 'to the middle of the line' : `to ${trap.depthPx} px`;
    this.pageSync.push({ label: `Set the trap ${words}`, edits: [editTrap(trap)] });
  }

  // --- cast sheet ----------------------------------------------------------------------------

  changeCast(label: string, edits: readonly RecordEdit[]): void {
    this.castSync?.push({ label, edits });
  }

  /** Takes a step of the cast sheet that the server made by itself. */
  takeCastStep(step: StepView): void {
    this.addStep(step);
    this.castSync?.accept(step);
  }

  // --- history -------------------------------------------------------------------------------

  addStep(step: StepView): void {
    this.set({ history: [...this.state.history, step] });
  }

  /** The queue of one of the two documents; null until the page's job is known. */
  syncOf(scope: StepScope): SyncQueue | null {
    return scope === 'page' ? this.pageSync : this.castSync;
  }

  resolveClash(choice: 'mine' | 'theirs'): void {
    if (this.state.clash !== null) this.syncOf(this.state.clash.scope)?.resolveClash(choice);
  }

  /** Takes over what desks and tools found; not once the page was left. */
  set(part: Partial<BenchState>): void {
    if (!this.isClosed) this.store.setState(part);
  }
}
