import { exp } from '../../exact/exactMath.ts';
import { NormalEquations } from './NormalEquations.ts';
import type { GuideRaster } from '../register/registerGuide.ts';

/** Taken out: looked up a million times. */
const { abs, ceil, max, min } = Math;

/** Half of a blur's kernel, from its middle outwards; its sum over both sides is 1. */
export function kernelOf(sigma: number): Float64Array {
  if (sigma === 0) return Float64Array.of(1);
  const half = ceil(sigma * 2.6);
  const kernel = Float64Array.from({ length: half + 1 }, (_, k) => exp(-(k * k) / (2 * sigma * sigma)));
  const sum = kernel.reduce((all, v, k) => all + (k === 0 ? v : 2 * v), 0);
  return kernel.map((v) => v / sum);
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
  blurRows(image, scratch, width, height, kernel);
  blurColumns(scratch, image, width, height, kernel);
}

/** Px that are summed up side by side: each value of the kernel is read once for all of them. */
const ABREAST = 4;

function blurRows(from: Float64Array, to: Float64Array, width: number, height: number, kernel: Float64Array): void {
  const half = kernel.length - 1;
  const padded = new Float64Array(width + 2 * half + ABREAST);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    padded.fill(from[row]!, 0, half);
    padded.set(from.subarray(row, row + width), half);
    padded.fill(from[row + width - 1]!, half + width);
    blurRow(padded, to, row, width, kernel);
  }
}

/** @param padded a row with its rim repeated on both sides. @param out gets the row from `to` on. */
function blurRow(padded: Float64Array, out: Float64Array, to: number, width: number, kernel: Float64Array): void {
  const half = kernel.length - 1;
  const own = kernel[0]!;
  for (let x = 0; x < width; x += ABREAST) {
    const at = x + half;
    let a = padded[at]! * own;
    let b = padded[at + 1]! * own;
    let c = padded[at + 2]! * own;
    let d = padded[at + 3]! * own;
    for (let k = 1; k <= half; k++) {
      const by = kernel[k]!;
      const left = at - k;
      const right = at + k;
      a += by * (padded[left]! + padded[right]!);
      b += by * (padded[left + 1]! + padded[right + 1]!);
      c += by * (padded[left + 2]! + padded[right + 2]!);
      d += by * (padded[left + 3]! + padded[right + 3]!);
    }
    const place = to + x;
    out[place] = a;
    if (x + 1 < width) out[place + 1] = b;
    if (x + 2 < width) out[place + 2] = c;
    if (x + 3 < width) out[place + 3] = d;
  }
}

/** @param every rows from the first on are blurred, the others left out. */
function blurColumns(
  from: Float64Array,
  to: Float64Array,
  width: number,
  height: number,
  kernel: Float64Array,
  every = 1,
): void {
  const up = new Int32Array(kernel.length);
  const down = new Int32Array(kernel.length);
  for (let y = 0; y < height; y += every) {
    for (let k = 0; k < kernel.length; k++) {
      up[k] = max(0, y - k) * width;
      down[k] = min(height - 1, y + k) * width;
    }
    sumRows(from, up, down, kernel, to, y * width, width);
  }
}

/** @param up @param down where the rows begin that each value of the kernel is for. */
function sumRows(
  from: Float64Array,
  up: Int32Array,
  down: Int32Array,
  kernel: Float64Array,
  out: Float64Array,
  to: number,
  width: number,
): void {
  const own = kernel[0]!;
  let x = 0;
  for (; x + ABREAST <= width; x += ABREAST) {
    let a = from[to + x]! * own;
    let b = from[to + x + 1]! * own;
    let c = from[to + x + 2]! * own;
    let d = from[to + x + 3]! * own;
    for (let k = 1; k < kernel.length; k++) {
      const by = kernel[k]!;
      const one = up[k]! + x;
      const two = down[k]! + x;
      a += by * (from[one]! + from[two]!);
      b += by * (from[one + 1]! + from[two + 1]!);
      c += by * (from[one + 2]! + from[two + 2]!);
      d += by * (from[one + 3]! + from[two + 3]!);
    }
    out[to + x] = a;
    out[to + x + 1] = b;
    out[to + x + 2] = c;
    out[to + x + 3] = d;
  }
  for (; x < width; x++) {
    let sum = from[to + x]! * own;
    for (let k = 1; k < kernel.length; k++) sum += kernel[k]! * (from[up[k]! + x]! + from[down[k]! + x]!);
    out[to + x] = sum;
  }
}

