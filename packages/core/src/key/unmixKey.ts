import { exp } from '../exact/exactMath.ts';
import type { Survey } from '../survey/surveyPage.ts';
import type { KeyPlace, KeyRaster } from './registerKey.ts';

/** Taken out: looked up a million times. */
const { floor, max, min, ceil } = Math;

/** What reading a key needs of a page. */
export type KeyedPage = Pick<Survey, 'width' | 'height' | 'field' | 'regions' | 'lineWidthPx'>;

/** The colour of each region that makes up the key best. */
export interface UnmixedKey {
  /** RGB of each region as numbers, `regions * 3`; not bound to 0..255. */
  readonly rgb: Float64Array;
  /** How many px of the key each region covers. */
  readonly coverPx: Float64Array;
  readonly cover: Cover;
  /** Half of the blur that explains the key best, from its middle outwards. */
  readonly kernel: Float64Array;
}

/** Blurs that are tried, in px of the key. */
const BLURS = [0, 0.6, 0.9, 1.3, 1.8, 2.6];
/** Steps of the solver; stopping early keeps colours of regions that hardly show near the start. */
const TRIAL_STEPS = 5;
const STEPS = 16;
/** Points of the page taken for each px of the key, in each direction. */
const POINTS = 4;

/**
 * A small, blurred key mixes the colours of thin and small regions with those around them. This finds the
 * colours that, laid out as the page's regions lie and blurred, give the key (least squares by conjugate
 * gradients, Hestenes and Stiefel 1952), starting from what the key shows at each region.
 *
 * @param start RGB of each region, `regions * 3`.
 */
export function unmixKey(survey: KeyedPage, key: KeyRaster, place: KeyPlace, start: Float64Array): UnmixedKey {
  const cover = coverOf(survey, key, place);
  let best = { blurPx: 0, error: Infinity };
  for (const blurPx of BLURS) {
    const { error } = solve(cover, key, kernelOf(blurPx), start, TRIAL_STEPS, 1);
    // The error falls towards the key's own blur and rises behind it.
    if (error >= best.error) break;
    best = { blurPx, error };
  }
  const kernel = kernelOf(best.blurPx);
  const { rgb } = solve(cover, key, kernel, start, STEPS, 3);
  const coverPx = new Float64Array(survey.regions.count);
  for (let k = 0; k < cover.region.length; k++)
    coverPx[cover.region[k]!] = coverPx[cover.region[k]!]! + cover.share[k]!;
  return { rgb, coverPx, cover, kernel };
}

/** Which regions cover each px of the key, and how much of it: entries of px p are `row[p] .. row[p + 1] - 1`. */
export interface Cover {
  readonly row: Int32Array;
  readonly region: Int32Array;
  readonly share: Float64Array;
  /** How far each px says something, 0..1: what lies under solid black is anybody's guess. */
  readonly trust: Float64Array;
}

/** Ink farther from paper than so many line widths hides what the key has there. */
const DEEP_WIDTHS = 1;
/** A px whose surroundings are so much deep ink says nothing. */
const MOST_DEEP = 0.08;

function coverOf({ width, height, field, regions, lineWidthPx }: KeyedPage, key: KeyRaster, place: KeyPlace): Cover {
  const row = new Int32Array(key.width * key.height + 1);
  const [region, share]: [number[], number[]] = [[], []];
  const deep = new Float64Array(key.width * key.height);
  const reach = DEEP_WIDTHS * lineWidthPx.median;
  for (let ky = 0; ky < key.height; ky++) {
    for (let kx = 0; kx < key.width; kx++) {
      const first = region.length;
      for (let k = 0; k < POINTS * POINTS; k++) {
        const x = floor((kx + ((k % POINTS) + 0.5) / POINTS - place.shiftX) / place.scaleX);
        const y = floor((ky + (floor(k / POINTS) + 0.5) / POINTS - place.shiftY) / place.scaleY);
        // Beyond the page's edge the key goes on as it is there.
        const px = max(0, min(width - 1, x));
        const py = max(0, min(height - 1, y));
        let cell = field[py * width + px]!;
        if (cell < 0) {
          const source = ~cell;
          const sx = source % width;
          const [dx, dy] = [px - sx, py - (source - sx) / width];
          if (dx * dx + dy * dy > reach * reach)
            deep[ky * key.width + kx] = deep[ky * key.width + kx]! + 1 / (POINTS * POINTS);
          cell = field[source] ?? -1;
        }
        if (cell < 0) continue;
        const own = regions.ofCell[cell]!;
        let at = first;
        while (at < region.length && region[at] !== own) at++;
        if (at === region.length) {
          region.push(own);
          share.push(0);
        }
        share[at] = share[at]! + 1 / (POINTS * POINTS);
      }
      row[ky * key.width + kx + 1] = region.length;
    }
  }
  blur(deep, new Float64Array(deep.length), key.width, key.height, kernelOf(1));
  const trust = deep.map((share) => max(0, 1 - share / MOST_DEEP));
  return { row, region: Int32Array.from(region), share: Float64Array.from(share), trust };
}

/** Half of a blur's kernel, from its middle outwards; its sum over both sides is 1. */
function kernelOf(sigma: number): Float64Array {
  if (sigma === 0) return Float64Array.of(1);
  const half = ceil(sigma * 2.6);
  const kernel = Float64Array.from({ length: half + 1 }, (_, k) => exp(-(k * k) / (2 * sigma * sigma)));
  const sum = kernel.reduce((all, v, k) => all + (k === 0 ? v : 2 * v), 0);
  return kernel.map((v) => v / sum);
}

