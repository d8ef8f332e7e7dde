import { UNDERTONE } from './undertone.ts';
import { NO_PAPER } from '../raster/spreadIntoInk.ts';
import { TILE_PX } from '../model/CorrectionTile.ts';
import type { TileRaster } from '../corrections/Corrections.ts';
import type { TrapTable } from '../trap/TrapTable.ts';
import { COVERED, FAR, lookUnderInk, OUTSIDE } from '../trap/underInk.ts';
import type { HoldPaint } from '../holds/HoldPaint.ts';
import { findInks } from './findInks.ts';
import { darken, layOver } from './layOver.ts';
import { markBeside } from './markBeside.ts';
import type { PyramidLevel } from './buildPyramid.ts';
import { TrapMap } from './trapMap.ts';

/** Which part of the page is drawn, and how large. */
export interface Viewport {
  /** Page coordinates in px of the picture's top left corner. */
  readonly x: number;
  readonly y: number;
  /** Picture pixels per page pixel. */
  readonly scale: number;
  /** Size of the picture in px. */
  readonly width: number;
  readonly height: number;
}

/** A cell without a part. */
export const MISSING = 1;
/** A cell of the region under the pointer. */
export const HOVERED = 2;
/** A cell of the region the worklist stands at. */
export const CURRENT = 4;

/** What each cell looks like: small tables instead of page-sized rasters. */
export interface CellPaint {
  /** RGBA word of each cell's flat colour, little endian; 0 = none, paper shows. */
  readonly colour: Uint32Array;
  /** {@link MISSING}, {@link HOVERED}, {@link CURRENT} of each cell. */
  readonly marks: Uint8Array;
  /** How colour runs under the ink. */
  readonly trap: TrapTable;
  /** Colours of the lines. @default all black */
  readonly holds?: HoldPaint;
  /** RGBA words of painted pixels, which show instead. @default none */
  readonly corrections?: TileRaster;
}

export interface ComposeOptions {
  /** @default true */
  readonly showInk?: boolean;
  /** @default true */
  readonly showFlats?: boolean;
  /** Hatch the cells marked MISSING. @default false */
  readonly markMissing?: boolean;
  /** Where the picture stands on a larger one, so that the tone of open regions joins up. @default [0, 0] */
  readonly tileOrigin?: readonly [number, number];
  /** RGBA word of bare paper: a grey shows pale colours. @default white */
  readonly paper?: number;
  /** Show how deep colour runs under the ink, in tones so many px of the page wide. @default the page as it is */
  readonly trapMapPx?: number;
  /** Lines that are chosen: 1 for each piece, from the second place on. They are marked beside their ink, never over it. */
  readonly chosenLines?: Uint8Array;
  /** RGBA word around the page. @default a neutral mid grey */
  readonly ground?: number;
  /** RGBA word of the outline of HOVERED cells. */
  readonly hoverOutline?: number;
  /** RGBA word of the outline of CURRENT cells. */
  readonly currentOutline?: number;
}

const PAPER = -1;
/** RGBA word of bare paper. */
export const PAPER_WORD = 0xffffffff;
const GROUND = 0xff8a8a8a;

/**
 * Draws any rectangle of a page at any zoom: paper, flats, ink on top, then marks and outlines.
 * Zoomed in, every page pixel is a square of one colour; zoomed out, ink is averaged, so that
 * lines stay smooth, and flats are sampled.
 *
 * @param levels from `buildPyramid`; level 0 alone is enough for scales of 0.5 and more.
 * @param out `viewport.width * viewport.height` RGBA words, every one is written.
 *   Cost: by picture pixels, not by page pixels.
 */
