import { afterEach } from '@jest/globals';
import type { PageView } from '@jumble/contracts';
import { applyEdits, editPrep, type GreyRaster, type Prep, type RecordEdit, type TileRaster } from '@jumble/core';
import type { Computing } from '../engine/Computing.ts';
import { Engine } from '../engine/Engine.ts';
import type { DrawRequest, Overlay, OverlayMark, OverlayWay } from '../engine/messages.ts';
import { PageComputer } from '../engine/PageComputer.ts';
import { followDocument, openPage } from '../page/openBench.ts';
import { setStage } from '../page/show.ts';
import { checkHooks } from '../stages/check/checkHooks.ts';
import { flatsHooks } from '../stages/flats/flatsHooks.ts';
import { gapsHooks } from '../stages/gaps/gapsHooks.ts';
import { holdsHooks } from '../stages/holds/holdsHooks.ts';
import { lineArtHooks } from '../stages/lineart/lineArtHooks.ts';
import { trapHooks } from '../stages/trap/trapHooks.ts';
import { Bench } from '../state/Bench.ts';
import type { StageName } from '../state/benchState.ts';
import type { Follow } from '../state/followOncePerFrame.ts';
import type { PendingStep } from '../state/SyncQueue.ts';
import { FakeServer } from './FakeServer.ts';
import { promisesSettled } from './promisesSettled.ts';
import { smallCast } from './testPages.ts';

// Most tests need no simulated browser, in which everything is computed several times slower.
globalThis.requestAnimationFrame ??= (draw) => Number(setTimeout(() => draw(performance.now())));
globalThis.cancelAnimationFrame ??= (frame) => clearTimeout(frame);

/** A page computer in the same thread, asked as if it were in a worker. */
export function computeHere(): Computing {
  const computer = new PageComputer((bytes) => new ArrayBuffer(bytes));
  return new Proxy(computer, {
    get:
      (target, name) =>
      async (...args: unknown[]): Promise<unknown> => {
        // The question is on its way while who asked goes on.
        await null;
        return (target[name as keyof PageComputer] as (...all: unknown[]) => unknown).apply(target, args);
      },
  }) as unknown as Computing;
}

/** A drawing worker that keeps what it is told and draws nothing. */
export class FakeDrawing {
  readonly told: DrawRequest[] = [];
  onmessage: Worker['onmessage'] = null;

  postMessage(request: DrawRequest): void {
    this.told.push(request);
  }

  terminate(): void {
    this.onmessage = null;
  }

  /** Everything of one kind, oldest first. */
  all<K extends DrawRequest['kind']>(kind: K): Extract<DrawRequest, { kind: K }>[] {
    return this.told.filter((one): one is Extract<DrawRequest, { kind: K }> => one.kind === kind);
  }
}

/** The real bench and engine, computed in this thread, with a server and a drawing that keep what they are told. For tests. */
export class TestBench extends Bench {
  readonly pushed: PendingStep[] = [];
  readonly castChanges: PendingStep[] = [];
  readonly failures: string[];
  readonly drawing: FakeDrawing;
  readonly server: FakeServer;
  /** Regions as they were previewed, with their part. */
  readonly previewed: [region: number, part: string | null][] = [];
  /** Told of each change at once, so that a test need not wait for frames. */
  override readonly follow: Follow = (listener) => this.store.subscribe(listener);

  constructor(server: FakeServer) {
    const failures: string[] = [];
    const drawing = new FakeDrawing();
    const computer = { onerror: null, terminate: () => undefined };
    const engine = new Engine({ computing: computeHere(), computer, drawing });
    super('p', {
      engine,
      // Without what they show: that takes seconds to load.
      stages: [lineArtHooks, gapsHooks, flatsHooks, trapHooks, holdsHooks, checkHooks],
      onDocument: followDocument,
      onProblem: (error) => failures.push(error.message),
    });
    this.failures = failures;
    this.drawing = drawing;
    this.server = server;
    const patch = engine.patch.bind(engine);
    engine.patch = (regions, colours) => {
      regions.forEach((region, k) => this.previewed.push([region, this.partOfWord(colours[k]!)]));
      return patch(regions, colours);
    };
  }

  override push(step: PendingStep): void {
    this.pushed.push(step);
    super.push(step);
  }

