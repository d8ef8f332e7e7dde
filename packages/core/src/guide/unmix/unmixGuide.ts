import { coverOf, laidOut, POINTS, type Channels, type Cover, type GuidedPage } from './coverOf.ts';
import { FootprintProducts, type Footprint, type SharedWith } from './FootprintProducts.ts';
import { blur, ENOUGH_PX, kernelOf, shapeKernel } from './guideBlur.ts';
import type { GuidePlace, GuideRaster } from '../register/registerGuide.ts';

/** Taken out: looked up a million times. */
const { abs, ceil, floor, max, min } = Math;

/** The colour of each region that makes up the key best. */
export interface UnmixedGuide {
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

/** Blurs that are tried, in px of the key, and how finely the best is found then. */
const BLURS = [0, 0.4, 0.8, 1.3, 1.8, 2.6];
const [BLUR_STEP, LEAST_BLUR_STEP] = [0.2, 0.1];
/** Narrower blurs are none. */
const LEAST_BLUR = 0.3;
/** Steps of the solver; stopping early keeps colours of regions that hardly show near the start. */
const STEPS = 6;

/**
 * A small, blurred key mixes the colours of thin and small regions with those around them. This finds the
 * colours that, laid out as the page's regions lie and blurred, give the key (least squares by conjugate
 * gradients on the normal equations, Hestenes and Stiefel 1952), starting from what the key shows at each region.
 *
 * Cost: a few looks at the whole key; after that by the px of regions that are not known.
 *
 * @param start RGB of each region, `regions * 3`. @param fixed 1 for regions whose colour is known.
 */
export function unmixGuide(
  survey: GuidedPage,
  guide: GuideRaster,
  place: GuidePlace,
  start: Float64Array,
  fixed: Uint8Array,
): UnmixedGuide {
  const cover = coverOf(survey, guide, place, POINTS);
  const { sharp, kernel, footprints } = blurredAs(start, guide, cover, fixed);
  const products = new FootprintProducts(footprints, guide.width * guide.height);
  const rgb = start.slice();
  const solving = ([0, 1, 2] as const).map((channel) => {
    const rest = takenOff(guide, cover.trust, kernel, sharp[channel], channel);
    return new Descent(Float64Array.from(footprints, (one) => (one === undefined ? 0 : alongFootprint(one, rest))));
  });
  solve(footprints, products, solving, rgb);
  const coverPx = new Float64Array(survey.regions.count);
  for (let k = 0; k < cover.region.length; k++) {
    const region = cover.region[k]!;
    coverPx[region] = coverPx[region]! + cover.share[k]!;
  }
  return { rgb, coverPx, cover, kernel, footprints };
}

/**
 * The blur with which regions of these colours, laid out as `sharp` (red, green, blue), give the key best.
 *
 * @param colours RGB of each region, `regions * 3`. @param fixed 1 for regions whose footprint nobody asks for.
 * @param near a kernel to start from. @default the best Gaussian
 */
export function blurredAs(
  colours: Float64Array,
  guide: GuideRaster,
  cover: Cover,
  fixed: Uint8Array,
  near?: Float64Array,
): Pick<UnmixedGuide, 'kernel' | 'footprints'> & { readonly sharp: Channels } {
  const sharp = laidOut(cover, colours);
  const kernel =
    near === undefined
      ? shapeKernel(sharp, guide, cover.trust, bestGaussian(sharp, guide, cover))
      : shapeKernel(sharp, guide, cover.trust, near, 1);
  return { sharp, kernel, footprints: footprintsOf(cover, kernel, guide.width, guide.height, fixed) };
}

/** Bands of rows that a large key's blur is looked for in. */
const BANDS = 4;

/** The Gaussian blur that explains a key best. */
function bestGaussian([, green]: Channels, guide: GuideRaster, cover: Cover): Float64Array {
  const { width, height } = guide;
  const rows = ceil(min(height, ENOUGH_PX / width) / BANDS);
  const errorOf = (blurPx: number): number => {
    const kernel = kernelOf(blurPx);
    let error = 0;
    for (let band = 0; band < BANDS; band++) {
      const from = floor(((height - rows) * band) / (BANDS - 1)) * width;
      const to = from + rows * width;
      const part = { width, height: rows, rgb: guide.rgb.subarray(from * 3, to * 3) };
      // Green shows most of a blur.
      const rest = takenOff(part, cover.trust.subarray(from, to), kernel, green.slice(from, to), 1);
      error += dot(rest, rest);
    }
    return error;
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

/**
 * What is left of the key when every region has the colour given, as far as its px are to be trusted: RGB of each px.
 *
 * @param colours RGB of each region, `regions * 3`.
 */
export function restOf(guide: GuideRaster, cover: Cover, kernel: Float64Array, colours: Float64Array): Float64Array {
  const rest = new Float64Array(guide.width * guide.height * 3);
  laidOut(cover, colours).forEach((image, channel) => {
    takenOff(guide, cover.trust, kernel, image, channel);
    for (let p = 0; p < image.length; p++) rest[3 * p + channel] = image[p]!;
  });
  return rest;
}

/** What is left of a channel of the key beyond a picture, which is written over. */
function takenOff(
  { width, height, rgb }: GuideRaster,
  trust: Float64Array,
  kernel: Float64Array,
  rest: Float64Array,
  channel: number,
): Float64Array {
  blur(rest, new Float64Array(rest.length), width, height, kernel);
  for (let p = 0; p < rest.length; p++) rest[p] = (rgb[p * 3 + channel]! - rest[p]!) * trust[p]!;
  return rest;
}

/** Gradients smaller than this lead nowhere. */
const LEAST_GRADIENT = 1e-6;

/** Where the solver of one channel stands. */
class Descent {
  readonly direction: Float64Array;
  readonly moved: Float64Array;
  private norm: number;
  private isDone = false;

  /** @param gradient by region; it is written over. */
  constructor(private readonly gradient: Float64Array) {
    this.direction = gradient.slice();
    this.moved = new Float64Array(gradient.length);
    this.norm = dot(gradient, gradient);
  }

  /** Goes as far in its direction as is best, once `moved` says what comes of it. @param rgb of each region; a channel is changed. */
  step(rgb: Float64Array, channel: number): void {
    const { direction, moved, gradient, norm } = this;
    const along = dot(moved, direction);
    if (this.isDone || norm <= LEAST_GRADIENT || along <= 0) {
      this.isDone = true;
      return;
    }
    const far = norm / along;
    for (let r = 0; r < moved.length; r++) {
      rgb[r * 3 + channel] = rgb[r * 3 + channel]! + far * direction[r]!;
      gradient[r] = gradient[r]! - far * moved[r]!;
    }
    this.norm = dot(gradient, gradient);
    for (let r = 0; r < moved.length; r++) direction[r] = gradient[r]! + (this.norm / norm) * direction[r]!;
  }
}

/** Adds to the colours what explains the rest best: all channels at once, for they share the equations. */
function solve(
  footprints: readonly (Footprint | undefined)[],
  products: FootprintProducts,
  channels: readonly Descent[],
  rgb: Float64Array,
): void {
  const [red, green, blue] = channels as unknown as readonly [Descent, Descent, Descent];
  for (let step = 0; step < STEPS; step++) {
    for (let region = 0; region < footprints.length; region++) {
      if (footprints[region] !== undefined) alongRow(products.of(region), region, red, green, blue);
    }
    channels.forEach((descent, channel) => descent.step(rgb, channel));
  }
}

/** The sum of an image's px, each as much as it is the region's. */
function alongFootprint({ at, weight }: Footprint, image: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < at.length; k++) sum += weight[k]! * image[at[k]!]!;
  return sum;
}

/** What comes of the directions at one region. */
function alongRow(
  { regions, products }: SharedWith,
  region: number,
  red: Descent,
  green: Descent,
  blue: Descent,
): void {
  const [alongRed, alongGreen, alongBlue] = [red.direction, green.direction, blue.direction];
  let [r, g, b] = [0, 0, 0];
  for (let k = 0; k < regions.length; k++) {
    const other = regions[k]!;
    const product = products[k]!;
    r += product * alongRed[other]!;
    g += product * alongGreen[other]!;
    b += product * alongBlue[other]!;
  }
  red.moved[region] = r;
  green.moved[region] = g;
  blue.moved[region] = b;
}

/** What is less of a px does not show. */
const LEAST_SHARE = 0.003;
/** Shares that are told apart when px are put in order. */
const FINENESS = 1024;

/** How much of each px of the blurred key a region is; only for regions that are not known. */
function footprintsOf(
  cover: Cover,
  kernel: Float64Array,
  width: number,
  height: number,
  fixed: Uint8Array,
): (Footprint | undefined)[] {
  const blurred: Blurred = { sum: new Float64Array(width * height), touched: new Int32Array(width * height), size: 0 };
  const footprints = Array.from<Footprint | undefined>({ length: fixed.length });
  for (let region = 0; region < fixed.length; region++) {
    if (fixed[region] === 1 || cover.byRegion.start[region] === cover.byRegion.start[region + 1]) continue;
    blurRegion(blurred, cover, region, kernel, width, height);
    footprints[region] = footprintOf(blurred, cover.trust);
  }
  return footprints;
}

/** What one region is blurred to when it is blurred, and which px that are. */
interface Blurred {
  readonly sum: Float64Array;
  readonly touched: Int32Array;
  size: number;
}

function blurRegion(
  blurred: Blurred,
  { share, byRegion: { start, entry, px } }: Cover,
  region: number,
  kernel: Float64Array,
  width: number,
  height: number,
): void {
  blurred.size = 0;
  const end = start[region + 1]!;
  for (let k = start[region]!; k < end; k++) addBlurred(blurred, px[k]!, share[entry[k]!]!, kernel, width, height);
}

/** The px that show the region, in order; what was blurred is wiped out. */
function footprintOf({ sum, touched, size }: Blurred, trust: Float64Array): Footprint {
  // Numbers that are in order when the px are: by how much they are the region's, roughly, then by place.
  const order = new Float64Array(size);
  let shown = 0;
  for (let k = 0; k < size; k++) {
    const at = touched[k]!;
    const much = sum[at]! * trust[at]!;
    if (much > LEAST_SHARE) order[shown++] = floor(FINENESS * (2 - much)) * sum.length + at;
  }
  const sorted = order.subarray(0, shown).sort();
  const at = new Int32Array(shown);
  const weight = new Float64Array(shown);
  for (let k = 0; k < shown; k++) {
    const px = sorted[k]! % sum.length;
    at[k] = px;
    weight[k] = sum[px]! * trust[px]!;
  }
  for (let k = 0; k < size; k++) sum[touched[k]!] = 0;
  return { at, weight };
}

/** Adds what a px is blurred to when it is blurred; notes the px that nothing was added to before. */
function addBlurred(
  blurred: Blurred,
  p: number,
  share: number,
  kernel: Float64Array,
  width: number,
  height: number,
): void {
  const { sum, touched } = blurred;
  const half = kernel.length - 1;
  const x = p % width;
  const y = (p - x) / width;
  const [left, right] = [max(0, x - half), min(width - 1, x + half)];
  const bottom = min(height - 1, y + half);
  let { size } = blurred;
  for (let py = max(0, y - half); py <= bottom; py++) {
    const by = share * kernel[abs(py - y)]!;
    for (let qx = left; qx <= right; qx++) {
      const at = py * width + qx;
      if (sum[at] === 0) touched[size++] = at;
      sum[at] = sum[at]! + by * kernel[abs(qx - x)]!;
    }
  }
  blurred.size = size;
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < a.length; k++) sum += a[k]! * b[k]!;
  return sum;
}
