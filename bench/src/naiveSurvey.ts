import type { GreyRaster } from '@jumble/core';

/**
 * What a first textbook version does: threshold, flood fill with a stack, and the exact distance
 * transform with nearest sites by lower envelopes of parabolas over every row and column
 * (Felzenszwalb and Huttenlocher 2012). The reference for the speed of the survey.
 */
export function naiveSurvey(grey: GreyRaster): { labels: Int32Array; nearest: Int32Array } {
  const { width, height, data } = grey;
  const n = width * height;
  const labels = new Int32Array(n);
  let count = 0;
  const stack: number[] = [];
  for (let start = 0; start < n; start++) {
    if (labels[start] !== 0 || data[start]! < 128) continue;
    labels[start] = ++count;
    stack.push(start);
    while (stack.length > 0) {
      const at = stack.pop()!;
      const x = at % width;
      const visit = (other: number): void => {
        if (labels[other] === 0 && data[other]! >= 128) {
          labels[other] = count;
          stack.push(other);
        }
      };
      if (x > 0) visit(at - 1);
      if (x < width - 1) visit(at + 1);
      if (at >= width) visit(at - width);
      if (at < n - width) visit(at + width);
    }
  }
  return { labels, nearest: nearestPaper(labels, width, height) };
}

function nearestPaper(labels: Int32Array, width: number, height: number): Int32Array {
  const FAR = 1e12;
  const distance = Float64Array.from(labels, (label) => (label > 0 ? 0 : FAR));
  const nearest = Int32Array.from(labels, (_, i) => i);
  const side = Math.max(width, height);
  const f = new Float64Array(side);
  const site = new Int32Array(side);
  const v = new Int32Array(side);
  const z = new Float64Array(side + 1);
  const pass = (first: number, step: number, length: number): void => {
    for (let q = 0; q < length; q++) {
      f[q] = distance[first + q * step]!;
      site[q] = nearest[first + q * step]!;
    }
    let k = 0;
    v[0] = 0;
    z[0] = -Infinity;
    z[1] = Infinity;
    for (let q = 1; q < length; q++) {
      let s = (f[q]! + q * q - (f[v[k]!]! + v[k]! * v[k]!)) / (2 * q - 2 * v[k]!);
      while (s <= z[k]!) {
        k--;
        s = (f[q]! + q * q - (f[v[k]!]! + v[k]! * v[k]!)) / (2 * q - 2 * v[k]!);
      }
      k++;
      v[k] = q;
      z[k] = s;
      z[k + 1] = Infinity;
    }
    k = 0;
    for (let q = 0; q < length; q++) {
      while (z[k + 1]! < q) k++;
      distance[first + q * step] = (q - v[k]!) * (q - v[k]!) + f[v[k]!]!;
      nearest[first + q * step] = site[v[k]!]!;
    }
  };
  for (let x = 0; x < width; x++) pass(x, width, height);
  for (let y = 0; y < height; y++) pass(y * width, 1, width);
  return nearest;
}
