import { exp } from '../exact/exactMath.ts';
import { NormalEquations } from './NormalEquations.ts';
import type { KeyRaster } from './registerKey.ts';

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

function blurRows(from: Float64Array, to: Float64Array, width: number, height: number, kernel: Float64Array): void {
  for (let y = 0; y < height; y++) blurRow(from, to, y * width, width, kernel);
}

function blurColumns(from: Float64Array, to: Float64Array, width: number, height: number, kernel: Float64Array): void {
  for (let y = 0; y < height; y++) {
    // Row by row, so that memory is read in its order.
    scaleRow(from, y * width, kernel[0]!, to, y * width, width);
    for (let k = 1; k < kernel.length; k++) {
      const up = (y < k ? 0 : y - k) * width;
      const down = (y + k < height ? y + k : height - 1) * width;
      addRows(from, up, down, kernel[k]!, to, y * width, width);
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
  key: KeyRaster,
  trust: Float64Array,
  first: Float64Array,
  times = SHAPINGS,
): Float64Array {
  const size = max(first.length, 3);
  let kernel = new Float64Array(size);
  kernel.set(first);
  for (let n = 0; n < times; n++) {
    const equations = new NormalEquations(size);
    sharp.forEach((image, channel) => gather(equations, image, key, channel, trust, kernel, n % 2 === 1));
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
  { width, height, rgb }: KeyRaster,
  channel: number,
  trust: Float64Array,
  kernel: Float64Array,
  alongRows: boolean,
): void {
  const image = new Float64Array(sharp.length);
  if (alongRows) blurColumns(sharp, image, width, height, kernel);
  else blurRows(sharp, image, width, height, kernel);
  const terms = new Float64Array(kernel.length);
  const half = kernel.length - 1;
  const [step, last] = alongRows ? [1, width - 1] : [width, height - 1];
  const every = ceil((width * height) / ENOUGH_FOR_SHAPE);
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
