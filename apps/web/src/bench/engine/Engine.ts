import {
  joinBoxes,
  type CellGroups,
  type Change,
  type ExamplePage,
  type ExampleProposal,
  type KeyMatch,
  type KeyPart,
  type KeyPlace,
  type KeyRaster,
  type KeyReadingSoFar,
  type KeySplit,
  type LeakTrace,
  type LineArtFacts,
  type MeasuringStep,
  type PageDocument,
  type PagePanel,
  type PixelBox,
  type RecordEdit,
  type Silhouette,
  type Skew,
  type Spread,
  type SpreadOptions,
  type TileRaster,
  type Viewport,
} from '@jumble/core';
import type {
  CropOf,
  DivideBy,
  DrawAnswer,
  DrawnSurvey,
  DrawRequest,
  Overlay,
  OverlayMark,
  OverlayWay,
  ReadFrom,
  ShownCells,
  ShownSurvey,
  SurveyAnswer,
  SurveyRequest,
  ViewOptions,
} from './messages.ts';
import { LOUPE_PX } from './drawLoupe.ts';

export interface EngineEvents {
  readonly onStep: (text: string, share: number) => void;
  /** The line art is being measured. */
  readonly onMeasuring: (step: MeasuringStep) => void;
}

export interface Crop {
  readonly pixels: ArrayBuffer;
  readonly width: number;
  readonly height: number;
}

/** What is known of a key that lies on the page. */
export interface KeySeen {
  readonly match: KeyMatch;
  readonly reading: KeyReadingSoFar;
}

/** More regions than this are all painted anew. */
const MOST_PATCHED = 300;

/** The page's two workers: one computes, one draws; the rasters are shared between them and us. */
export class Engine {
  private readonly computing = new Worker(new URL('./surveyWorker.ts', import.meta.url), { type: 'module' });
  private readonly drawing = new Worker(new URL('./drawWorker.ts', import.meta.url), { type: 'module' });
  private readonly waiting = new Map<
    number,
    {
      readonly resolve: (answer: SurveyAnswer) => void;
      readonly reject: (error: Error) => void;
      readonly onStep: (text: string, share: number) => void;
      readonly onSeen: ((seen: KeySeen) => void) | undefined;
    }
  >();
  /** Set to end the reading of a key. */
  private keyStop = new Int32Array(new SharedArrayBuffer(4));
  private readonly presented = new Map<number, (at: number) => void>();
  /** Crops that were asked for; the first one is under way. */
  private readonly crops: [request: DrawRequest, resolve: (crop: Crop) => void][] = [];
  /** The paper that has other cells than what is shown. */
  private changed: PixelBox | null = null;
  /** What the drawing worker shows the regions in. */
  private shown: { readonly colours: Uint32Array; readonly trapDepth2: number } | null = null;
  private nextId = 1;
  private seq = 0;

  constructor(private readonly events: EngineEvents) {
    this.computing.onmessage = (event: MessageEvent<SurveyAnswer>) => this.computed(event.data);
    this.computing.onerror = (event) => {
      for (const { reject } of this.waiting.values())
        reject(new Error(event.message || 'The computing worker stopped.'));
      this.waiting.clear();
    };
    this.drawing.onmessage = (event: MessageEvent<DrawAnswer>) => {
      const message = event.data;
      if (message.kind === 'presented') this.settlePresented(message.seq, message.at);
      else {
        const [, resolve] = this.crops.shift()!;
        resolve(message);
        this.sendNextCrop();
      }
    };
  }

  /** Hands the canvases over; they can be given only once. */
  attach(canvas: HTMLCanvasElement, loupe: HTMLCanvasElement): void {
    loupe.width = loupe.height = LOUPE_PX;
    const [one, two] = [canvas.transferControlToOffscreen(), loupe.transferControlToOffscreen()];
    this.drawing.postMessage({ kind: 'canvas', canvas: one, loupe: two } satisfies DrawRequest, [one, two]);
  }

