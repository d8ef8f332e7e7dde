import type { PaperTone } from '../model/inkMeasures.ts';
import type { GreyRaster } from '../raster/GreyRaster.ts';

/** Paper is measured on about so many tiles along the longer side. */
const TILES = 48;
/** A tile darker than this share of the page's paper is ink or a shadow that is drawn. */
const BARE_SHARE = 0.62;
/** So much of a page must be bare for its light to be measured. */
const LEAST_BARE = 0.25;
/** Paper as even as this is left alone. */
const EVEN_GREYS = 5;

/** Measures the tone of the paper all over a page. Cost: a read of every second pixel of every second row. */
export function measurePaper({ width, height, data }: GreyRaster): PaperTone {
  const tilePx = Math.max(16, Math.ceil(Math.max(width, height) / TILES));
  const columns = Math.ceil(width / tilePx);
  const rows = Math.ceil(height / tilePx);
  const found = new Int16Array(columns * rows);
  const histogram = new Uint32Array(256);
  const all = new Uint32Array(256);
  for (let ty = 0; ty < rows; ty++) {
    for (let tx = 0; tx < columns; tx++) {
      histogram.fill(0);
      const x1 = Math.min(width, (tx + 1) * tilePx);
      const y1 = Math.min(height, (ty + 1) * tilePx);
      countTile(data, width, tx * tilePx, ty * tilePx, x1, y1, histogram);
      found[ty * columns + tx] = brightMode(histogram);
      for (let v = 0; v < 256; v++) all[v] = all[v]! + histogram[v]!;
    }
  }
  // The page's paper is what its brightest tiles show: on a page full of black there is little of it.
  const usual = Int16Array.from(found).sort()[Math.floor((found.length - 1) * 0.9)]!;
  const bright = Int16Array.from(found, (tone) => (tone >= usual * BARE_SHARE ? tone : -1));
  const bare = bright.filter((one) => one >= 0).length;
  fillFromNeighbours(bright, columns, rows, usual);
  const tone = smooth(bright, columns, rows);
  const sorted = Uint8Array.from(tone).sort();
  const median = sorted[sorted.length >> 1]!;
  const range = sorted[Math.floor((sorted.length - 1) * 0.95)]! - sorted[Math.floor((sorted.length - 1) * 0.05)]!;
  // Too little bare paper says nothing about the light.
  const spread = bare < LEAST_BARE * found.length ? 0 : range;
  return { tilePx, columns, rows, tone, median, spread, noise: paperNoise(data, width, height, tone, tilePx, columns) };
}

export function isUneven(paper: PaperTone): boolean {
  return paper.spread > EVEN_GREYS;
}

/**
 * Divides a page by the tone of its paper, so that a shadow in the corner does not count as ink; between
 * tiles the tone is blended.
 *
 * @returns a new raster on which bare paper is `paper.median` everywhere. Cost: a multiplication a pixel.
 */
export function flattenPaper({ width, height, data }: GreyRaster, paper: PaperTone): GreyRaster {
  const { tilePx, columns, rows, tone, median } = paper;
  const out = new Uint8Array(data.length);
  const gains = new Int32Array(columns);
  for (let y = 0; y < height; y++) {
    const fy = (y + 0.5) / tilePx - 0.5;
    const ty = Math.min(rows - 1, Math.max(0, Math.floor(fy)));
    const next = Math.min(rows - 1, ty + 1);
    const share = Math.min(1, Math.max(0, fy - ty));
    for (let tx = 0; tx < columns; tx++) {
      const here = tone[ty * columns + tx]! * (1 - share) + tone[next * columns + tx]! * share;
      // 16.16 fixed point from here on.
      gains[tx] = Math.round((median * 65536) / Math.max(1, here));
    }
    flattenRow(data, out, y * width, width, gains, tilePx, columns);
  }
  return { width, height, data: out };
}

function flattenRow(
  data: Uint8Array,
  out: Uint8Array,
  base: number,
  width: number,
  gains: Int32Array,
  tilePx: number,
  columns: number,
): void {
  const half = tilePx >> 1;
  for (let tx = -1; tx < columns; tx++) {
    const left = gains[Math.max(0, tx)]!;
    const right = gains[Math.min(columns - 1, tx + 1)]!;
    const from = Math.max(0, tx * tilePx + half);
    const to = Math.min(width, (tx + 1) * tilePx + half);
    const step = (right - left) / tilePx;
    let gain = left + (from - (tx * tilePx + half)) * step;
    for (let x = from; x < to; x++, gain += step) {
      const value = (data[base + x]! * gain + 32768) / 65536;
      out[base + x] = value > 255 ? 255 : value;
    }
  }
}

