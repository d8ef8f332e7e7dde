import type { Survey } from '../survey/surveyPage.ts';
import { blur, kernelOf, shapeKernel } from './keyBlur.ts';
import type { KeyPlace, KeyRaster } from './registerKey.ts';

/** Taken out: looked up a million times. */
const { abs, floor, max, min } = Math;

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
  /** What each region that the key does not show by itself adds to the key; undefined for the others. */
  readonly footprints: readonly (Footprint | undefined)[];
}

/** How much of each px of the blurred key a region is, the most first. */
export interface Footprint {
  readonly at: Int32Array;
  readonly weight: Float64Array;
}

/** Blurs that are tried, in px of the key, and how finely the best is found then. */
const BLURS = [0, 0.4, 0.8, 1.3, 1.8, 2.6];
const [BLUR_STEP, LEAST_BLUR_STEP] = [0.2, 0.02];
/** Narrower blurs are none. */
const LEAST_BLUR = 0.3;
/** Steps of the solver; stopping early keeps colours of regions that hardly show near the start. */
const STEPS = 16;
/** Points of the page taken for each px of the key, in each direction: to begin with, and once the key lies exactly. */
const POINTS = 4;
export const FINE_POINTS = 6;

/**
 * A small, blurred key mixes the colours of thin and small regions with those around them. This finds the
 * colours that, laid out as the page's regions lie and blurred, give the key (least squares by conjugate
 * gradients, Hestenes and Stiefel 1952), starting from what the key shows at each region.
 *
 * Cost: a few looks at the whole key; after that by the px of regions that are not known.
 *
 * @param start RGB of each region, `regions * 3`. @param fixed 1 for regions whose colour is known.
 */
export function unmixKey(
  survey: KeyedPage,
  key: KeyRaster,
  place: KeyPlace,
  start: Float64Array,
  fixed: Uint8Array,
): UnmixedKey {
  const cover = coverOf(survey, key, place, POINTS);
  const { kernel, footprints } = blurredAs(start, key, cover, fixed);
  const touched = touchedBy(footprints, key.width * key.height);
  const rgb = start.slice();
  for (const channel of [0, 1, 2]) {
    const rest = restOf(key, cover, kernel, (region) => start[region * 3 + channel]!, channel);
    solve(footprints, touched, rest, rgb, channel);
  }
  const coverPx = new Float64Array(survey.regions.count);
  for (let k = 0; k < cover.region.length; k++)
    coverPx[cover.region[k]!] = coverPx[cover.region[k]!]! + cover.share[k]!;
  return { rgb, coverPx, cover, kernel, footprints };
}

/**
 * The blur with which regions of these colours, laid out, give the key best.
 *
 * @param colours RGB of each region, `regions * 3`. @param fixed 1 for regions whose footprint nobody asks for.
 * @param near a kernel to start from. @default the best Gaussian
 */
export function blurredAs(
  colours: Float64Array,
  key: KeyRaster,
  cover: Cover,
  fixed: Uint8Array,
  near?: Float64Array,
): Pick<UnmixedKey, 'kernel' | 'footprints'> {
  const sharp = [0, 1, 2].map((channel) => laidOut(cover, (region) => colours[region * 3 + channel]!));
  const kernel = shapeKernel(sharp, key, cover.trust, near ?? bestGaussian(sharp, key, cover));
  return { kernel, footprints: footprintsOf(cover, kernel, key.width, key.height, fixed) };
}

/** The Gaussian blur that explains a key best. */
function bestGaussian(sharp: readonly Float64Array[], key: KeyRaster, cover: Cover): Float64Array {
  const errorOf = (blurPx: number): number => {
    // Green shows most of a blur.
    const rest = takenOff(key, cover, kernelOf(blurPx), sharp[1]!.slice(), 1);
    return dot(rest, rest);
  };
  let [best, least] = [0, Infinity];
  for (const blurPx of BLURS) {
    const error = errorOf(blurPx);
    // The error falls towards the key's own blur and rises behind it.
    if (error >= least) break;
    [best, least] = [blurPx, error];
  }
  for (let step = BLUR_STEP; step >= LEAST_BLUR_STEP; step /= 2) {
    for (const blurPx of [best - step, best + step]) {
      const error = blurPx < LEAST_BLUR ? Infinity : errorOf(blurPx);
      if (error < least) [best, least] = [blurPx, error];
    }
  }
  return kernelOf(best);
}

/** What is left of a channel of the key when every region has the colour given, as far as its px are to be trusted. */
export function restOf(
  key: KeyRaster,
  cover: Cover,
  kernel: Float64Array,
  colourOf: (region: number) => number,
  channel: number,
): Float64Array {
  return takenOff(key, cover, kernel, laidOut(cover, colourOf), channel);
}