  /**
   * Reads a page in the computing worker; rejects when it fails or is cancelled.
   *
   * @param cutsUrl of gaps that were found before by this very reading; null: they are found now.
   */
  async survey(from: ReadFrom, by: DivideBy, cutsUrl: string | null): Promise<ShownSurvey> {
    const answer = await this.ask({ kind: 'survey', id: this.nextId++, from, by, cutsUrl });
    if (answer.kind !== 'surveyed') throw new Error('The page could not be read.');
    const { survey, levels, original } = answer;
    this.shown = null;
    this.changed = null;
    this.send({ kind: 'page', seq: ++this.seq, survey: asDrawn(survey), levels, original });
    return survey;
  }

  /** Measures the line art that was read last. */
  async describe(
    panels: readonly PagePanel[] | null,
    ruledSolids: readonly (readonly [number, number])[],
  ): Promise<{ facts: LineArtFacts; skew: Skew | null }> {
    const answer = await this.ask({ kind: 'describe', id: this.nextId++, panels, ruledSolids });
    if (answer.kind !== 'described') throw new Error('The line art could not be measured.');
    return answer;
  }

  /** Leaves measuring; who waits for it is told so by an abort. */
  stopDescribing(): void {
    this.computing.postMessage({ kind: 'stopDescribing', id: this.nextId++ } satisfies SurveyRequest);
  }

  /** Grey of the page at a point, 0..255. */
  async greyAt(x: number, y: number): Promise<number> {
    const answer = await this.ask({ kind: 'grey', id: this.nextId++, x, y });
    if (answer.kind !== 'greyFound') throw new Error('The grey could not be read.');
    return answer.grey;
  }

  async changesSince(url: string): Promise<readonly Change[]> {
    const answer = await this.ask({ kind: 'changes', id: this.nextId++, url });
    if (answer.kind !== 'changed') throw new Error('The changes could not be found.');
    return answer.changes;
  }

  /** Shows the file as it came on a second canvas; null takes it away. */
  compare(canvas: HTMLCanvasElement | null): void {
    const offscreen = canvas?.transferControlToOffscreen() ?? null;
    this.drawing.postMessage(
      { kind: 'compare', canvas: offscreen } satisfies DrawRequest,
      offscreen === null ? [] : [offscreen],
    );
  }

  /** Divides the page by other rulings and closures; nothing is shown before {@link showDivision}. */
  async divide(by: DivideBy): Promise<ShownSurvey> {
    const answer = await this.ask({ kind: 'divide', id: this.nextId++, by });
    if (answer.kind !== 'divided') throw new Error('The page could not be divided.');
    this.changed = joinBoxes(this.changed, answer.changed);
    return answer.survey;
  }

  showDivision(survey: ShownSurvey): void {
    this.shown = null;
    this.send({ kind: 'division', seq: ++this.seq, survey: asDrawn(survey), changed: this.changed });
    this.changed = null;
  }

  overlay(overlay: Overlay | null): number {
    this.send({ kind: 'overlay', seq: ++this.seq, overlay });
    return this.seq;
  }

  markDraft(mark: OverlayMark | null): void {
    this.send({ kind: 'markDraft', seq: ++this.seq, mark });
  }

  wayDraft(way: OverlayWay | null): void {
    this.send({ kind: 'wayDraft', seq: ++this.seq, way });
  }

  async trace(from: readonly [number, number], to: readonly [number, number]): Promise<LeakTrace | null> {
    const answer = await this.ask({ kind: 'trace', id: this.nextId++, from, to });
    return answer.kind === 'traced' ? answer.trace : null;
  }

  /** Lets colour run from a place, and shows it; null wipes it away. @returns where it gets to, null on ink. */
  async spread(at: readonly [number, number] | null): Promise<Spread | null> {
    const answer = at === null ? null : await this.ask({ kind: 'spread', id: this.nextId++, at });
    const spread = answer?.kind === 'spread' ? answer.spread : null;
    this.send({ kind: 'spread', seq: ++this.seq, spread });
    return spread;
  }

  /** The groups of cells that hang together when openings hold from a confidence on. */
  async contours(holdFrom: number): Promise<CellGroups> {
    const answer = await this.ask({ kind: 'contours', id: this.nextId++, holdFrom });
    if (answer.kind !== 'contoured') throw new Error('The contours could not be found.');
    return answer.groups;
  }