export function compose(
  levels: readonly PyramidLevel[],
  paint: CellPaint,
  viewport: Viewport,
  out: Uint32Array,
  options: ComposeOptions = {},
): void {
  const page = levels[0]!;
  const { scale } = viewport;
  if (!(scale > 0)) throw new RangeError(`\`scale\` must be above 0; received ${scale}`);
  let index = 0;
  while (index + 1 < levels.length && scale * 2 ** (index + 1) <= 1) index++;
  const level = levels[index]!;
  const shrink = 2 ** index;
  // Page px per picture px, and level px per picture px.
  const step = 1 / scale;

  const columns = sampleAxis(viewport.width, viewport.x, step, page.width, shrink, level.width);
  const rows = sampleAxis(viewport.height, viewport.y, step, page.height, shrink, level.height);
  const { width } = viewport;
  const showInk = options.showInk !== false;
  const colour = signed(options.showFlats === false ? new Uint32Array(paint.colour.length) : paint.colour);
  const corrections =
    options.showFlats === false || (paint.corrections?.tiles.size ?? 0) === 0 ? undefined : paint.corrections;
  const hatched = options.markMissing === true ? MISSING : 0;
  const ground = (options.ground ?? GROUND) | 0;
  const paper = (options.paper ?? PAPER_WORD) | 0;
  const tile = (options.tileOrigin?.[0] ?? 0) + (options.tileOrigin?.[1] ?? 0);
  const outlined =
    (options.hoverOutline !== undefined || options.currentOutline !== undefined) &&
    paint.marks.some((mark) => mark > MISSING);
  const words = signed(out);
  const ink = new Uint8Array(width);
  const cells = new Int32Array(width);
  const holds = showInk ? paint.holds : undefined;
  // RGBA word of the ink at each px, 0 for black.
  const inks = new Int32Array(width);
  const map = options.trapMapPx === undefined ? null : new TrapMap(page, paint.trap, options.trapMapPx, width);
  let above = new Uint8Array(width);
  let here = new Uint8Array(width);
  // Every loop over pixels is a function of its own that takes arrays and numbers alone: the engine
  // runs it several times faster than as a part of this one.
  for (let py = 0; py < viewport.height; py++) {
    const base = py * width;
    const y = rows.full[py]!;
    if (y < 0) {
      words.fill(ground, base, base + width);
      cells.fill(OUTSIDE);
    } else {
      if ((showInk || map !== null) && step > shrink) smoothInk(level, columns, rows, py, ink);
      else if (showInk || map !== null) sharpInk(level.inkAlpha, rows.near[py]! * level.width, columns.near, ink);
      if (map === null) {
        findCells(level.field, rows.near[py]! * level.width, columns.near, columns.full, ink, cells);
        lookUnderInk(page, paint.trap, columns.full, y, cells);
        findInks(page, holds, columns.full, y, ink, shrink, inks);
        paintRow(cells, ink, inks, colour, paint.marks, hatched, py + tile, ground, paper, words, base);
      } else map.drawRow(columns.full, y, ink, cells, colour, py + tile, ground, paper, words, base);
      if (corrections !== undefined && map === null)
        correctRow(corrections, columns.full, y, ink, inks, paper, words, base);
    }
    if (options.chosenLines !== undefined && paint.holds !== undefined && y >= 0)
      markBeside(page, paint.holds.ofPixel, options.chosenLines, columns.full, y, scale, py + tile, words, base);
    if (!outlined) continue;
    markRow(cells, paint.marks, here);
    outlineRow(out, base, width, py, above, here, options);
    [above, here] = [here, above];
  }
}

function sharpInk(from: Uint8Array, row: number, near: Int32Array, ink: Uint8Array): void {
  for (let px = 0; px < ink.length; px++) ink[px] = from[row + near[px]!]!;
}

function smoothInk(level: PyramidLevel, columns: Axis, rows: Axis, py: number, ink: Uint8Array): void {
  const low = rows.low[py]! * level.width;
  const high = rows.high[py]! * level.width;
  mixInk(level.inkAlpha, low, high, rows.weight[py]!, columns.low, columns.high, columns.weight, ink);
}

function mixInk(
  from: Uint8Array,
  low: number,
  high: number,
  down: number,
  left: Int32Array,
  right: Int32Array,
  weight: Int32Array,
  ink: Uint8Array,
): void {
  for (let px = 0; px < ink.length; px++) {
    const l = left[px]!;
    const r = right[px]!;
    const a = from[low + l]!;
    const b = from[low + r]!;
    const c = from[high + l]!;
    const d = from[high + r]!;
    if ((a | b | c | d) === 0) {
      ink[px] = 0;
      continue;
    }
    const across = weight[px]!;
    const top = a * (256 - across) + b * across;
    const bottom = c * (256 - across) + d * across;
    ink[px] = (top * (256 - down) + bottom * down + 32768) >> 16;
  }
}

function findCells(
  field: Int32Array,
  row: number,
  near: Int32Array,
  full: Int32Array,
  ink: Uint8Array,
  cells: Int32Array,
): void {
  for (let px = 0; px < cells.length; px++) {
    const cell = field[row + near[px]!]!;
    cells[px] =
      full[px]! < 0
        ? OUTSIDE
        : cell >= 0
          ? cell
          : ink[px] === 255
            ? COVERED
            : cell === NO_PAPER
              ? COVERED
              : FAR + 1 + cell;
  }
}

