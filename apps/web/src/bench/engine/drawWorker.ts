import {
  compose,
  CURRENT,
  HOVERED,
  joinBoxes,
  MISSING,
  PAPER_WORD,
  TILE_PX,
  type CellPaint,
  type PixelBox,
  type PyramidLevel,
  type Spread,
  type TileRaster,
  type Viewport,
} from '@jumble/core';
import { drawLoupe } from './drawLoupe.ts';
import { drawOriginal } from './drawOriginal.ts';
import { drawSpread } from './drawSpread.ts';
import { drawMark, drawOverlay, drawWay } from './drawOverlay.ts';
import { DirtyRects, Picture, shiftBetween, type Rect } from './Picture.ts';
import {
  OPEN,
  type CropOf,
  type DrawAnswer,
  type DrawRequest,
  type DrawnSurvey,
  type Overlay,
  type OverlayMark,
  type OverlayWay,
  type ShownCells,
  type ViewOptions,
} from './messages.ts';

/** Little-endian RGBA words of the outlines: the accent for the pointer, a darker one for the worklist. */
const HOVER_OUTLINE = 0xff685d2f;
const CURRENT_OUTLINE = 0xff2d4fd0;

let canvas: OffscreenCanvas | undefined;
let context: OffscreenCanvasRenderingContext2D | undefined;
let loupeContext: OffscreenCanvasRenderingContext2D | undefined;
let beside: OffscreenCanvasRenderingContext2D | undefined;
let original: Uint8Array | undefined;
let survey: DrawnSurvey | undefined;
let levels: readonly PyramidLevel[] = [];
let paint: CellPaint | undefined;
/** What is in the picture while the colours of another division are on their way. */
let paintBefore: CellPaint | undefined;
let corrections: { readonly tilesPerRow: number; readonly tiles: Map<number, Uint32Array> } | undefined;
/** Cells that show another colour than their region, and the box they lie in. */
let shownCells: { readonly words: ReadonlyMap<number, number>; readonly box: PixelBox } | null = null;
let regionColours = new Uint32Array(0);
/** Cells of each region: `cellsOf[cellStart[r] .. cellStart[r + 1] - 1]`. */
let cellStart = new Int32Array(1);
let cellsOf = new Int32Array(0);
let viewport: Viewport | undefined;
let drawn: Viewport | undefined;
let options: ViewOptions = { markMissing: true, showInk: true, showFlats: true, paper: PAPER_WORD };
let hovered = -1;
let preview: number | null = null;
let current = -1;
let overlay: Overlay | null = null;
let markDraft: OverlayMark | null = null;
let wayDraft: OverlayWay | null = null;
let spread: Spread | null = null;
let spreadFromMs = 0;
let loupeAt: readonly [number, number] | null = null;

let seq = 0;
let scheduled = false;
let picture = new Picture(1, 1);
/** The whole picture is to be composed anew. */
let whole = true;
/** What lies over the picture is to be drawn anew. */
let wholeOver = true;
/** In page px: what is to be composed anew, and where only what lies over it changed. */
const dirty = new DirtyRects();
const dirtyOver = new DirtyRects();

const answer = (message: DrawAnswer, transfer: Transferable[] = []): void => postMessage(message, { transfer });