function solve(
  cover: Cover,
  { width, height, rgb }: KeyRaster,
  kernel: Float64Array,
  start: Float64Array,
  steps: number,
  channels: 1 | 3,
): { rgb: Float64Array; error: number } {
  const { trust } = cover;
  const colours = start.slice();
  const count = start.length / 3;
  let error = 0;
  const image = new Float64Array(width * height);
  const scratch = new Float64Array(width * height);
  // Green shows most of a blur.
  for (const channel of channels === 1 ? [1] : [0, 1, 2]) {
    const x = Float64Array.from({ length: count }, (_, r) => start[r * 3 + channel]!);
    const forth = (from: Float64Array): Float64Array => {
      layOut(cover, from, image);
      blur(image, scratch, width, height, kernel);
      return image;
    };
    const weighed = (from: Float64Array): Float64Array => {
      const moved = forth(from);
      multiply(moved, trust, moved);
      return moved;
    };
    const residual = new Float64Array(width * height);
    // What px say is weighed by how far they are to be trusted.
    const first = forth(x);
    for (let p = 0; p < residual.length; p++) residual[p] = (rgb[p * 3 + channel]! - first[p]!) * trust[p]!;
    let gradient = back(residual);
    const direction = gradient.slice();
    let norm = dot(gradient, gradient);
    for (let k = 0; k < steps && norm > 1e-6; k++) {
      const moved = weighed(direction);
      const along = dot(moved, moved);
      if (along === 0) break;
      const step = norm / along;
      add(x, step, direction);
      add(residual, -step, moved);
      gradient = back(residual);
      const next = dot(gradient, gradient);
      for (let r = 0; r < count; r++) direction[r] = gradient[r]! + (next / norm) * direction[r]!;
      norm = next;
    }
    error += dot(residual, residual);
    for (let r = 0; r < count; r++) colours[r * 3 + channel] = x[r]!;
  }
  return { rgb: colours, error };

  /** The other way round: from px to regions. The blur is its own transpose but for the rim. */
  function back(from: Float64Array): Float64Array {
    multiply(from, trust, image);
    blur(image, scratch, width, height, kernel);
    const out = new Float64Array(count);
    gather(cover, image, out);
    return out;
  }
}

export function layOut({ row, region, share }: Cover, colours: Float64Array, image: Float64Array): void {
  for (let p = 0; p < image.length; p++) {
    let sum = 0;
    for (let k = row[p]!; k < row[p + 1]!; k++) sum += share[k]! * colours[region[k]!]!;
    image[p] = sum;
  }
}

/** A separable blur in place; the rim repeats. */
export function blur(
  image: Float64Array,
  scratch: Float64Array,
  width: number,
  height: number,
  kernel: Float64Array,
): void {
  if (kernel.length === 1) return;
  for (let y = 0; y < height; y++) blurRow(image, scratch, y * width, width, kernel);
  for (let y = 0; y < height; y++) {
    // Row by row, so that memory is read in its order.
    scaleRow(scratch, y * width, kernel[0]!, image, y * width, width);
    for (let k = 1; k < kernel.length; k++) {
      const up = (y < k ? 0 : y - k) * width;
      const down = (y + k < height ? y + k : height - 1) * width;
      addRows(scratch, up, down, kernel[k]!, image, y * width, width);
    }
  }
}

function blurRow(image: Float64Array, out: Float64Array, row: number, width: number, kernel: Float64Array): void {
  const half = kernel.length - 1;
  const last = row + width - 1;
  for (let at = row; at <= last; at++) {
    let sum = image[at]! * kernel[0]!;
    if (at - half >= row && at + half <= last) {
      for (let k = 1; k <= half; k++) sum += kernel[k]! * (image[at - k]! + image[at + k]!);
    } else {
      for (let k = 1; k <= half; k++) {
        sum += kernel[k]! * (image[at - k < row ? row : at - k]! + image[at + k > last ? last : at + k]!);
      }
    }
    out[at] = sum;
  }
}

function scaleRow(from: Float64Array, at: number, by: number, out: Float64Array, to: number, width: number): void {
  for (let x = 0; x < width; x++) out[to + x] = from[at + x]! * by;
}

function addRows(
  from: Float64Array,
  up: number,
  down: number,
  by: number,
  out: Float64Array,
  to: number,
  width: number,
): void {
  for (let x = 0; x < width; x++) out[to + x] = out[to + x]! + by * (from[up + x]! + from[down + x]!);
}

/** Adds up what px of the key say for each region. */
function gather({ row, region, share }: Cover, image: Float64Array, out: Float64Array): void {
  for (let p = 0; p < image.length; p++) {
    const value = image[p]!;
    for (let k = row[p]!; k < row[p + 1]!; k++) out[region[k]!] = out[region[k]!]! + share[k]! * value;
  }
}

function multiply(a: Float64Array, b: Float64Array, out: Float64Array): void {
  for (let k = 0; k < out.length; k++) out[k] = a[k]! * b[k]!;
}

function add(to: Float64Array, factor: number, from: Float64Array): void {
  for (let k = 0; k < to.length; k++) to[k] = to[k]! + factor * from[k]!;
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < a.length; k++) sum += a[k]! * b[k]!;
  return sum;
}