/** What is left of a channel of the key beyond a picture, which is written over. */
function takenOff(
  { width, height, rgb }: KeyRaster,
  { trust }: Cover,
  kernel: Float64Array,
  rest: Float64Array,
  channel: number,
): Float64Array {
  blur(rest, new Float64Array(rest.length), width, height, kernel);
  for (let p = 0; p < rest.length; p++) rest[p] = (rgb[p * 3 + channel]! - rest[p]!) * trust[p]!;
  return rest;
}

/** A channel of the key before it was blurred, by the colours of the regions. */
export function laidOut({ row, region, share }: Cover, colourOf: (region: number) => number): Float64Array {
  const image = new Float64Array(row.length - 1);
  for (let p = 0; p < image.length; p++) {
    let sum = 0;
    for (let k = row[p]!; k < row[p + 1]!; k++) sum += share[k]! * colourOf(region[k]!);
    image[p] = sum;
  }
  return image;
}

/** Which regions cover each px of the key, and how much of it: entries of px p are `row[p] .. row[p + 1] - 1`. */
export interface Cover {
  readonly row: Int32Array;
  readonly region: Int32Array;
  readonly share: Float64Array;
  /** How much of it lies under the region's lines. */
  readonly inked: Float64Array;
  /** How far each px says something, 0..1: what lies under solid black is anybody's guess. */
  readonly trust: Float64Array;
}

/** Ink farther from paper than so many line widths hides what the key has there. */
const DEEP_WIDTHS = 1;
/** A px whose surroundings are so much deep ink says nothing. */
const MOST_DEEP = 0.08;

/**
 * @param points taken for each px of the key, in each direction.
 * @param before the cover where the key lay less than a px off: what is plain there, and all around, is not looked at.
 */
export function coverOf(
  { width, height, field, regions, lineWidthPx }: KeyedPage,
  key: KeyRaster,
  place: KeyPlace,
  points: number,
  before?: Cover,
): Cover {
  const plain = before === undefined ? null : plainPx(before, key.width, key.height);
  const columns = pointsAlong(key.width * points, points, place.scaleX, place.shiftX, width);
  const lines = pointsAlong(key.height * points, points, place.scaleY, place.shiftY, height);
  const row = new Int32Array(key.width * key.height + 1);
  const [region, share, inked]: [number[], number[], number[]] = [[], [], []];
  const deep = new Float64Array(key.width * key.height);
  const reach = DEEP_WIDTHS * lineWidthPx.median;
  for (let ky = 0; ky < key.height; ky++) {
    for (let kx = 0; kx < key.width; kx++) {
      const first = region.length;
      if (plain?.[ky * key.width + kx] === 1) {
        region.push(before!.region[before!.row[ky * key.width + kx]!]!);
        share.push(1);
        inked.push(0);
        row[ky * key.width + kx + 1] = region.length;
        continue;
      }
      for (let k = 0; k < points * points; k++) {
        const px = columns[kx * points + (k % points)]!;
        const py = lines[ky * points + floor(k / points)]!;
        let cell = field[py * width + px]!;
        const isInk = cell < 0;
        if (cell < 0) {
          const source = ~cell;
          const sx = source % width;
          const [dx, dy] = [px - sx, py - (source - sx) / width];
          if (dx * dx + dy * dy > reach * reach)
            deep[ky * key.width + kx] = deep[ky * key.width + kx]! + 1 / (points * points);
          cell = field[source] ?? -1;
        }
        if (cell < 0) continue;
        const own = regions.ofCell[cell]!;
        let at = first;
        while (at < region.length && region[at] !== own) at++;
        if (at === region.length) {
          region.push(own);
          share.push(0);
          inked.push(0);
        }
        share[at] = share[at]! + 1 / (points * points);
        if (isInk) inked[at] = inked[at]! + 1 / (points * points);
      }
      row[ky * key.width + kx + 1] = region.length;
    }
  }
  blur(deep, new Float64Array(deep.length), key.width, key.height, kernelOf(1));
  const trust = deep.map((share) => max(0, 1 - share / MOST_DEEP));
  return {
    row,
    region: Int32Array.from(region),
    share: Float64Array.from(share),
    trust,
    inked: Float64Array.from(inked),
  };
}

/** Where points of the key lie on the page, in one direction; beyond the page's edge the key goes on as it is there. */
function pointsAlong(count: number, points: number, scale: number, shift: number, size: number): Int32Array {
  return Int32Array.from({ length: count }, (_, k) =>
    max(0, min(size - 1, floor((floor(k / points) + ((k % points) + 0.5) / points - shift) / scale))),
  );
}

/** A px is one region's from so much on. */
const WHOLE = 0.999;