self.onmessage = (event: MessageEvent<DrawRequest>) => {
  const request = event.data;
  if ('seq' in request) seq = request.seq;
  switch (request.kind) {
    case 'canvas':
      canvas = request.canvas;
      context = canvas.getContext('2d', { alpha: false }) ?? undefined;
      loupeContext = request.loupe.getContext('2d') ?? undefined;
      break;
    case 'page':
      original = request.original;
      takePage(request.survey, request.levels);
      break;
    case 'compare':
      beside = request.canvas?.getContext('2d', { alpha: false }) ?? undefined;
      break;
    case 'division':
      takeDivision(request.survey, request.changed);
      break;
    case 'overlay':
      wholeOver ||= overlay !== null || request.overlay !== null;
      overlay = request.overlay;
      break;
    case 'markDraft':
      touchDraft(markDraft, request.mark);
      markDraft = request.mark;
      break;
    case 'wayDraft':
      touchDraft(wayDraft, request.way);
      wayDraft = request.way;
      break;
    case 'spread':
      spread = request.spread;
      spreadFromMs = performance.now();
      wholeOver = true;
      break;
    case 'paint':
      takePaint(request.colours, request.trapDepth2);
      break;
    case 'corrections':
      whole ||= request.raster !== null || corrections !== undefined;
      corrections = request.raster === null ? undefined : { ...request.raster, tiles: new Map(request.raster.tiles) };
      break;
    case 'patchCorrections':
      patchCorrections(request.raster);
      break;
    case 'patch':
      for (let k = 0; k < request.regions.length; k++) {
        regionColours[request.regions[k]!] = request.colours[k]!;
        paintRegion(request.regions[k]!);
        touch(request.regions[k]!);
      }
      break;
    case 'cells':
      takeCells(request.cells);
      break;
    case 'view':
      whole ||= options !== request.options && JSON.stringify(options) !== JSON.stringify(request.options);
      viewport = request.viewport;
      options = request.options;
      break;
    case 'point':
      takePoint(request);
      break;
    case 'loupe':
      loupeAt = request.at;
      break;
    case 'crop':
      sendCrop(request.of, request.width, request.height);
      return;
  }
  schedule();
};

/** Half the width of a draft's line and its rim, in picture px. */
const DRAFT_REACH = 6;

/** Marks as to be drawn anew what is other in a draft: where it only grew, its end, and what closes it. */
function touchDraft(before: OverlayMark | OverlayWay | null, next: OverlayMark | OverlayWay | null): void {
  if (before === null || next === null || before.points.length > next.points.length || viewport === undefined) {
    wholeOver ||= next !== null || before !== null;
    return;
  }
  const end = next.points.slice(Math.max(0, before.points.length - 1));
  const reach = DRAFT_REACH / viewport.scale + 1;
  const touchLine = (points: readonly (readonly [number, number])[]): void => {
    const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
    const [x, y] = [Math.min(...xs) - reach, Math.min(...ys) - reach];
    dirtyOver.add({ x, y, width: Math.max(...xs) + reach - x, height: Math.max(...ys) + reach - y });
  };
  touchLine(end);
  if (!('closed' in next) || !next.closed || end.length < 2) return;
  const first = next.points[0]!;
  for (const last of [end[0]!, end.at(-1)!]) {
    for (let k = 0; k < CLOSING_PIECES; k++) touchLine([between(last, first, k), between(last, first, k + 1)]);
  }
}

/** A slanting line is touched in so many pieces: the box round all of it would be most of the picture. */
const CLOSING_PIECES = 12;

function between(
  [ax, ay]: readonly [number, number],
  [bx, by]: readonly [number, number],
  piece: number,
): readonly [number, number] {
  const t = piece / CLOSING_PIECES;
  return [ax + (bx - ax) * t, ay + (by - ay) * t];
}

function drawOver(view: Viewport): void {
  if (overlay !== null) drawOverlay(context!, overlay, view);
  if (markDraft !== null) drawMark(context!, markDraft, view);
  if (wayDraft !== null && wayDraft.points.length > 1) drawWay(context!, wayDraft, view);
}

function takePage(next: DrawnSurvey, nextLevels: readonly PyramidLevel[]): void {
  survey = next;
  levels = nextLevels;
  const { ofCell, count } = survey.regions;
  cellStart = new Int32Array(count + 1);
  for (const region of ofCell) cellStart[region + 1]!++;
  for (let r = 0; r < count; r++) cellStart[r + 1]! += cellStart[r]!;
  const fill = cellStart.slice();
  cellsOf = new Int32Array(ofCell.length);
  ofCell.forEach((region, cell) => (cellsOf[fill[region]!++] = cell));
  paint = undefined;
  shownCells = null;
  spread = null;
  hovered = current = -1;
  whole = true;
}

