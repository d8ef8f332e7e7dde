import {
  applyEdits,
  describeLineArt,
  findChanges,
  greyAround,
  measureSkew,
  openSurvey,
  ownSolids,
  readInk,
  readPageDocument,
  resolveFills,
  type Change,
  type GreyRaster,
  type LineArtFacts,
  type OpenSurvey,
  type PagePanel,
  type RecordEdit,
  type Records,
  type Skew,
} from '@jumble/core';
import { createStore } from 'zustand/vanilla';
import type { Overlay } from '../engine/messages.ts';
import { INITIAL, type BenchState } from '../state/benchState.ts';
import type { Follow } from '../state/followOncePerFrame.ts';
import { LineArtDesk, type LineArtPorts, type LineArtState } from '../state/LineArtDesk.ts';
import { smallCast } from './fakeBench.ts';

/** A bench on the Line art stage without workers and server: the core reads the page at once. For tests. */
export class FakeDrawing implements LineArtPorts {
  readonly store = createStore<BenchState>(() => ({ ...INITIAL, cast: smallCast(), stage: 'lineart', phase: 'ready' }));
  readonly follow: Follow = (listener) => this.store.subscribe(listener);
  readonly pushed: { label: string; edits: readonly RecordEdit[] }[] = [];
  readonly overlays: Overlay[] = [];
  readonly failures: string[] = [];
  readonly boxes: (readonly number[])[] = [];
  readonly looking = {
    showBox: (box: readonly number[]): void => void this.boxes.push(box),
    hover: (): void => undefined,
  };
  readonly reading = {
    settleRevision: (): Promise<void> => {
      this.revisionsSettled++;
      return Promise.resolve();
    },
  };
  readonly lineArt: LineArtDesk = new LineArtDesk(this);
  revisionsSettled = 0;
  records: Records = new Map();
  private opened!: OpenSurvey;

  constructor(
    private readonly art: GreyRaster,
    private readonly before: GreyRaster | null = null,
  ) {
    this.store.setState({
      view: { x: 0, y: 0, scale: 1, width: art.width, height: art.height },
      page: {
        id: 'p',
        jobId: 'j',
        name: 'Page',
        dpi: 300,
        full: null,
        format: 'png',
        mode: 'grey',
        bitsPerChannel: 8,
        fileName: 'page.png',
        inks: [],
        greyHash: 'abcdef0123',
        previousGreyHash: before === null ? null : 'before',
        width: art.width,
        height: art.height,
      } as unknown as BenchState['page'],
    });
    this.read();
  }

  engine = {
    describe: (
      panels: readonly PagePanel[] | null,
      solids: readonly (readonly [number, number])[],
    ): Promise<{ facts: LineArtFacts; skew: Skew | null }> =>
      Promise.resolve({
        facts: describeLineArt(this.opened, panels, solids),
        skew: measureSkew(this.opened.base.grey, 128),
      }),
    stopDescribing: (): void => undefined,
    overlay: (overlay: Overlay | null): number => (overlay === null ? 0 : this.overlays.push(overlay)),
    greyAt: (x: number, y: number): Promise<number> => Promise.resolve(greyAround(this.opened.base.grey, x, y)),
    changesSince: (): Promise<readonly Change[]> => {
      const { survey } = this.opened;
      const prep = this.state.document!.prep;
      const ink = readInk(this.before!, prep, [], true, (bytes) => new ArrayBuffer(bytes)).printed;
      return Promise.resolve(findChanges(ink, survey.inkAlpha, survey.width, survey.height, survey.lineWidthPx.median));
    },
  };

  get state(): BenchState {
    return this.store.getState();
  }

  showLineArt(part: Partial<LineArtState>): void {
    this.store.setState(part);
  }

  push(step: { label: string; edits: readonly RecordEdit[] }): void {
    this.pushed.push(step);
    this.take(step.edits);
  }

  /** What an undo does: edits that no gesture here made. */
  take(edits: readonly RecordEdit[]): void {
    this.records = applyEdits(this.records, edits).records;
    this.read();
    this.lineArt.list();
  }

  fail(error: Error): void {
    this.failures.push(error.message);
  }

  set(part: Partial<BenchState>): void {
    this.store.setState(part);
  }

  hover(): void {
    // Nothing is drawn here.
  }

  private read(): void {
    const page = readPageDocument(this.records);
    this.opened = openSurvey(this.art, page.prep, { solids: ownSolids(page) });
    const { survey } = this.opened;
    this.store.setState({ document: page, survey, resolved: resolveFills(survey, page.fills, (part) => part) });
  }
}

/** A framed page with a caption, a solid black and dust, as a scanner sees it: on grey paper. For tests. */
export function scannedPage(slope = 0): GreyRaster {
  const [width, height] = [420, 320];
  const data = new Uint8Array(width * height).fill(214);
  const dab = (x: number, y: number): void => {
    const [px, py] = [Math.round(x - (y - 160) * slope), Math.round(y + (x - 210) * slope)];
    if (px >= 0 && py >= 0 && px < width && py < height) data[py * width + px] = 20;
  };
  const bar = (x0: number, y0: number, x1: number, y1: number): void => {
    for (let y = y0; y < y1; y += 0.5) for (let x = x0; x < x1; x += 0.5) dab(x, y);
  };
  bar(30, 30, 390, 34);
  bar(30, 286, 390, 290);
  bar(30, 30, 34, 290);
  bar(386, 30, 390, 290);
  bar(60, 60, 220, 64);
  bar(60, 110, 220, 114);
  bar(60, 60, 64, 114);
  bar(216, 60, 220, 114);
  // E L H T E L in the caption.
  for (let k = 0; k < 6; k++) {
    const x = 80 + k * 18;
    bar(x, 78, x + 3, 94);
    if (k % 4 < 2) bar(x, 91, x + 10, 94);
    if (k % 4 === 0) bar(x, 78, x + 10, 81);
    if (k % 4 === 2) bar(x + 9, 78, x + 12, 94);
    if (k % 4 === 2) bar(x, 85, x + 12, 88);
    if (k % 4 === 3) bar(x - 4, 78, x + 7, 81);
  }
  bar(260, 160, 350, 240);
  for (const [x, y] of [
    [300, 60],
    [120, 200],
    [180, 250],
  ] as const)
    dab(x, y);
  return { width, height, data };
}