/** Times a Gaussian is shaped, in turn from what it does down the columns and along the rows. */
const SHAPINGS = 3;
/** A px of the key that is so far off says half as much. */
const OFF = 10;
/** So many px of a key tell where it lies: of a larger one some rows are left out. And so many tell the shape of its blur. */
export const ENOUGH_PX = 65_000;
const ENOUGH_FOR_SHAPE = 22_000;
/** A kernel goes on as long as it has so much of the whole. */
const LEAST_OF_KERNEL = 0.004;

/**
 * The kernel near a given one with which an image gives the key best: what makes a picture small and soft is no
 * Gaussian. What it does down the columns is found by least squares while along the rows it does what is known, and
 * the other way round; px that are far off count less (Holland and Welsch 1977).
 *
 * @param sharp red, green and blue of what was blurred. @param trust of each px, 0..1. @param times it is shaped.
 */
export function shapeKernel(
  sharp: readonly Float64Array[],
  guide: GuideRaster,
  trust: Float64Array,
  first: Float64Array,
  times = SHAPINGS,
): Float64Array {
  const size = max(first.length, 3);
  let kernel = new Float64Array(size);
  kernel.set(first);
  for (let n = 0; n < times; n++) {
    const equations = new NormalEquations(size);
    sharp.forEach((image, channel) => gather(equations, image, guide, channel, trust, kernel, n % 2 === 1));
    const found = equations.solve();
    if (found === null) break;
    const all = wholeOf(found);
    // What is no blur at all does not explain the key.
    if (all < 0.5 || all > 2) break;
    kernel = found.map((v) => v / all);
  }
  let last = size;
  while (last > 1 && abs(kernel[last - 1]!) < LEAST_OF_KERNEL) last--;
  const cut = kernel.subarray(0, last);
  const all = wholeOf(cut);
  return cut.map((v) => v / all);
}

/** What each value of a kernel would add to each px, against what the key has there. */
function gather(
  equations: NormalEquations,
  sharp: Float64Array,
  { width, height, rgb }: GuideRaster,
  channel: number,
  trust: Float64Array,
  kernel: Float64Array,
  alongRows: boolean,
): void {
  const image = new Float64Array(sharp.length);
  const every = ceil((width * height) / ENOUGH_FOR_SHAPE);
  if (alongRows) blurColumns(sharp, image, width, height, kernel, every);
  else blurRows(sharp, image, width, height, kernel);
  const terms = new Float64Array(kernel.length);
  const half = kernel.length - 1;
  const [step, last] = alongRows ? [1, width - 1] : [width, height - 1];
  for (let y = 0; y < height; y += every) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      if (trust[p] === 0) continue;
      const at = alongRows ? x : y;
      // Where all is of one colour no blur is seen.
      if (isFlat(image, p, step, at, last, half)) continue;
      let now = 0;
      for (let k = 0; k < terms.length; k++) {
        const before = p - min(at, k) * step;
        const after = p + min(last - at, k) * step;
        terms[k] = k === 0 ? image[p]! : image[before]! + image[after]!;
        now += kernel[k]! * terms[k]!;
      }
      const wanted = rgb[p * 3 + channel]!;
      const off = (wanted - now) / OFF;
      equations.add(terms, wanted, trust[p]! / ((1 + off * off) * (1 + off * off)));
    }
  }
}

/** Whether the px beside one, and those as far off as a kernel reaches, are as it is. */
function isFlat(image: Float64Array, p: number, step: number, at: number, last: number, half: number): boolean {
  const own = image[p]!;
  return (
    image[p - min(at, half) * step] === own &&
    image[p + min(last - at, half) * step] === own &&
    image[p - min(at, 1) * step] === own &&
    image[p + min(last - at, 1) * step] === own
  );
}

/** The sum over both sides of a kernel. */
function wholeOf(kernel: Float64Array): number {
  return kernel.reduce((all, v, k) => all + (k === 0 ? v : 2 * v), 0);
}
