import type { GreyRaster } from '../raster/GreyRaster.ts';

/** Slopes are kept as whole parts per million: px that a line which should be level rises on a million px. */
export const SLOPE_UNIT = 1_000_000;
/** No page is turned by more than this (about 11 degrees). */
export const MAX_SLOPE_PPM = 200_000;

/** A slope as an angle, clockwise, for people to read. */
export function degreesOfSlope(slopePpm: number): number {
  return (Math.atan(slopePpm / SLOPE_UNIT) * 180) / Math.PI;
}

/**
 * Turns a picture about its middle, so that lines of the given slope become level. The size stays;
 * what comes in from outside is white.
 *
 * Sampled with the cubic of Catmull and Rom 1974 in steps of 1/64 px, which keeps lines sharp; integers
 * from there on.
 *
 * @param slopePpm downward rise of a line that should be level: positive where its right end lies lower.
 * @returns a new raster. Cost: sixteen reads a pixel where there is a drawing, four where there is none.
 * @throws RangeError for a slope that is no whole number within ±{@link MAX_SLOPE_PPM}.
 */
export function straighten({ width, height, data }: GreyRaster, slopePpm: number): GreyRaster {
  if (!Number.isInteger(slopePpm) || slopePpm < -MAX_SLOPE_PPM || slopePpm > MAX_SLOPE_PPM) {
    throw new RangeError(`\`slopePpm\` must be an integer within ±${MAX_SLOPE_PPM}; received ${slopePpm}`);
  }
  const slope = slopePpm / SLOPE_UNIT;
  const cos = 1 / Math.sqrt(1 + slope * slope);
  const sin = slope * cos;
  const out = new Uint8Array(width * height);
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  for (let y = 0; y < height; y++) {
    const x0 = cx - cx * cos - (y - cy) * sin;
    const y0 = cy - cx * sin + (y - cy) * cos;
    turnRow(data, width, height, out, y * width, x0, y0, cos, sin);
  }
  return { width, height, data: out };
}

const PHASES = 64;
const WEIGHTS = cubicWeights();

/** For each phase four weights that add up to 256. */
function cubicWeights(): Int32Array {
  const weights = new Int32Array(PHASES * 4);
  for (let p = 0; p < PHASES; p++) {
    const t = p / PHASES;
    const a = Math.round(128 * (-t * t * t + 2 * t * t - t));
    const c = Math.round(128 * (-3 * t * t * t + 4 * t * t + t));
    const d = Math.round(128 * (t * t * t - t * t));
    weights.set([a, 256 - a - c - d, c, d], p * 4);
  }
  return weights;
}

function turnRow(
  data: Uint8Array,
  width: number,
  height: number,
  out: Uint8Array,
  base: number,
  x0: number,
  y0: number,
  dx: number,
  dy: number,
): void {
  const weights = WEIGHTS;
  const { floor } = Math;
  for (let x = 0; x < width; x++) {
    const sx = x0 + x * dx;
    const sy = y0 + x * dy;
    const ix = floor(sx);
    const iy = floor(sy);
    if (ix < 1 || iy < 1 || ix > width - 3 || iy > height - 3) {
      out[base + x] = ix < 0 || iy < 0 || ix >= width || iy >= height ? 255 : data[iy * width + ix]!;
      continue;
    }
    const at = iy * width + ix;
    const middle = data[at]!;
    // Flat paper and solid ink need no weighing.
    if (
      middle === data[at + 1]! &&
      middle === data[at + width]! &&
      middle === data[at + width + 1]! &&
      middle === data[at - width - 1]! &&
      middle === data[at + 2 * width + 2]! &&
      middle === data[at - width + 2]! &&
      middle === data[at + 2 * width - 1]!
    ) {
      out[base + x] = middle;
      continue;
    }
    const px = ((sx - ix) * PHASES) << 2;
    const py = ((sy - iy) * PHASES) << 2;
    const wx = px & ~3;
    const wy = py & ~3;
    let sum = 0;
    for (let k = 0; k < 4; k++) {
      const row = at + (k - 1) * width;
      sum +=
        weights[wy + k]! *
        (weights[wx]! * data[row - 1]! +
          weights[wx + 1]! * data[row]! +
          weights[wx + 2]! * data[row + 1]! +
          weights[wx + 3]! * data[row + 2]!);
    }
    const value = (sum + 32768) >> 16;
    out[base + x] = value < 0 ? 0 : value > 255 ? 255 : value;
  }
}
