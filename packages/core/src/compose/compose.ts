import { UNDERTONE } from './undertone.ts';
import type { PyramidLevel } from './buildPyramid.ts';

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
  /** Square of the trap depth in px²; Infinity = to the middle. */
  readonly trapDepth2: number;
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
  /** RGBA word around the page. @default a neutral mid grey */
  readonly ground?: number;
  /** RGBA word of the outline of HOVERED cells. */
  readonly hoverOutline?: number;
  /** RGBA word of the outline of CURRENT cells. */
  readonly currentOutline?: number;
}

const PAPER = 0xffffffff;
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
  const smooth = step > shrink;

  const columns = sampleAxis(viewport.width, viewport.x, step, page.width, shrink, level.width);
  const rows = sampleAxis(viewport.height, viewport.y, step, page.height, shrink, level.height);
  const jobs: RowJob = {
    page,
    level,
    paint,
    columns,
    smooth: smooth && options.showInk !== false,
    showInk: options.showInk !== false,
    showFlats: options.showFlats !== false,
    hatch: options.markMissing === true,
    ground: options.ground ?? GROUND,
    tileX: options.tileOrigin?.[0] ?? 0,
    tileY: options.tileOrigin?.[1] ?? 0,
    cells: new Int32Array(viewport.width),
  };
  const outlined = options.hoverOutline !== undefined || options.currentOutline !== undefined;
  let above = new Uint8Array(viewport.width);
  let here = new Uint8Array(viewport.width);
  for (let py = 0; py < viewport.height; py++) {
    const base = py * viewport.width;
    composeRow(jobs, rows, py, viewport, out, base);
    if (!outlined) continue;
    for (let px = 0; px < viewport.width; px++) {
      const cell = jobs.cells[px]!;
      here[px] = cell < 0 ? 0 : paint.marks[cell]! & (HOVERED | CURRENT);
    }
    outlineRow(out, base, viewport.width, py, above, here, options);
    [above, here] = [here, above];
  }
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

interface RowJob {
  readonly page: PyramidLevel;
  readonly level: PyramidLevel;
  readonly paint: CellPaint;
  readonly columns: Axis;
  readonly smooth: boolean;
  readonly showInk: boolean;
  readonly showFlats: boolean;
  readonly hatch: boolean;
  readonly ground: number;
  readonly tileX: number;
  readonly tileY: number;
  /** Out: the cell of each pixel of the row, -1 for none. */
  readonly cells: Int32Array;
}

function composeRow(job: RowJob, rows: Axis, py: number, viewport: Viewport, out: Uint32Array, base: number): void {
  const { cells, columns, ground } = job;
  const width = viewport.width;
  const y = rows.full[py]!;
  if (y < 0) {
    out.fill(ground, base, base + width);
    cells.fill(-1);
    return;
  }
  const { colour, marks, trapDepth2 } = job.paint;
  const levelField = job.level.field;
  const pageField = job.page.field;
  const pageWidth = job.page.width;
  const levelRow = rows.near[py]! * job.level.width;
  const full = columns.full;
  const near = columns.near;
  for (let px = 0; px < width; px++) {
    const x = full[px]!;
    if (x < 0) {
      cells[px] = -2;
      out[base + px] = ground;
      continue;
    }
    let cell = levelField[levelRow + near[px]!]!;
    let reached = true;
    if (cell < 0) {
      const source = ~cell;
      if (source >= pageField.length) cell = -1;
      else {
        cell = pageField[source]!;
        if (trapDepth2 !== Infinity) {
          const sx = source % pageWidth;
          const dx = x - sx;
          const dy = y - (source - sx) / pageWidth;
          reached = dx * dx + dy * dy <= trapDepth2;
        }
      }
    }
    cells[px] = cell;
    let word = PAPER;
    if (cell >= 0 && reached) {
      const flat = colour[cell]!;
      if (job.showFlats && flat !== 0) word = flat;
      else if (job.hatch && (marks[cell]! & 1) !== 0) word = UNDERTONE[(px + job.tileX + py + job.tileY) & 7]!;
    }
    out[base + px] = word;
  }
  if (!job.showInk) return;
  if (job.smooth) inkRowSmooth(job, rows, py, width, out, base);
  else inkRowSharp(job, rows, py, width, out, base);
}

function inkRowSharp(job: RowJob, rows: Axis, py: number, width: number, out: Uint32Array, base: number): void {
  const ink = job.level.inkAlpha;
  const row = rows.near[py]! * job.level.width;
  const { full, near } = job.columns;
  for (let px = 0; px < width; px++) {
    if (full[px]! < 0) continue;
    const alpha = ink[row + near[px]!]!;
    if (alpha !== 0) out[base + px] = darken(out[base + px]!, alpha);
  }
}

function inkRowSmooth(job: RowJob, rows: Axis, py: number, width: number, out: Uint32Array, base: number): void {
  const ink = job.level.inkAlpha;
  const low = rows.low[py]! * job.level.width;
  const high = rows.high[py]! * job.level.width;
  const down = rows.weight[py]!;
  const { full, low: left, high: right, weight } = job.columns;
  for (let px = 0; px < width; px++) {
    if (full[px]! < 0) continue;
    const l = left[px]!;
    const r = right[px]!;
    const a = ink[low + l]!;
    const b = ink[low + r]!;
    const c = ink[high + l]!;
    const d = ink[high + r]!;
    if ((a | b | c | d) === 0) continue;
    const across = weight[px]!;
    const top = a * (256 - across) + b * across;
    const bottom = c * (256 - across) + d * across;
    const alpha = (top * (256 - down) + bottom * down + 32768) >> 16;
    if (alpha !== 0) out[base + px] = darken(out[base + px]!, alpha);
  }
}

/** Black ink of this alpha over an opaque word, each channel rounded to the nearest step. */
export function darken(word: number, alpha: number): number {
  const rest = 255 - alpha;
  if (rest === 0) return 0xff000000;
  let r = (word & 255) * rest + 128;
  let g = ((word >>> 8) & 255) * rest + 128;
  let b = ((word >>> 16) & 255) * rest + 128;
  r = (r + (r >> 8)) >> 8;
  g = (g + (g >> 8)) >> 8;
  b = (b + (b >> 8)) >> 8;
  return (0xff000000 | (b << 16) | (g << 8) | r) >>> 0;
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