function paintRow(
  cells: Int32Array,
  ink: Uint8Array,
  inks: Int32Array,
  colour: Int32Array,
  marks: Uint8Array,
  hatched: number,
  tile: number,
  ground: number,
  paper: number,
  out: Int32Array,
  base: number,
): void {
  for (let px = 0; px < cells.length; px++) {
    const cell = cells[px]!;
    let word = paper;
    if (cell >= 0) {
      word = colour[cell]!;
      if (word === 0) word = (marks[cell]! & hatched) !== 0 ? UNDERTONE[(px + tile) & 7]! : paper;
    } else if (cell === OUTSIDE) {
      out[base + px] = ground;
      continue;
    }
    const alpha = ink[px]!;
    out[base + px] = alpha === 0 ? word : inks[px] === 0 ? darken(word, alpha) : layOver(word, inks[px]!, alpha);
  }
}

/** Painted pixels show instead of what their cells have. */
function correctRow(
  { tilesPerRow, tiles }: TileRaster,
  full: Int32Array,
  y: number,
  ink: Uint8Array,
  inks: Int32Array,
  paper: number,
  out: Int32Array,
  base: number,
): void {
  const row = Math.floor(y / TILE_PX) * tilesPerRow;
  const inRow = (y % TILE_PX) * TILE_PX;
  let number = -1;
  let tile: Uint32Array | undefined;
  for (let px = 0; px < full.length; px++) {
    const x = full[px]!;
    if (x < 0) continue;
    const next = row + ((x / TILE_PX) | 0);
    if (next !== number) {
      number = next;
      tile = tiles.get(number);
    }
    if (tile === undefined) continue;
    let word = tile[inRow + (x % TILE_PX)]! | 0;
    if (word === 0) continue;
    if (word === PAPER) word = paper;
    if (ink[px] === 0) out[base + px] = word;
    else out[base + px] = inks[px] === 0 ? darken(word, ink[px]!) : layOver(word, inks[px]!, ink[px]!);
  }
}

function markRow(cells: Int32Array, marks: Uint8Array, here: Uint8Array): void {
  for (let px = 0; px < cells.length; px++) {
    const cell = cells[px]!;
    here[px] = cell < 0 ? 0 : marks[cell]! & (HOVERED | CURRENT);
  }
}

/** The same words as signed integers. */
function signed(words: Uint32Array): Int32Array {
  return new Int32Array(words.buffer, words.byteOffset, words.length);
}

interface Axis {
  /** Full-size coordinate of each sample, -1 outside the page. */
  readonly full: Int32Array;
  /** Level coordinate for flats. */
  readonly near: Int32Array;
  /** Level coordinates and weight (0..256 towards the second) for averaged ink. */
  readonly low: Int32Array;
  readonly high: Int32Array;
  readonly weight: Int32Array;
}

function sampleAxis(
  count: number,
  origin: number,
  step: number,
  pagePx: number,
  shrink: number,
  levelPx: number,
): Axis {
  const axis: Axis = {
    full: new Int32Array(count),
    near: new Int32Array(count),
    low: new Int32Array(count),
    high: new Int32Array(count),
    weight: new Int32Array(count),
  };
  for (let k = 0; k < count; k++) {
    const at = origin + (k + 0.5) * step;
    const full = Math.floor(at);
    if (full < 0 || full >= pagePx) {
      axis.full[k] = -1;
      continue;
    }
    axis.full[k] = full;
    axis.near[k] = Math.min(levelPx - 1, Math.floor(full / shrink));
    const centre = at / shrink - 0.5;
    const low = Math.floor(centre);
    axis.weight[k] = Math.round((centre - low) * 256);
    axis.low[k] = Math.min(levelPx - 1, Math.max(0, low));
    axis.high[k] = Math.min(levelPx - 1, Math.max(0, low + 1));
  }
  return axis;
}

function outlineRow(
  out: Uint32Array,
  base: number,
  width: number,
  py: number,
  above: Uint8Array,
  here: Uint8Array,
  options: ComposeOptions,
): void {
  for (let px = 0; px < width; px++) {
    const mark = here[px]!;
    const left = px > 0 ? here[px - 1]! : 0;
    const up = py > 0 ? above[px]! : 0;
    const changed = (mark ^ left) | (mark ^ up);
    if (changed === 0) continue;
    const word =
      (changed & CURRENT) !== 0 && options.currentOutline !== undefined
        ? options.currentOutline
        : (changed & HOVERED) !== 0
          ? options.hoverOutline
          : undefined;
    if (word === undefined) continue;
    out[base + px] = word;
    if (((mark ^ left) & (HOVERED | CURRENT)) !== 0 && px > 0) out[base + px - 1] = word;
    if (((mark ^ up) & (HOVERED | CURRENT)) !== 0 && py > 0) out[base + px - width] = word;
  }
}
