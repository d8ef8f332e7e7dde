import { proxy } from 'comlink';
import {
  joinBoxes,
  type Finding,
  type HoldPaint,
  sameTrap,
  type CellGroups,
  type Change,
  type ExamplePage,
  type ExampleProposal,
  type GuidePart,
  type GuidePlace,
  type GuideRaster,
  type LeakTrace,
  type LineArtFacts,
  type MeasuringStep,
  type PageDocument,
  type PagePanel,
  type PixelBox,
  type RecordEdit,
  type Silhouette,
  type Skew,
  type Flood,
  type SpreadOptions,
  type RegionTrap,
  type TileRaster,
  type TrapFault,
  type TrapInk,
  type Viewport,
} from '@jumble/core';
import { aborted } from './abort.ts';
import type { Computing } from './Computing.ts';
import { LOUPE_PX } from './drawLoupe.ts';
import type {
  CropOf,
  DivideBy,
  DrawAnswer,
  DrawnSurvey,
  DrawRequest,
  GuideRead,
  GuideSeen,
  CheckBy,
  HoldsBy,
  Overlay,
  OverlayMark,
  OverlayWay,
  ReadFrom,
  ShownCells,
  ShownHolds,
  ShownSurvey,
  ViewOptions,
} from './messages.ts';

/** What an engine runs on: who computes, and who draws. */
export interface EngineParts {
  readonly computing: Computing;
  /** Where the computing runs: when it breaks, nothing that was asked for is answered any more. */
  readonly computer: Pick<Worker, 'onerror' | 'terminate'>;
  readonly drawing: Pick<Worker, 'onmessage' | 'postMessage' | 'terminate'>;
}

export interface Crop {
  readonly pixels: ArrayBuffer;
  readonly width: number;
  readonly height: number;
}

/** More regions than this are all painted anew. */
const MOST_PATCHED = 300;

/** The page's two workers: one computes and is called, one draws and is told; the rasters are shared between them and us. */
export class Engine {
  private readonly computing: Computing;
  private readonly drawing: EngineParts['drawing'];
  /** Who waits for the computing worker: told when it stops. */
  private readonly waiting = new Set<(error: Error) => void>();
  /** Set to end the reading of a key. */
  private guideStop = new Int32Array(new SharedArrayBuffer(4));
  private readonly presented = new Map<number, (at: number) => void>();
  /** Crops that were asked for; the first one is under way. */
  private readonly crops: [request: DrawRequest, resolve: (crop: Crop) => void][] = [];
  /** The paper that has other cells than what is shown. */
  private changed: PixelBox | null = null;
  /** What the drawing worker shows the regions in. */
  private shown: { readonly colours: Uint32Array; readonly trap: RegionTrap } | null = null;
  private seq = 0;