function countTile(
  data: Uint8Array,
  width: number,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  histogram: Uint32Array,
): void {
  for (let y = y0; y < y1; y += 2) {
    for (let at = y * width + x0; at < y * width + x1; at += 2) histogram[data[at]!]!++;
  }
}

/** The fullest grey of the brighter half of what a tile holds; neighbouring greys counted together. */
function brightMode(histogram: Uint32Array): number {
  let total = 0;
  for (const count of histogram) total += count;
  let mode = 0;
  let most = -1;
  let above = 0;
  for (let v = 253; v >= 2; v--) {
    above += v === 253 ? histogram[253]! + histogram[254]! + histogram[255]! : histogram[v]!;
    const around =
      histogram[v - 2]! + histogram[v - 1]! + histogram[v]! + histogram[v + 1]! + (v < 254 ? histogram[v + 2]! : 0);
    if (around > most) {
      most = around;
      mode = v;
    }
    if (above * 10 > total * 9) break;
  }
  // Of the greys that were counted together, the fullest.
  let fullest = Math.max(0, mode - 2);
  for (let v = fullest; v <= Math.min(255, mode + 2); v++) if (histogram[v]! > histogram[fullest]!) fullest = v;
  return fullest;
}

/** Tiles without bare paper take the mean of those around them, from the outside in. */
function fillFromNeighbours(tone: Int16Array, columns: number, rows: number, usual: number): void {
  for (let left = true, round = 0; left && round < columns + rows; round++) {
    left = false;
    const before = tone.slice();
    for (let y = 0; y < rows; y++) {
      for (let x = 0; x < columns; x++) {
        if (before[y * columns + x]! >= 0) continue;
        let sum = 0;
        let count = 0;
        for (const [nx, ny] of [
          [x - 1, y],
          [x + 1, y],
          [x, y - 1],
          [x, y + 1],
        ] as const) {
          if (nx < 0 || ny < 0 || nx >= columns || ny >= rows || before[ny * columns + nx]! < 0) continue;
          sum += before[ny * columns + nx]!;
          count++;
        }
        if (count > 0) tone[y * columns + x] = Math.round(sum / count);
        else left = true;
      }
    }
  }
  for (let k = 0; k < tone.length; k++) if (tone[k]! < 0) tone[k] = usual;
}

/** The middle of the nine tiles around: single tiles full of grey drawing do not bend the paper. */
function smooth(tone: Int16Array, columns: number, rows: number): Uint8Array {
  const out = new Uint8Array(tone.length);
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < columns; x++) {
      const around: number[] = [];
      for (let ny = Math.max(0, y - 1); ny <= Math.min(rows - 1, y + 1); ny++) {
        for (let nx = Math.max(0, x - 1); nx <= Math.min(columns - 1, x + 1); nx++)
          around.push(tone[ny * columns + nx]!);
      }
      around.sort((a, b) => a - b);
      out[y * columns + x] = around[around.length >> 1]!;
    }
  }
  return out;
}

/** From the differences of neighbouring paper pixels; lines do not come into it. */
function paperNoise(
  data: Uint8Array,
  width: number,
  height: number,
  tone: Uint8Array,
  tilePx: number,
  columns: number,
): number {
  let squares = 0;
  let count = 0;
  const stride = Math.max(1, Math.floor(height / 600));
  for (let y = 0; y < height; y += stride) {
    const base = y * width;
    const row = Math.floor(y / tilePx) * columns;
    for (let x = 4; x + 5 < width; x += 3) {
      const least = tone[row + Math.floor(x / tilePx)]! - 28;
      const [a, b] = [data[base + x]!, data[base + x + 1]!];
      // Well away from the fringe of lines.
      if (a < least || b < least || data[base + x - 4]! < least || data[base + x + 5]! < least) continue;
      squares += (a - b) * (a - b);
      count++;
    }
  }
  return count === 0 ? 0 : Math.sqrt(squares / count / 2);
}
