import type { InkPoints } from '../model/inkMeasures.ts';
import type { GreyRaster } from '../raster/GreyRaster.ts';

/**
 * Counts every grey value. Line art is mostly one value for long stretches, so equal words are
 * counted together.
 *
 * @param data beginning on a multiple of four bytes.
 */
export function greyHistogram(data: Uint8Array): Uint32Array {
  const histogram = new Uint32Array(256);
  const words = new Uint32Array(data.buffer, data.byteOffset, data.length >>> 2);
  let k = 0;
  while (k < words.length) {
    const word = words[k]!;
    const from = k++;
    while (k < words.length && words[k] === word) k++;
    const times = k - from;
    histogram[word & 255]! += times;
    histogram[(word >>> 8) & 255]! += times;
    histogram[(word >>> 16) & 255]! += times;
    histogram[word >>> 24]! += times;
  }
  for (let i = words.length * 4; i < data.length; i++) histogram[data[i]!]!++;
  return histogram;
}

/**
 * Finds the black and the white point of a page by itself.
 *
 * White is the bright mode of the histogram, less the spread of the paper's own noise; black is the
 * tenth percentile of the dark class that Otsu's threshold splits off (Otsu 1979), which holds on
 * pages with little ink as on pages with much of it, or the noise of solid black, where that reaches higher.
 */
export function measureInkPoints(grey: GreyRaster): InkPoints {
  return inkPointsOfHistogram(greyHistogram(grey.data));
}

export function inkPointsOfHistogram(histogram: Uint32Array): InkPoints {
  const threshold = otsuThreshold(histogram);

  // Paper: the fullest value above the threshold, and how far its noise reaches down.
  let mode = 255;
  let most = -1;
  let bright = 0;
  for (let v = 255; v > threshold; v--) {
    bright += histogram[v]!;
    if (histogram[v]! > most) {
      most = histogram[v]!;
      mode = v;
    }
  }
  if (bright === 0) mode = 255;
  let below = 0;
  let squares = 0;
  for (let v = Math.max(threshold + 1, mode - 48); v < mode; v++) {
    const reach = mode - v;
    // Only the paper's own bell counts, not the fringe of the lines beyond it.
    if (histogram[v]! * 200 < most) continue;
    below += histogram[v]!;
    squares += histogram[v]! * reach * reach;
  }
  const spread = below === 0 ? 0 : Math.sqrt(squares / below);
  let whitePoint = Math.max(1, Math.round(mode - 4 * spread));

  // Ink: a low percentile of the dark class, and as far up as the noise of solid black reaches.
  let dark = 0;
  for (let v = 0; v <= threshold; v++) dark += histogram[v]!;
  let blackPoint = 0;
  for (let v = 0, sum = 0; v <= threshold; v++) {
    sum += histogram[v]!;
    if (sum * 10 >= dark && sum > 0) {
      blackPoint = v;
      break;
    }
  }
  blackPoint = Math.max(blackPoint, solidPoint(histogram, threshold));
  // A page without ink has no dark class worth the name: nothing on it may turn into ink.
  if (dark === 0 || blackPoint > 200 || whitePoint - blackPoint < 24) {
    blackPoint = Math.min(blackPoint, Math.max(0, Math.min(96, whitePoint - 24)));
    whitePoint = Math.max(whitePoint, blackPoint + 24);
  }
  return { blackPoint: Math.min(254, blackPoint), whitePoint: Math.min(255, whitePoint) };
}

/** Up to where the noise of solid black reaches: the fullest dark value and four times the spread below it. */
function solidPoint(histogram: Uint32Array, threshold: number): number {
  let mode = 0;
  for (let v = 0; v <= threshold >> 1; v++) if (histogram[v]! > histogram[mode]!) mode = v;
  let below = 0;
  let squares = 0;
  for (let v = Math.max(0, mode - 24); v < mode; v++) {
    below += histogram[v]!;
    squares += histogram[v]! * (mode - v) * (mode - v);
  }
  const spread = below === 0 ? 0 : Math.sqrt(squares / below);
  return Math.min(threshold >> 1, Math.round(mode + 4 * spread));
}

/** Otsu's threshold in integers and one division a step: values up to it are the dark class. */
function otsuThreshold(histogram: Uint32Array): number {
  let total = 0;
  let sum = 0;
  for (let v = 0; v < 256; v++) {
    total += histogram[v]!;
    sum += v * histogram[v]!;
  }
  let best = -1;
  let first = 127;
  let last = 127;
  let count = 0;
  let countSum = 0;
  for (let v = 0; v < 255; v++) {
    count += histogram[v]!;
    countSum += v * histogram[v]!;
    const rest = total - count;
    if (count === 0 || rest === 0) continue;
    const difference = countSum / count - (sum - countSum) / rest;
    const between = count * rest * difference * difference;
    if (between > best) {
      best = between;
      first = last = v;
    } else if (between === best) {
      last = v;
    }
  }
  return (first + last) >> 1;
}