/** @param changed the paper that has other cells now: the rest of the picture stays, but for what takes other colours. */
function takeDivision(next: DrawnSurvey, changed: PixelBox | null): void {
  paintBefore = paint ?? paintBefore;
  const wasWhole = whole;
  takePage(next, levels);
  // Without the ink it shows how far colour runs into solid blacks, which may be farther than what is touched.
  whole = wasWhole || !options.showInk;
  wholeOver = true;
  if (changed !== null) touchBox(changed);
}

/** Cells that may appear before their tables do: they show as paper. */
const CELLS_AHEAD = 4096;

function takePaint(colours: Uint32Array, trapDepth2: number): void {
  if (survey === undefined) return;
  regionColours = new Uint32Array(colours);
  // The computing worker writes the cells of a new closure into the shared field a moment before their tables come.
  const room = survey.cellCount + CELLS_AHEAD;
  paint = { colour: new Uint32Array(room), marks: new Uint8Array(room), trapDepth2 };
  for (let r = 0; r < regionColours.length; r++) paintRegion(r);
  if (paintBefore?.trapDepth2 === trapDepth2) touchRepainted(paintBefore, paint);
  else whole = true;
  paintBefore = undefined;
}

/** When more regions than this look other than before, the whole picture is drawn anew. */
const MOST_REPAINTED = 200;

/** Marks regions with cells that look other than before as to be drawn anew. */
function touchRepainted(before: CellPaint, after: CellPaint): void {
  const { cellCount, regions } = survey!;
  const repainted = new Set<number>();
  for (let cell = 0; cell < cellCount && repainted.size <= MOST_REPAINTED; cell++) {
    if (before.colour[cell] !== after.colour[cell] || before.marks[cell] !== after.marks[cell])
      repainted.add(regions.ofCell[cell]!);
  }
  if (repainted.size > MOST_REPAINTED) whole = true;
  else for (const region of repainted) touch(region);
}

function takePoint(request: Extract<DrawRequest, { kind: 'point' }>): void {
  if (request.hovered === hovered && request.preview === preview && request.current === current) return;
  for (const region of [hovered, current]) touch(region);
  const before = [hovered, current];
  ({ hovered, preview, current } = request);
  for (const region of [...before, hovered, current]) if (region >= 0) paintRegion(region);
  for (const region of [hovered, current]) touch(region);
}

function patchCorrections({ tilesPerRow, tiles }: TileRaster): void {
  corrections ??= { tilesPerRow, tiles: new Map() };
  for (const [number, words] of tiles) {
    corrections.tiles.set(number, words);
    const x = (number % tilesPerRow) * TILE_PX;
    const y = Math.floor(number / tilesPerRow) * TILE_PX;
    dirty.add({ x, y, width: TILE_PX, height: TILE_PX });
  }
}

function takeCells(next: ShownCells | null): void {
  const before = shownCells;
  const words = new Map<number, number>();
  next?.cells.forEach((cell, k) => words.set(cell, next.colours[k]!));
  shownCells = next === null ? null : { words, box: next.box };
  const regions = new Set<number>();
  for (const cell of [...(before?.words.keys() ?? []), ...words.keys()]) {
    if (before?.words.get(cell) !== words.get(cell)) regions.add(survey!.regions.ofCell[cell]!);
  }
  const lies = joinBoxes(before?.box ?? null, next?.box ?? null);
  for (const region of regions) {
    paintRegion(region);
    const [left, top, right, bottom] = boxOf(region);
    if (lies !== null)
      touchBox([Math.max(left, lies[0]), Math.max(top, lies[1]), Math.min(right, lies[2]), Math.min(bottom, lies[3])]);
  }
}