  constructor(private readonly parts: EngineParts) {
    this.computing = parts.computing;
    this.drawing = parts.drawing;
    parts.computer.onerror = (event: { readonly message?: string }) =>
      this.dropWaiting(new Error(event.message || 'The computing worker stopped.'));
    parts.drawing.onmessage = (event: MessageEvent<DrawAnswer>) => {
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

  // --- computing -----------------------------------------------------------------------------

  /**
   * Reads a page; rejects when it fails, or with an abort when the page is left.
   *
   * @param cutsUrl of gaps that were found before by this very reading; null: they are found now.
   */
  async survey(
    from: ReadFrom,
    by: DivideBy,
    cutsUrl: string | null,
    onStep: (text: string, share: number) => void,
  ): Promise<ShownSurvey> {
    const read = await this.ask((told) => this.computing.read(from, by, cutsUrl, told(onStep)));
    const { survey, levels, original } = read;
    this.shown = null;
    this.changed = null;
    this.send({ kind: 'page', seq: ++this.seq, survey: asDrawn(survey), levels, original });
    return survey;
  }

  /** Measures the line art that was read last; rejects with an abort once it is left. */
  describe(
    panels: readonly PagePanel[] | null,
    ruledSolids: readonly (readonly [number, number])[],
    onStep: (step: MeasuringStep) => void,
  ): Promise<{ readonly facts: LineArtFacts; readonly skew: Skew | null }> {
    return this.ask((told) => this.computing.describe(panels, ruledSolids, told(onStep)));
  }

  /** Leaves measuring. */
  stopDescribing(): void {
    void this.ask(() => this.computing.stopDescribing()).catch(() => undefined);
  }

  /** Grey of the page at a point, 0..255. */
  greyAt(x: number, y: number): Promise<number> {
    return this.ask(() => this.computing.greyAt(x, y));
  }

  /** What differs from the raster before a revision. */
  changesSince(url: string): Promise<readonly Change[]> {
    return this.ask(() => this.computing.changesSince(url));
  }

  /** Divides the page by other rulings and closures; nothing is shown before {@link showDivision}. */
  async divide(by: DivideBy): Promise<ShownSurvey> {
    const { survey, changed } = await this.ask(() => this.computing.divide(by));
    this.changed = joinBoxes(this.changed, changed);
    return survey;
  }

  /** The widest way from one place to another; null where there is none. */
  trace(from: readonly [number, number], to: readonly [number, number]): Promise<LeakTrace | null> {
    return this.ask(() => this.computing.trace(from, to));
  }

  /** Lets colour run from a place, and shows it; null wipes it away. @returns where it gets to, null on ink. */
  async flood(at: readonly [number, number] | null): Promise<Flood | null> {
    const flood = at === null ? null : await this.ask(() => this.computing.flood(at));
    this.send({ kind: 'flood', seq: ++this.seq, flood });
    return flood;
  }

  /** What of the ink a trap asks for. */
  findTrapInk(of: Pick<RegionTrap, 'pinholePx2' | 'solidDepthPx'>): Promise<TrapInk> {
    return this.ask(() => this.computing.findTrapInk(of));
  }

  /** Where fixed depths leave a halo or are cut short. @param partOfRegion part number of each region, -1 for none. */
  findTrapFaults(partOfRegion: Int32Array, trap: RegionTrap, ink: TrapInk): Promise<readonly TrapFault[]> {
    return this.ask(() => this.computing.findTrapFaults(partOfRegion, trap, ink));
  }

  /** The width of the widest line, solid blacks left out, in px. */
  widestLine(): Promise<number> {
    return this.ask(() => this.computing.widestLine());
  }

  /** Divides the ink into lines where that is not done, and colours them. */
  colourLines(by: HoldsBy): Promise<ShownHolds> {
    return this.ask(() => this.computing.colourLines(by));
  }

  /** Pieces of line with most of their ink inside an outline. */
  linesWithin(points: readonly (readonly [number, number])[]): Promise<readonly number[]> {
    return this.ask(() => this.computing.linesWithin(points));
  }

  /** What is wrong with the page as it is now. */
  checkPage(by: CheckBy): Promise<readonly Finding[]> {
    return this.ask(() => this.computing.checkPage(by));
  }

  /** The groups of cells that hang together when openings hold from a confidence on. */
  contours(holdFrom: number): Promise<CellGroups> {
    return this.ask(() => this.computing.contours(holdFrom));
  }

  /**
   * What stands inside the outer contour of what a loop goes round.
   *
   * @param mayTake 1 for regions that may be taken; null for all.
   */
  silhouette(
    loop: readonly (readonly [number, number])[],
    share: number,
    holdFrom: number,
    mayTake: Uint8Array | null,
  ): Promise<Silhouette> {
    return this.ask(() => this.computing.silhouette(loop, share, holdFrom, mayTake));
  }

  /** What marks come to: the edits that turn them into fills. */
  spreadMarks(
    document: Pick<PageDocument, 'marks' | 'fills' | 'rulings' | 'drawn'>,
    options: SpreadOptions,
    panel: readonly (readonly [number, number])[] | null,
    preview = false,
  ): Promise<readonly RecordEdit[]> {
    const { marks, fills, rulings, drawn } = document;
    return this.ask(() => this.computing.spreadMarks({ marks, fills, rulings, drawn }, options, panel, preview));
  }

  /**
   * Lays a colour key over the page, where it is said or where it fits best, and reads it; rejects with an abort once
   * it is left.
   *
   * @param onStep share 0..1. @param onSeen is told what is known before all is.
   */
  readGuide(
    guide: GuideRaster,
    place: GuidePlace | null,
    parts: readonly GuidePart[],
    onStep: (share: number) => void,
    onSeen: (seen: GuideSeen) => void,
  ): Promise<GuideRead> {
    const stop = (this.guideStop = new Int32Array(new SharedArrayBuffer(4)));
    return this.ask((told) => this.computing.readGuide(guide, place, parts, stop, told(onStep), told(onSeen)));
  }

  /** Leaves the key that is read. */
  stopReadingGuide(): void {
    Atomics.store(this.guideStop, 0, 1);
  }

  /** `[a, b, px]` of every two regions that touch. */
  neighbours(): Promise<Int32Array> {
    return this.ask(() => this.computing.neighbours());
  }

  /** Parts for regions (panels as the flatter has them, or null to find them) by those of other pages, and by this page's own where these are given. */
  proposeFromExamples(
    panels: readonly PagePanel[] | null,
    wanted: readonly number[],
    examples: readonly ExamplePage[],
    own: readonly (string | null)[] | null,
  ): Promise<readonly ExampleProposal[]> {
    return this.ask(() => this.computing.proposeFromExamples(panels, wanted, examples, own));
  }

  /** `[a, b]` of every two regions that touch. */
  touching(): Promise<Int32Array> {
    return this.ask(() => this.computing.touching());
  }

  /**
   * Waits for an answer of the computing worker, or for its end.
   *
   * @param question gets `told`, which makes a callback one that is called from the worker. It is not called any more
   * once the answer is there: it comes another way, and may come later.
   */
  private ask<T>(
    question: (
      told: <Args extends unknown[]>(callback: (...args: Args) => void) => (...args: Args) => void,
    ) => Promise<T>,
  ): Promise<T> {
    let isAnswered = false;
    return new Promise<T>((resolve, reject) => {
      this.waiting.add(reject);
      const answered = (): void => {
        isAnswered = true;
        this.waiting.delete(reject);
      };
      question((callback) => proxy((...args) => (isAnswered ? undefined : callback(...args)))).then(
        (answer) => (answered(), resolve(answer)),
        (error: unknown) => (answered(), reject(error instanceof Error ? error : new Error(String(error)))),
      );
    });
  }

  private dropWaiting(error: Error): void {
    for (const reject of this.waiting) reject(error);
    this.waiting.clear();
  }

  // --- drawing -------------------------------------------------------------------------------

  /** Shows the file as it came on a second canvas; null takes it away. */
  compare(canvas: HTMLCanvasElement | null): void {
    const offscreen = canvas?.transferControlToOffscreen() ?? null;
    this.drawing.postMessage(
      { kind: 'compare', canvas: offscreen } satisfies DrawRequest,
      offscreen === null ? [] : [offscreen],
    );
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

  /** Shows every region in its colour; where few differ from what is shown, these alone are drawn anew. */
  paint(colours: Uint32Array, trap: RegionTrap): void {
    const before = this.shown;
    this.shown = { colours: colours.slice(), trap };
    if (before !== null && before.colours.length === colours.length && sameTrap(before.trap, trap)) {
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
    this.send({ kind: 'paint', seq: ++this.seq, colours, trap });
  }

  /** Shows the colours that are on show under another trap. */
  paintUnder(trap: RegionTrap): void {
    if (this.shown !== null) this.paint(this.shown.colours, trap);
  }

  /** Shows what trap needs to know of the ink. */
  showTrapInk(ink: TrapInk): void {
    this.send({ kind: 'trapInk', seq: ++this.seq, ink });
  }

  /** Shows lines in their colours; null for black. */
  showHolds(paint: HoldPaint | null): void {
    this.send({ kind: 'holds', seq: ++this.seq, paint });
  }

  /** Shows squares of lines that are being painted on. */
  patchHolds(raster: TileRaster): void {
    this.send({ kind: 'patchHolds', seq: ++this.seq, raster });
  }

  /** The trap that the loupe shows beside the page's; null for none. */
  compareTrap(compared: { readonly trap: RegionTrap; readonly words: string } | null): void {
    this.send({ kind: 'compareTrap', compared });
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

  /** @param compares shows another trap beside it. */
  loupe(at: readonly [number, number] | null, compares: boolean): void {
    this.send({ kind: 'loupe', at, compares });
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
    this.parts.computer.terminate();
    this.drawing.terminate();
    this.dropWaiting(aborted());
  }

  private send(request: DrawRequest): void {
    this.drawing.postMessage(request);
  }
}

function asDrawn({ width, height, cellCount, regions, lineWidthPx }: ShownSurvey): DrawnSurvey {
  return { width, height, cellCount, regions, lineWidthPx };
}
