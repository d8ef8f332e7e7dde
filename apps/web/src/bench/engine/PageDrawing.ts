import { compose, PAPER_WORD, type CellPaint, type PyramidLevel, type Flood, type Viewport } from '@jumble/core';
import { draftRects } from './draftRects.ts';
import { drawLoupe, drawTwoTraps } from './drawLoupe.ts';
import { drawOriginal } from './drawOriginal.ts';
import { drawMark, drawOverlay, drawWay } from './drawOverlay.ts';
import { drawFlood } from './drawFlood.ts';
import type {
  CropOf,
  DrawAnswer,
  DrawnSurvey,
  DrawRequest,
  Overlay,
  OverlayMark,
  OverlayWay,
  ViewOptions,
} from './messages.ts';
import { DirtyRects, Picture, shiftBetween, type Rect } from './Picture.ts';
import { RegionPaint } from './RegionPaint.ts';

/** Little-endian RGBA words of the outlines: the accent for the pointer, a darker one for the worklist. */
const HOVER_OUTLINE = 0xff685d2f;
const CURRENT_OUTLINE = 0xff2d4fd0;
/** A zoom goes on while its steps come closer together than this. */
const STILL_MS = 120;
/** What a whole picture may take while a zoom goes on. */
const ROOM_MS = 14;

/** What the drawing runs on. */
export interface DrawingParts {
  readonly answer: (message: DrawAnswer, transfer?: Transferable[]) => void;
  readonly requestFrame: (draw: () => void) => void;
}