  /**
   * What stands inside the outer contour of what a loop goes round.
   *
   * @param mayTake 1 for regions that may be taken; null for all.
   */
  async silhouette(
    loop: readonly (readonly [number, number])[],
    share: number,
    holdFrom: number,
    mayTake: Uint8Array | null,
  ): Promise<Silhouette> {
    const answer = await this.ask({ kind: 'silhouette', id: this.nextId++, loop, share, holdFrom, mayTake });
    if (answer.kind !== 'silhouetted') throw new Error('The silhouette could not be found.');
    return answer;
  }

  /** What marks come to: the edits that turn them into fills. */
  async spreadMarks(
    document: Pick<PageDocument, 'marks' | 'fills' | 'rulings' | 'drawn'>,
    options: SpreadOptions,
    panel: readonly (readonly [number, number])[] | null,
    preview = false,
  ): Promise<readonly RecordEdit[]> {
    const { marks, fills, rulings, drawn } = document;
    const answer = await this.ask({
      kind: 'marks',
      id: this.nextId++,
      preview,
      document: { marks, fills, rulings, drawn },
      options,
      panel,
    });
    if (answer.kind !== 'marked') throw new Error('The marks could not be spread.');
    return answer.edits;
  }

  /**
   * Lays a colour key over the page, where it is said or where it fits best, and reads it.
   *
   * @param onStep share 0..1. @param onSeen is told what is known before all is.
   */
  async readKey(
    key: KeyRaster,
    place: KeyPlace | null,
    parts: readonly KeyPart[],
    onStep: (share: number) => void,
    onSeen: (seen: KeySeen) => void,
  ): Promise<KeySeen & { readonly splits: readonly KeySplit[] }> {
    this.keyStop = new Int32Array(new SharedArrayBuffer(4));
    const stop = this.keyStop.buffer;
    const answer = await this.ask(
      { kind: 'key', id: this.nextId++, key, place, parts, stop },
      (_, share) => onStep(share),
      onSeen,
    );
    if (answer.kind !== 'keyRead') throw new Error('The key could not be read.');
    return answer;
  }

  /** Leaves the key that is read; who waits for it is told so by an abort. */
  stopReadingKey(): void {
    Atomics.store(this.keyStop, 0, 1);
  }

  /** `[a, b, px]` of every two regions that touch. */
  async neighbours(): Promise<Int32Array> {
    const answer = await this.ask({ kind: 'neighbours', id: this.nextId++ });
    if (answer.kind !== 'neighbours') throw new Error('The neighbours could not be found.');
    return answer.pairs;
  }

  /** Parts for regions (panels as the flatter has them, or null to find them) by those of other pages, and by this page's own where these are given. */
  async proposeFromExamples(
    panels: readonly PagePanel[] | null,
    wanted: readonly number[],
    examples: readonly ExamplePage[],
    own: readonly (string | null)[] | null,
  ): Promise<readonly ExampleProposal[]> {
    const answer = await this.ask({ kind: 'examples', id: this.nextId++, panels, wanted, examples, own });
    if (answer.kind !== 'exampled') throw new Error('No parts could be proposed.');
    return answer.proposals;
  }

  async touching(): Promise<Int32Array> {
    const answer = await this.ask({ kind: 'touching', id: this.nextId++ });
    if (answer.kind !== 'touching') throw new Error('The neighbours could not be found.');
    return answer.pairs;
  }

  /** Shows every region in its colour; where few differ from what is shown, these alone are drawn anew. */
  paint(colours: Uint32Array, trapDepth2: number): void {
    const before = this.shown;
    this.shown = { colours: colours.slice(), trapDepth2 };
    if (before?.trapDepth2 === trapDepth2 && before.colours.length === colours.length) {
      const changed: number[] = [];
      for (let r = 0; r < colours.length && changed.length <= MOST_PATCHED; r++) {
        if (before.colours[r] !== colours[r]) changed.push(r);
      }
      if (changed.length <= MOST_PATCHED) {
        const words = Uint32Array.from(changed, (region) => colours[region]!);
        this.send({ kind: 'patch', seq: ++this.seq, regions: Int32Array.from(changed), colours: words });
        return;
      }
    }
    this.send({ kind: 'paint', seq: ++this.seq, colours, trapDepth2 });
  }

