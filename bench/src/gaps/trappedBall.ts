import type { Survey } from '@jumble/core';

/** Balls from this radius down, in px. */
const RADII = [16, 12, 8, 6, 4, 3, 2, 1];

/**
 * Trapped-ball segmentation (Zhang, Chen, Chan and Hu 2009): what a ball reaches without touching ink is a
 * region; what is left is filled with smaller and smaller balls, the rest grows from what lies beside it.
 * A reference to compare with: it closes gaps narrower than the ball, and rounds off corners.
 */
export function trappedBall(survey: Pick<Survey, 'field' | 'regions' | 'width' | 'height'>): {
  field: Int32Array;
  regions: Survey['regions'];
} {
  const { width, height } = survey;
  const label = Int32Array.from(survey.field, (value) => (value < 0 ? INK : FREE));
  let count = 0;
  for (const radius of RADII) {
    const toWall = distances(
      Uint8Array.from(label, (one) => (one === FREE ? 0 : 1)),
      width,
      height,
    );
    const core = Int32Array.from(label, (one, at) =>
      one === FREE && toWall.squared[at]! >= radius * radius ? FREE : INK,
    );
    const first = count;
    for (let at = 0; at < core.length; at++) if (core[at] === FREE) flood(core, at, count++, width);
    if (count === first) continue;
    // The ball covers what lies within its radius of where its middle can go.
    const toCore = distances(
      Uint8Array.from(core, (one) => (one >= 0 ? 1 : 0)),
      width,
      height,
    );
    for (let at = 0; at < label.length; at++) {
      if (label[at] === FREE && toCore.squared[at]! <= radius * radius) label[at] = core[toCore.nearest[at]!]!;
    }
  }
  count = growRest(label, count, width);
  const ofCell = Int32Array.from({ length: count }, (_, k) => k);
  return { field: label, regions: { ...survey.regions, ofCell, count } };
}

const INK = -2;
const FREE = -1;

/** Gives the free pixels that hang together with one a label. */
function flood(label: Int32Array, from: number, value: number, width: number): void {
  const stack = [from];
  label[from] = value;
  for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
    for (const next of besides(at, width)) {
      if (label[next] !== FREE) continue;
      label[next] = value;
      stack.push(next);
    }
  }
}

/** Labels grow into what no ball reached; what touches none is on its own. */
function growRest(label: Int32Array, count: number, width: number): number {
  let edge: number[] = [];
  for (let at = 0; at < label.length; at++) if (label[at]! >= 0) edge.push(at);
  while (edge.length > 0) {
    const next: number[] = [];
    for (const at of edge) {
      for (const beside of besides(at, width)) {
        if (label[beside] !== FREE) continue;
        label[beside] = label[at]!;
        next.push(beside);
      }
    }
    edge = next;
  }
  let all = count;
  for (let at = 0; at < label.length; at++) if (label[at] === FREE) flood(label, at, all++, width);
  return all;
}

function besides(at: number, width: number): number[] {
  const x = at % width;
  return [x > 0 ? at - 1 : -1, x + 1 < width ? at + 1 : -1, at - width, at + width];
}

/** Exact distance to the nearest set pixel, and which it is (Felzenszwalb and Huttenlocher 2012). */
export function distances(
  set: Uint8Array,
  width: number,
  height: number,
): { squared: Float64Array; nearest: Int32Array } {
  const column = new Float64Array(set.length).fill(Infinity);
  const row = new Int32Array(set.length).fill(-1);
  for (let x = 0; x < width; x++) {
    for (const [from, end, step] of [
      [0, height, 1],
      [height - 1, -1, -1],
    ] as const) {
      let last = -1;
      for (let y = from; y !== end; y += step) {
        const at = y * width + x;
        if (set[at] === 1) last = y;
        if (last < 0 || (y - last) ** 2 >= column[at]!) continue;
        column[at] = (y - last) ** 2;
        row[at] = last;
      }
    }
  }
  const squared = new Float64Array(set.length).fill(Infinity);
  const nearest = new Int32Array(set.length).fill(-1);
  const at = new Int32Array(width);
  const from = new Float64Array(width + 1);
  for (let y = 0; y < height; y++) {
    const base = y * width;
    let top = -1;
    for (let x = 0; x < width; x++) {
      const f = column[base + x]!;
      if (f === Infinity) continue;
      let cross = -Infinity;
      while (top >= 0) {
        const q = at[top]!;
        cross = (f + x * x - (column[base + q]! + q * q)) / (2 * (x - q));
        if (cross > from[top]!) break;
        top--;
      }
      top++;
      at[top] = x;
      from[top] = top === 0 ? -Infinity : cross;
      from[top + 1] = Infinity;
    }
    if (top < 0) continue;
    for (let x = 0, k = 0; x < width; x++) {
      while (from[k + 1]! < x) k++;
      const q = at[k]!;
      squared[base + x] = (x - q) ** 2 + column[base + q]!;
      nearest[base + x] = row[base + q]! * width + q;
    }
  }
  return { squared, nearest };
}