  override changeCast(label: string, edits: readonly RecordEdit[]): void {
    this.castChanges.push({ label, edits });
    super.changeCast(label, edits);
  }

  /** Takes steps of the page that no gesture here made: another tab's. */
  async take(edits: readonly RecordEdit[]): Promise<void> {
    await this.settled();
    this.syncOf('page')!.accept(this.server.append('page', 'Elsewhere', edits));
  }

  get overlays(): (Overlay | null)[] {
    return this.drawing.all('overlay').map((one) => one.overlay);
  }

  /** The mark being drawn, as it was shown. */
  get drafts(): (OverlayMark | null)[] {
    return this.drawing.all('markDraft').map((one) => one.mark);
  }

  /** The loop or cut being drawn, as it was shown. */
  get ways(): (OverlayWay | null)[] {
    return this.drawing.all('wayDraft').map((one) => one.way);
  }

  /** Cells as they were previewed; null where none were any more. */
  get cells(): (Int32Array | null)[] {
    return this.drawing.all('cells').map((one) => one.cells?.cells ?? null);
  }

  /** What of the page is painted over, as it is shown. */
  get painted(): TileRaster | null {
    return this.drawing.told.reduce<TileRaster | null>((shown, one) => {
      if (one.kind === 'corrections') return one.raster;
      if (one.kind !== 'patchCorrections') return shown;
      return { ...one.raster, tiles: new Map([...(shown?.tiles ?? []), ...one.raster.tiles]) };
    }, null);
  }

  private partOfWord(word: number): string | null {
    const { cast } = this.state;
    const hex = [word, word >>> 8, word >>> 16].map((byte) => (byte & 255).toString(16).padStart(2, '0')).join('');
    const [scene] = cast!.scenes;
    if (word === 0) return cast!.parts.find((part) => part.empty)!.id;
    return [...(cast!.colours.get(scene!.id) ?? [])].find(([, colour]) => colour === `#${hex}`)?.[0] ?? null;
  }
}

/** Waits until the page is read and measured as its document says. */
export async function whenMeasured(bench: TestBench): Promise<void> {
  do await promisesSettled();
  while (bench.state.phase !== 'ready' || bench.state.facts === null || bench.state.measuring !== null);
}

/** What a test opened goes with it. */
const open: TestBench[] = [];
afterEach(() => open.splice(0).forEach((bench) => bench.close()));

export interface TestPage {
  readonly stage?: StageName;
  readonly partId?: string;
  readonly prep?: Prep;
  /** The line art before it was revised. */
  readonly before?: GreyRaster;
  /** Whether the line art is measured once the page is read. @default false */
  readonly measures?: boolean;
}

/** Opens a page on the bench. */
export async function openTestBench(art: GreyRaster, options: TestPage = {}): Promise<TestBench> {
  const { stage = 'gaps', partId, prep, before, measures = false } = options;
  const page = {
    id: 'p',
    jobId: 'j',
    name: 'Page',
    dpi: 300,
    full: null,
    fullGreyHash: null,
    format: 'png',
    mode: 'grey',
    bitsPerChannel: 8,
    fileName: 'page.png',
    inks: [],
    cuts: null,
    greyHash: 'abcdef0123',
    previousGreyHash: before === undefined ? null : 'before',
    width: art.width,
    height: art.height,
  } as unknown as PageView;
  const records = applyEdits(new Map(), prep === undefined ? [] : [editPrep(prep)]).records;
  const server = new FakeServer(page, { page: records, cast: smallCast() });
  server.files.set('/api/pages/p/grey/abcdef0123', art.data);
  if (before !== undefined) server.files.set('/api/pages/p/grey/before', before.data);
  const bench = new TestBench(server);
  open.push(bench);
  const { describe } = bench.engine;
  // What is measured would come at any time.
  if (!measures) bench.engine.describe = () => new Promise(() => undefined);
  await openPage(bench);
  bench.engine.describe = describe;
  bench.set({ view: { x: 0, y: 0, scale: 1, width: art.width, height: art.height } });
  setStage(bench, stage);
  if (partId !== undefined) bench.set({ partId });
  if (measures) await whenMeasured(bench);
  return bench;
}