/** 1 for px that, like all around them, are one region's paper; those at the rim are none. */
function plainPx({ row, region, share, inked }: Cover, width: number, height: number): Uint8Array {
  const only = new Int32Array(width * height);
  for (let p = 0; p < only.length; p++) {
    only[p] = row[p + 1]! - row[p]! === 1 && inked[row[p]!] === 0 && share[row[p]!]! > WHOLE ? region[row[p]!]! : -1;
  }
  const plain = new Uint8Array(width * height);
  for (let y = 1; y + 1 < height; y++) {
    for (let p = y * width + 1; p < (y + 1) * width - 1; p++) {
      const own = only[p]!;
      if (own < 0 || only[p - 1] !== own || only[p + 1] !== own) continue;
      let same = true;
      for (let q = p - width - 1; q <= p - width + 1; q++)
        if (only[q] !== own || only[q + 2 * width] !== own) same = false;
      if (same) plain[p] = 1;
    }
  }
  return plain;
}

/** The px of the key that any footprint covers. */
function touchedBy(footprints: readonly (Footprint | undefined)[], pixels: number): Int32Array {
  const isTouched = new Uint8Array(pixels);
  for (const one of footprints) if (one !== undefined) for (const at of one.at) isTouched[at] = 1;
  return Int32Array.from(isTouched.keys()).filter((at) => isTouched[at] === 1);
}

/** Adds to a channel of the colours what explains the rest best; the rest is used up. */
function solve(
  footprints: readonly (Footprint | undefined)[],
  touched: Int32Array,
  rest: Float64Array,
  rgb: Float64Array,
  channel: number,
): void {
  const count = footprints.length;
  const back = (image: Float64Array): Float64Array => {
    const out = new Float64Array(count);
    for (let r = 0; r < count; r++) {
      const one = footprints[r];
      if (one === undefined) continue;
      let sum = 0;
      for (let k = 0; k < one.at.length; k++) sum += one.weight[k]! * image[one.at[k]!]!;
      out[r] = sum;
    }
    return out;
  };
  let gradient = back(rest);
  const direction = gradient.slice();
  let norm = dot(gradient, gradient);
  const moved = new Float64Array(rest.length);
  for (let step = 0; step < STEPS && norm > 1e-6; step++) {
    for (const at of touched) moved[at] = 0;
    for (let r = 0; r < count; r++) {
      const one = footprints[r];
      if (one === undefined) continue;
      const by = direction[r]!;
      for (let k = 0; k < one.at.length; k++) moved[one.at[k]!] = moved[one.at[k]!]! + by * one.weight[k]!;
    }
    let along = 0;
    for (const at of touched) along += moved[at]! * moved[at]!;
    if (along === 0) return;
    const far = norm / along;
    for (let r = 0; r < count; r++) rgb[r * 3 + channel] = rgb[r * 3 + channel]! + far * direction[r]!;
    for (const at of touched) rest[at] = rest[at]! - far * moved[at]!;
    gradient = back(rest);
    const next = dot(gradient, gradient);
    for (let r = 0; r < count; r++) direction[r] = gradient[r]! + (next / norm) * direction[r]!;
    norm = next;
  }
}

/** What is less of a px does not show. */
const LEAST_SHARE = 0.003;

/** How much of each px of the blurred key a region is; only for regions that are not known. */
function footprintsOf(
  { row, region, share, trust }: Cover,
  kernel: Float64Array,
  width: number,
  height: number,
  fixed: Uint8Array,
): (Footprint | undefined)[] {
  const maps: (Map<number, number> | undefined)[] = Array.from(fixed, (known) =>
    known === 1 ? undefined : new Map<number, number>(),
  );
  const half = kernel.length - 1;
  for (let p = 0; p < width * height; p++) {
    const x = p % width;
    const y = (p - x) / width;
    for (let k = row[p]!; k < row[p + 1]!; k++) {
      const map = maps[region[k]!];
      if (map === undefined) continue;
      for (let dy = -half; dy <= half; dy++) {
        for (let dx = -half; dx <= half; dx++) {
          const [px, py] = [x + dx, y + dy];
          if (px < 0 || py < 0 || px >= width || py >= height) continue;
          const at = py * width + px;
          map.set(at, (map.get(at) ?? 0) + share[k]! * kernel[abs(dx)]! * kernel[abs(dy)]! * trust[at]!);
        }
      }
    }
  }
  return maps.map((map) => {
    if (map === undefined || map.size === 0) return undefined;
    const most = [...map].filter(([, share]) => share > LEAST_SHARE).sort(([a, v], [b, w]) => w - v || a - b);
    return { at: Int32Array.from(most, ([at]) => at), weight: Float64Array.from(most, ([, weight]) => weight) };
  });
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < a.length; k++) sum += a[k]! * b[k]!;
  return sum;
}
