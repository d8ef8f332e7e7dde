import type { GreyRaster } from '../raster/GreyRaster.ts';
import { MAX_SLOPE_PPM, SLOPE_UNIT } from './straighten.ts';

/** How a page lies on the scanner's glass. */
export interface Skew {
  /** See {@link straighten}. */
  readonly slopePpm: number;
  /** How far the best slope stands out from the rest: 1 and more is a page with straight frames. */
  readonly certainty: number;
}

/** Slopes up to this are looked for (5.1 degrees). */
const REACH_PPM = 90_000;
const COARSE_STEP_PPM = 750;
/** About so many points of edges are looked at in each direction. */
const POINTS = 24_000;
/** An edge continues on the next sample where it shifts by no more than so many px. */
const EDGE_PX = 3;

/**
 * Measures by how much a page is turned, from the straight lines on it: panel frames, mostly. Places
 * where paper turns to ink are binned along lines of every slope, level and upright ones together
 * (Hough 1962, with the squared profile of Postl 1986 as the measure); the best slope is then refined on
 * the lines that carry it.
 *
 * @param grey as scanned. @param threshold greys below are ink.
 * @returns null where nothing on the page is straight.
 */
export function measureSkew(grey: GreyRaster, threshold: number): Skew | null {
  const level = edgePoints(grey, threshold, false);
  const upright = edgePoints(grey, threshold, true);
  if (level.length + upright.length < 400) return null;
  const sides = [
    { points: level, size: grey.height, reach: grey.width, sign: 1 },
    { points: upright, size: grey.width, reach: grey.height, sign: -1 },
  ].map((side) => ({ ...side, bins: new Int32Array(Math.ceil(side.size + 2 * side.reach * 0.1) + 8) }));
  const scoreAt = (ppm: number): number => {
    let score = 0;
    for (const { points, bins, reach, sign } of sides)
      score += profileScore(points, (sign * ppm) / SLOPE_UNIT, reach, bins);
    return score;
  };

  const scores: number[] = [];
  let best = 0;
  for (let ppm = -REACH_PPM; ppm <= REACH_PPM; ppm += COARSE_STEP_PPM) {
    scores.push(scoreAt(ppm));
    if (scores.at(-1)! > scores[best]!) best = scores.length - 1;
  }
  const typical = [...scores].sort((a, b) => a - b)[scores.length >> 1]!;
  let slopePpm = best * COARSE_STEP_PPM - REACH_PPM;
  let top = scores[best]!;
  for (let step = COARSE_STEP_PPM / 3; step >= 20; step = Math.floor(step / 2)) {
    for (const next of [slopePpm - step, slopePpm + step]) {
      const score = scoreAt(next);
      if (score > top) {
        top = score;
        slopePpm = next;
      }
    }
  }
  for (let round = 0; round < 3; round++) {
    const lines = sides.flatMap(({ points, bins, reach, sign }) =>
      fitLines(points, (sign * slopePpm) / SLOPE_UNIT, reach, bins).map((line) => ({
        ...line,
        slope: sign * line.slope,
      })),
    );
    if (lines.length === 0) return null;
    slopePpm = Math.round(agreedSlope(lines) * SLOPE_UNIT);
  }
  const certainty = typical === 0 ? 0 : top / typical - 1;
  if (certainty < LEAST_CERTAINTY || Math.abs(slopePpm) > Math.min(REACH_PPM, MAX_SLOPE_PPM)) return null;
  return { slopePpm, certainty };
}

/** Below this a page has no straight lines to speak of. */
const LEAST_CERTAINTY = 0.5;

/** `[along, across]` of edge points: where paper turns to ink going across, to a part of a pixel by the greys there. */
function edgePoints({ width, height, data }: GreyRaster, threshold: number, upright: boolean): Float64Array {
  const [alongSize, acrossSize] = upright ? [height, width] : [width, height];
  const [alongStep, acrossStep] = upright ? [width, 1] : [1, width];
  const stride = Math.max(1, Math.round(alongSize / 700));
  const found: number[] = [];
  for (let along = stride; along < alongSize - stride; along += stride) {
    let at = along * alongStep + acrossStep;
    for (let across = 1; across < acrossSize; across++, at += acrossStep) {
      if (data[at]! >= threshold || data[at - acrossStep]! < threshold) continue;
      // A straight edge goes on to both sides; hatching and lettering mostly do not.
      if (goesOn(data, at, stride * alongStep, acrossStep, threshold, across, acrossSize)) {
        const [paper, ink] = [data[at - acrossStep]!, data[at]!];
        found.push(along, across - 1 + (paper - threshold) / (paper - ink));
      }
    }
  }
  const every = Math.max(1, Math.ceil(found.length / 2 / POINTS));
  if (every === 1) return Float64Array.from(found);
  const kept: number[] = [];
  for (let k = 0; k < found.length; k += 2 * every) kept.push(found[k]!, found[k + 1]!);
  return Float64Array.from(kept);
}