  corrections(raster: TileRaster | null): void {
    this.send({ kind: 'corrections', seq: ++this.seq, raster });
  }

  /** Shows squares of a stroke that is being drawn. */
  patchCorrections(raster: TileRaster): number {
    this.send({ kind: 'patchCorrections', seq: ++this.seq, raster });
    return this.seq;
  }

  patch(regions: Int32Array, colours: Uint32Array): number {
    if (this.shown !== null) regions.forEach((region, k) => (this.shown!.colours[region] = colours[k]!));
    this.send({ kind: 'patch', seq: ++this.seq, regions, colours });
    return this.seq;
  }

  /** Shows cells in other colours than their regions', in place of those before. */
  showCells(cells: ShownCells | null): number {
    this.send({ kind: 'cells', seq: ++this.seq, cells });
    return this.seq;
  }

  view(viewport: Viewport, options: ViewOptions): number {
    this.send({ kind: 'view', seq: ++this.seq, viewport, options });
    return this.seq;
  }

  point(hovered: number | null, preview: number | null, current: number | null): number {
    this.send({ kind: 'point', seq: ++this.seq, hovered: hovered ?? -1, preview, current: current ?? -1 });
    return this.seq;
  }

  loupe(at: readonly [number, number] | null): void {
    this.send({ kind: 'loupe', at });
  }

  crop(of: CropOf, width: number, height: number): Promise<Crop> {
    return new Promise((resolve) => {
      this.crops.push([{ kind: 'crop', of, width, height }, resolve]);
      if (this.crops.length === 1) this.sendNextCrop();
    });
  }

  /** One after the other, so that the page's own frames come in between. */
  private sendNextCrop(): void {
    const next = this.crops[0];
    if (next !== undefined) this.send(next[0]);
  }

  /** Resolves once the screen has what message `seq` changed; @returns since when, in ms since 1970. */
  whenPresented(seq: number): Promise<number> {
    return new Promise((resolve) => this.presented.set(seq, resolve));
  }

  /** The screen has everything up to message `seq`, since `at`. */
  private settlePresented(seq: number, at: number): void {
    for (const [wanted, resolve] of this.presented) {
      if (wanted > seq) continue;
      this.presented.delete(wanted);
      resolve(at);
    }
  }

  close(): void {
    this.computing.terminate();
    this.drawing.terminate();
    for (const { reject } of this.waiting.values()) reject(aborted());
    this.waiting.clear();
  }

  private send(request: DrawRequest): void {
    this.drawing.postMessage(request);
  }

  private ask(
    request: SurveyRequest,
    onStep = this.events.onStep,
    onSeen?: (seen: KeySeen) => void,
  ): Promise<SurveyAnswer> {
    return new Promise((resolve, reject) => {
      this.waiting.set(request.id, { resolve, reject, onStep, onSeen });
      this.computing.postMessage(request);
    });
  }

  private computed(message: SurveyAnswer): void {
    if (message.kind === 'step') {
      this.waiting.get(message.id)?.onStep(message.text, message.share);
      return;
    }
    if (message.kind === 'measuring') return this.events.onMeasuring(message);
    if (message.kind === 'keySeen') return this.waiting.get(message.id)?.onSeen?.(message);
    const waiting = this.waiting.get(message.id);
    this.waiting.delete(message.id);
    if (message.kind === 'failed') waiting?.reject(new Error(message.message));
    else if (message.kind === 'dropped') waiting?.reject(aborted());
    else waiting?.resolve(message);
  }
}

function aborted(): Error {
  return new DOMException('Cancelled', 'AbortError') as unknown as Error;
}

function asDrawn({ width, height, cellCount, regions, lineWidthPx }: ShownSurvey): DrawnSurvey {
  return { width, height, cellCount, regions, lineWidthPx };
}