/** What a region looks like now, into the tables. */
function paintRegion(region: number): void {
  if (paint === undefined || region + 1 >= cellStart.length) return;
  const own = regionColours[region]!;
  const shown = region === hovered && preview !== null ? preview : own;
  const marks =
    (shown === OPEN ? MISSING : 0) | (region === hovered ? HOVERED : 0) | (region === current ? CURRENT : 0);
  for (let k = cellStart[region]!; k < cellStart[region + 1]!; k++) {
    const cell = cellsOf[k]!;
    const over = shownCells?.words.get(cell);
    paint.colour[cell] = over ?? (shown === OPEN ? 0 : shown);
    paint.marks[cell] = over === undefined ? marks : marks & ~MISSING;
  }
}

/** Marks a region's place on the screen as to be drawn anew. */
function touch(region: number): void {
  if (survey === undefined || region < 0) return;
  touchBox(boxOf(region));
}

const boxOf = (region: number): PixelBox =>
  survey!.regions.box.subarray(region * 4, region * 4 + 4) as unknown as PixelBox;

function touchBox([left, top, right, bottom]: PixelBox): void {
  // Colour runs under the ink around a region: take the lines' own width along.
  const reach = survey!.lineWidthPx.p90 * 3 + 4;
  const [x, y] = [left - reach, top - reach];
  dirty.add({ x, y, width: right + reach - x, height: bottom + reach - y });
}

/** The picture's px that a rectangle of the page lies in. */
function inPicture({ x, y, width, height }: Rect, view: Viewport): Rect | null {
  const left = Math.floor((x - view.x) * view.scale) - 3;
  const top = Math.floor((y - view.y) * view.scale) - 3;
  const right = Math.ceil((x + width - view.x) * view.scale) + 3;
  const bottom = Math.ceil((y + height - view.y) * view.scale) + 3;
  return picture.clip({ x: left, y: top, width: right - left, height: bottom - top });
}

function schedule(): void {
  if (scheduled) return;
  scheduled = true;
  requestAnimationFrame(draw);
}

function draw(): void {
  scheduled = false;
  if (canvas === undefined || context === undefined || viewport === undefined || paint === undefined) return;
  const view = viewport;
  const started = performance.now();
  if (canvas.width !== view.width || canvas.height !== view.height) {
    canvas.width = view.width;
    canvas.height = view.height;
    picture = new Picture(view.width, view.height);
    whole = true;
  }
  const shift = drawn === undefined ? null : shiftBetween(drawn, view);
  const changed = dirty.take().flatMap((rect) => inPicture(rect, view) ?? []);
  if (shift === null && drawn !== undefined && !whole && started - zoomedAt < STILL_MS && wholeMs > ROOM_MS) {
    picture.composeCoarsely(view, composeArea);
    sharpenLater();
  } else if (whole || shift === null) {
    picture.compose(picture.all, view, composeArea);
    wholeMs = performance.now() - started;
  } else {
    const [dx, dy] = shift;
    if (dx !== 0 || dy !== 0) picture.shift(dx, dy, view, composeArea);
    for (const rect of changed) picture.compose(rect, view, composeArea);
  }
  const moved = shift === null || shift[0] !== 0 || shift[1] !== 0;
  const changedOver = dirtyOver.take().flatMap((rect) => inPicture(rect, view) ?? []);
  const runsOn = present(view, whole || moved || wholeOver ? [picture.all] : [...changed, ...changedOver]);
  if (shift === null) zoomedAt = started;
  if (beside !== undefined && survey !== undefined && original !== undefined)
    drawOriginal(beside, original, survey.width, survey.height, view);
  drawn = view;
  whole = false;
  // Running colour lies over everything, which is put anew under it every time.
  wholeOver = spread !== null;
  if (loupeContext !== undefined) drawLoupe(loupeContext, loupeAt, levels, paintNow());
  const drawnSeq = seq;
  requestAnimationFrame(() =>
    answer({ kind: 'presented', seq: drawnSeq, at: performance.timeOrigin + performance.now() }),
  );
  if (runsOn) schedule();
}