function goesOn(
  data: Uint8Array,
  at: number,
  aside: number,
  acrossStep: number,
  threshold: number,
  across: number,
  size: number,
): boolean {
  for (const side of [at - aside, at + aside]) {
    let found = false;
    for (let d = -EDGE_PX; d <= EDGE_PX && !found; d++) {
      if (across + d < 1 || across + d >= size) continue;
      const there = side + d * acrossStep;
      found = data[there]! < threshold && data[there - acrossStep]! >= threshold;
    }
    if (!found) return false;
  }
  return true;
}

/** Bins points along lines of a slope; the sum of the squares is large where many fall into few bins. */
function profileScore(points: Float64Array, slope: number, reach: number, bins: Int32Array): number {
  fillBins(points, slope, reach, bins);
  let score = 0;
  for (let k = 1; k < bins.length; k++) {
    // Two neighbours together, so that a line between two bins counts as much as one inside.
    const both = bins[k]! + bins[k - 1]!;
    score += both * both;
  }
  return score;
}

function fillBins(points: Float64Array, slope: number, reach: number, bins: Int32Array): void {
  const { floor } = Math;
  const shift = reach * 0.1 + 2;
  bins.fill(0);
  for (let k = 0; k < points.length; k += 2) {
    const bin = floor(points[k + 1]! - slope * points[k]! + shift);
    if (bin >= 0 && bin < bins.length) bins[bin] = bins[bin]! + 1;
  }
}

interface FittedLine {
  readonly slope: number;
  /** How much it says: points times the square of their spread. */
  readonly weight: number;
}

/** Lines further from the middle one than this are slanted by the artist, not by the scanner. */
const AGREE = 0.0012;

/** The mean of the lines that agree with the weighted middle one. */
function agreedSlope(lines: FittedLine[]): number {
  const sorted = [...lines].sort((a, b) => a.slope - b.slope || a.weight - b.weight);
  const total = sorted.reduce((sum, line) => sum + line.weight, 0);
  let passed = 0;
  const middle = sorted.find((line) => (passed += line.weight) * 2 >= total)!.slope;
  let weight = 0;
  let sum = 0;
  for (const line of sorted) {
    if (Math.abs(line.slope - middle) > AGREE) continue;
    weight += line.weight;
    sum += line.slope * line.weight;
  }
  return sum / weight;
}

/** Least squares along the lines that carry the most points. */
function fitLines(points: Float64Array, slope: number, reach: number, bins: Int32Array): FittedLine[] {
  fillBins(points, slope, reach, bins);
  const shift = reach * 0.1 + 2;
  let most = 0;
  for (const count of bins) most = Math.max(most, count);
  if (most < 12) return [];
  // Peaks: bins that are the fullest within three px.
  const lineOf = new Int32Array(bins.length).fill(-1);
  const sums: { n: number; a: number; c: number; aa: number; ac: number }[] = [];
  for (let k = 2; k + 2 < bins.length; k++) {
    const here = bins[k]!;
    if (here * 4 < most || here < bins[k - 1]! || here <= bins[k + 1]! || here < bins[k - 2]! || here <= bins[k + 2]!)
      continue;
    for (let d = -1; d <= 1; d++) lineOf[k + d] = sums.length;
    sums.push({ n: 0, a: 0, c: 0, aa: 0, ac: 0 });
  }
  for (let k = 0; k < points.length; k += 2) {
    const line = lineOf[Math.floor(points[k + 1]! - slope * points[k]! + shift)] ?? -1;
    if (line < 0) continue;
    const one = sums[line]!;
    const [a, c] = [points[k]!, points[k + 1]!];
    one.n++;
    one.a += a;
    one.c += c;
    one.aa += a * a;
    one.ac += a * c;
  }
  return sums.flatMap(({ n, a, c, aa, ac }): FittedLine[] => {
    const spread = aa - (a * a) / n;
    return n < 12 || spread <= 0 ? [] : [{ slope: (ac - (a * c) / n) / spread, weight: spread }];
  });
}