/** Draws the page, what lies over it, the loupe and small pictures; it is told what changed, and draws that with the next frame. */
export class PageDrawing {
  private canvas: OffscreenCanvas | null = null;
  private context: OffscreenCanvasRenderingContext2D | null = null;
  private loupe: OffscreenCanvasRenderingContext2D | null = null;
  private loupeCompares = false;
  private loupeAt: readonly [number, number] | null = null;
  private compared: Extract<DrawRequest, { kind: 'compareTrap' }>['compared'] = null;
  private beside: OffscreenCanvasRenderingContext2D | null = null;
  private original: Uint8Array | null = null;
  private survey: DrawnSurvey | null = null;
  private levels: readonly PyramidLevel[] = [];
  private viewport: Viewport | null = null;
  /** The view that the picture shows. */
  private drawn: Viewport | null = null;
  private options: ViewOptions = { markMissing: true, showInk: true, showFlats: true, paper: PAPER_WORD };
  private overlay: Overlay | null = null;
  private markDraft: OverlayMark | null = null;
  private wayDraft: OverlayWay | null = null;
  private flood: Flood | null = null;
  private floodFromMs = 0;
  private seq = 0;
  private scheduled = false;
  private picture = new Picture(1, 1);
  private scratch = new Uint32Array(0);
  /** The whole picture is to be composed anew. */
  private whole = true;
  /** What lies over the picture is to be drawn anew. */
  private wholeOver = true;
  /** In page px: what is to be composed anew, and where only what lies over it changed. */
  private readonly dirty = new DirtyRects();
  private readonly dirtyOver = new DirtyRects();
  private readonly regions = new RegionPaint({
    rect: (rect) => this.dirty.add(rect),
    whole: () => (this.whole = true),
  });
  private zoomedAt = -Infinity;
  private wholeMs = 0;
  private sharpen: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly parts: DrawingParts) {}

  take(request: DrawRequest): void {
    if ('seq' in request) this.seq = request.seq;
    switch (request.kind) {
      case 'canvas':
        this.canvas = request.canvas;
        this.context = this.canvas.getContext('2d', { alpha: false });
        this.loupe = request.loupe.getContext('2d');
        break;
      case 'page':
        this.original = request.original;
        this.levels = request.levels;
        this.survey = request.survey;
        this.flood = null;
        this.regions.takePage(request.survey);
        break;
      case 'compare':
        this.beside = request.canvas?.getContext('2d', { alpha: false }) ?? null;
        break;
      case 'division':
        this.survey = request.survey;
        this.flood = null;
        this.regions.takeDivision(request.survey, request.changed);
        // Without the ink it shows how far colour runs into solid blacks, which may be farther than what is touched.
        this.whole ||= !this.options.showInk;
        this.wholeOver = true;
        break;
      case 'overlay':
        this.wholeOver ||= this.overlay !== null || request.overlay !== null;
        this.overlay = request.overlay;
        break;
      case 'markDraft':
        this.touchDraft(this.markDraft, request.mark);
        this.markDraft = request.mark;
        break;
      case 'wayDraft':
        this.touchDraft(this.wayDraft, request.way);
        this.wayDraft = request.way;
        break;
      case 'flood':
        this.flood = request.flood;
        this.floodFromMs = performance.now();
        this.wholeOver = true;
        break;
      case 'paint':
        this.regions.takeColours(request.colours, request.trap);
        break;
      case 'trapInk':
        this.regions.takeTrapInk(request.ink);
        break;
      case 'holds':
        this.regions.takeHolds(request.paint);
        break;
      case 'compareTrap':
        this.compared = request.compared;
        break;
      case 'patchHolds':
        this.regions.patchHolds(request.raster);
        break;
      case 'corrections':
        this.regions.takeCorrections(request.raster);
        break;
      case 'patchCorrections':
        this.regions.patchCorrections(request.raster);
        break;
      case 'patch':
        this.regions.patch(request.regions, request.colours);
        break;
      case 'cells':
        this.regions.takeCells(request.cells);
        break;
      case 'view':
        this.whole ||= !sameOptions(this.options, request.options);
        this.viewport = request.viewport;
        this.options = request.options;
        break;
      case 'point':
        this.regions.point(request);
        break;
      case 'loupe':
        this.loupeAt = request.at;
        this.loupeCompares = request.compares;
        break;
      case 'crop':
        this.sendCrop(request.of, request.width, request.height);
        return;
    }
    this.schedule();
  }

  private touchDraft(before: OverlayMark | OverlayWay | null, next: OverlayMark | OverlayWay | null): void {
    const rects = this.viewport === null ? null : draftRects(before, next, this.viewport.scale);
    if (rects === null) this.wholeOver ||= next !== null || before !== null;
    else for (const rect of rects) this.dirtyOver.add(rect);
  }

  private schedule(): void {
    if (this.scheduled) return;
    this.scheduled = true;
    this.parts.requestFrame(() => this.draw());
  }

  private draw(): void {
    this.scheduled = false;
    const { canvas, viewport: view } = this;
    const paint = this.regions.now;
    if (canvas === null || this.context === null || view === null || paint === null) return;
    const started = performance.now();
    if (this.picture.width !== view.width || this.picture.height !== view.height) {
      canvas.width = view.width;
      canvas.height = view.height;
      this.picture = new Picture(view.width, view.height);
      this.whole = true;
    }
    const composeArea = (area: Viewport): Uint32Array<ArrayBuffer> => this.composeArea(area, paint, true);
    const { picture } = this;
    const shift = this.drawn === null ? null : shiftBetween(this.drawn, view);
    const changed = this.dirty.take().flatMap((rect) => this.inPicture(rect, view) ?? []);
    const zoomsOn = shift === null && this.drawn !== null && started - this.zoomedAt < STILL_MS;
    if (zoomsOn && !this.whole && this.wholeMs > ROOM_MS) {
      picture.composeCoarsely(view, composeArea);
      this.sharpenLater();
    } else if (this.whole || shift === null) {
      picture.compose(picture.all, view, composeArea);
      this.wholeMs = performance.now() - started;
    } else {
      const [dx, dy] = shift;
      if (dx !== 0 || dy !== 0) picture.shift(dx, dy, view, composeArea);
      for (const rect of changed) picture.compose(rect, view, composeArea);
    }
    const moved = shift === null || shift[0] !== 0 || shift[1] !== 0;
    const changedOver = this.dirtyOver.take().flatMap((rect) => this.inPicture(rect, view) ?? []);
    const isAll = this.whole || moved || this.wholeOver;
    const runsOn = this.present(this.context, view, isAll ? [picture.all] : [...changed, ...changedOver]);
    if (shift === null) this.zoomedAt = started;
    if (this.beside !== null && this.survey !== null && this.original !== null)
      drawOriginal(this.beside, this.original, this.survey.width, this.survey.height, view);
    this.drawn = view;
    this.whole = false;
    // Running colour lies over everything, which is put anew under it every time.
    this.wholeOver = this.flood !== null;
    if (this.loupe !== null && this.loupeAt !== null) this.drawLoupe(this.loupe, this.loupeAt, paint);
    const drawnSeq = this.seq;
    this.parts.requestFrame(() =>
      this.parts.answer({ kind: 'presented', seq: drawnSeq, at: performance.timeOrigin + performance.now() }),
    );
    if (runsOn) this.schedule();
  }

  private drawLoupe(loupe: OffscreenCanvasRenderingContext2D, at: readonly [number, number], paint: CellPaint): void {
    const other = this.compared === null || !this.loupeCompares ? null : this.regions.under(this.compared.trap);
    if (other === null) drawLoupe(loupe, at, this.levels, paint);
    else drawTwoTraps(loupe, at, this.levels, paint, other, this.compared!.words);
  }

  /** The picture's px that a rectangle of the page lies in. */
  private inPicture({ x, y, width, height }: Rect, view: Viewport): Rect | null {
    const left = Math.floor((x - view.x) * view.scale) - 3;
    const top = Math.floor((y - view.y) * view.scale) - 3;
    const right = Math.ceil((x + width - view.x) * view.scale) + 3;
    const bottom = Math.ceil((y + height - view.y) * view.scale) + 3;
    return this.picture.clip({ x: left, y: top, width: right - left, height: bottom - top });
  }

  /** Puts parts of the picture on the canvas, with what lies over them. @returns whether colour still runs. */
  private present(context: OffscreenCanvasRenderingContext2D, view: Viewport, rects: readonly Rect[]): boolean {
    const { overlay, markDraft, wayDraft, flood } = this;
    for (const rect of rects) {
      this.picture.put(context, rect);
      if (overlay === null && markDraft === null && wayDraft === null) continue;
      context.save();
      context.beginPath();
      context.rect(rect.x, rect.y, rect.width, rect.height);
      context.clip();
      if (overlay !== null) drawOverlay(context, overlay, view);
      if (markDraft !== null) drawMark(context, markDraft, view);
      if (wayDraft !== null && wayDraft.points.length > 1) drawWay(context, wayDraft, view);
      context.restore();
    }
    return flood !== null && drawFlood(context, flood, view, performance.now() - this.floodFromMs);
  }

  /** While a zoom goes on the picture is coarse; the sharp one follows when it rests. */
  private sharpenLater(): void {
    clearTimeout(this.sharpen);
    this.sharpen = setTimeout(() => {
      this.whole = true;
      this.schedule();
    }, STILL_MS);
  }

  /** RGBA words of an area; the next call overwrites them. */
  private composeArea(area: Viewport, paint: CellPaint, outlines: boolean): Uint32Array<ArrayBuffer> {
    const size = area.width * area.height;
    if (this.scratch.length < size) this.scratch = new Uint32Array(size);
    compose(this.levels, paint, area, this.scratch, {
      ...this.options,
      tileOrigin: [Math.round(area.x * area.scale), Math.round(area.y * area.scale)],
      ...(outlines ? { hoverOutline: HOVER_OUTLINE, currentOutline: CURRENT_OUTLINE } : {}),
    });
    return this.scratch;
  }

  /** A small picture of a region and what is around it, or of a place, for its row in the worklist. */
  private sendCrop(of: CropOf, width: number, height: number): void {
    const paint = 'region' in of ? this.regions.meaning(of.region) : this.regions.now;
    const pixels =
      paint === null
        ? new ArrayBuffer(width * height * 4)
        : this.composeArea(this.areaOf(of, width, height), paint, 'region' in of).slice(0, width * height).buffer;
    this.parts.answer({ kind: 'crop', pixels, width, height }, [pixels]);
  }

  private areaOf(of: CropOf, width: number, height: number): Viewport {
    if (!('region' in of)) {
      const scale = width / of.span;
      return { x: of.x - of.span / 2, y: of.y - height / scale / 2, scale, width, height };
    }
    const [x0, y0, x1, y1] = this.regions.boxOf(of.region);
    const span = Math.max((x1 - x0) / width, (y1 - y0) / height, 0.25) * 1.7;
    return {
      x: (x0 + x1) / 2 - (width * span) / 2,
      y: (y0 + y1) / 2 - (height * span) / 2,
      scale: 1 / span,
      width,
      height,
    };
  }
}

/** Tables are the same where they are the same object, or hold the same. */
function sameOptions({ chosenLines: a, ...one }: ViewOptions, { chosenLines: b, ...two }: ViewOptions): boolean {
  const isSame = a === b || (a !== undefined && b?.length === a.length && a.every((value, k) => value === b[k]));
  return isSame && JSON.stringify(one) === JSON.stringify(two);
}