/** Puts parts of the picture on the canvas, with what lies over them. @returns whether colour still runs. */
function present(view: Viewport, rects: readonly Rect[]): boolean {
  for (const rect of rects) {
    picture.put(context!, rect);
    if (overlay === null && markDraft === null && wayDraft === null) continue;
    context!.save();
    context!.beginPath();
    context!.rect(rect.x, rect.y, rect.width, rect.height);
    context!.clip();
    drawOver(view);
    context!.restore();
  }
  return spread !== null && drawSpread(context!, spread, view, performance.now() - spreadFromMs);
}

/** A zoom goes on while its steps come closer together than this. */
const STILL_MS = 120;
/** What a whole picture may take while a zoom goes on. */
const ROOM_MS = 14;
let zoomedAt = -Infinity;
let wholeMs = 0;
let sharpen: ReturnType<typeof setTimeout> | undefined;

/** While a zoom goes on the picture is coarse; the sharp one follows when it rests. */
function sharpenLater(): void {
  clearTimeout(sharpen);
  sharpen = setTimeout(() => {
    whole = true;
    schedule();
  }, STILL_MS);
}

function paintNow(): CellPaint {
  return corrections === undefined ? paint! : { ...paint!, corrections };
}

let scratch = new Uint32Array(0);

function composeArea(area: Viewport, outlines = true): Uint32Array<ArrayBuffer> {
  if (scratch.length < area.width * area.height) scratch = new Uint32Array(area.width * area.height);
  compose(levels, paintNow(), area, scratch, {
    showInk: options.showInk,
    showFlats: options.showFlats,
    markMissing: options.markMissing,
    paper: options.paper,
    tileOrigin: [Math.round(area.x * area.scale), Math.round(area.y * area.scale)],
    ...(outlines ? { hoverOutline: HOVER_OUTLINE, currentOutline: CURRENT_OUTLINE } : {}),
  });
  return scratch;
}

/** A small picture of a region and what is around it, or of a place, for its row in the worklist. */
function sendCrop(of: CropOf, width: number, height: number): void {
  const blank = (): void => {
    const pixels = new ArrayBuffer(width * height * 4);
    answer({ kind: 'crop', pixels, width, height }, [pixels]);
  };
  if (survey === undefined || paint === undefined) return blank();
  if (!('region' in of)) {
    const scale = width / of.span;
    const area = { x: of.x - of.span / 2, y: of.y - height / scale / 2, scale, width, height };
    const pixels = composeArea(area, false).slice(0, width * height).buffer;
    answer({ kind: 'crop', pixels, width, height }, [pixels]);
    return;
  }
  const { region } = of;
  if (region >= survey.regions.count) return blank();
  const box = survey.regions.box.subarray(region * 4, region * 4 + 4);
  const [x0, y0, x1, y1] = box as unknown as [number, number, number, number];
  const span = Math.max((x1 - x0) / width, (y1 - y0) / height, 0.25) * 1.7;
  const area = {
    x: (x0 + x1) / 2 - (width * span) / 2,
    y: (y0 + y1) / 2 - (height * span) / 2,
    scale: 1 / span,
    width,
    height,
  };
  const kept = paint.marks;
  // In its row the region is the one that is meant, whatever the pointer is at.
  const marks = kept.map((mark) => mark & MISSING);
  for (let k = cellStart[region]!; k < cellStart[region + 1]!; k++) marks[cellsOf[k]!]! |= CURRENT;
  paint = { ...paint, marks };
  const pixels = composeArea(area, true).slice(0, width * height).buffer;
  paint = { ...paint, marks: kept };
  answer({ kind: 'crop', pixels, width, height }, [pixels]);
}
