import { NO_PAPER } from '../../raster/spreadIntoInk.ts';
import { type Proposal, quantised } from './Proposal.ts';
import { Int32Stack } from '../../raster/growable.ts';
import type { InkGrid } from '../../skeleton/InkGrid.ts';
import { neighbourOffsets } from '../../skeleton/thinInk.ts';

/** The smaller side must widen at least so much behind a neck. */
const WIDENS = 1.08;
const STEPS_PER_PX = 4;

/**
 * Narrow places of the paper between two wider ones: the paper is flooded in the order of falling
 * distance to ink; where two floods meet lies a neck, if both have been wider (watershed by
 * union-find, Najman and Couprie 2006). Where a pixel touches one flood only, nothing is decided: it
 * points to a neighbour flooded before it, and only the others are sorted and flooded one by one.
 *
 * @param paper distances inside the paper. @param limit widest neck in px of the grid.
 */
export function findNecks(paper: InkGrid, limit: number): Proposal[] {
  const { width, height } = paper;
  const pixels = width * height;
  // Where two floods meet farther from ink than this the neck is wider than the limit: it is none.
  const deep = Math.ceil(1 + STEPS_PER_PX * (limit / 2 + 1)) + 1;
  const step = measureSteps(paper);
  const parent = new Int32Array(pixels).fill(-1);
  const peak = new Uint16Array(pixels);
  floodDeep(width, height, step, deep, parent, peak);
  const meeting = pointAhead(width, height, step, deep, parent);
  const order = sortFalling(meeting.data.subarray(0, meeting.length), step, deep);
  const necks: Proposal[] = [];
  for (let k = 0; k < order.length; k++) flood(order[k]!, width, height, step, parent, peak, limit, paper, necks);
  return necks;
}

/** Distances to ink in steps, 0 on ink and where the page holds none. */
function measureSteps({ width, height, nearest }: InkGrid): Uint16Array {
  const step = new Uint16Array(width * height);
  for (let y = 0; y < height; y++) measureRowSteps(nearest, y, width, step);
  return step;
}

function measureRowSteps(nearest: Int32Array, y: number, width: number, step: Uint16Array): void {
  const inverse = 1 / width;
  for (let x = 0, at = y * width; x < width; x++, at++) {
    const source = nearest[at]!;
    if (source >= 0 || source === NO_PAPER) continue;
    const s = ~source;
    // Multiplying is faster than dividing, and the half keeps it exact.
    const sy = ((s + 0.5) * inverse) | 0;
    const dx = x - (s - sy * width);
    const dy = y - sy;
    step[at] = Math.min(0xfffe, 1 + ((Math.sqrt(dx * dx + dy * dy) * STEPS_PER_PX) | 0));
  }
}

/**
 * Lets every pixel that touches one flood only point to a neighbour in it. A neighbour is flooded before a pixel where
 * it lies deeper, or as deep and before it in reading order.
 *
 * @returns the other pixels, in reading order.
 */
function pointAhead(width: number, height: number, step: Uint16Array, deep: number, parent: Int32Array): Int32Stack {
  const others = new Int32Stack(4 * (width + height));
  const offsets = neighbourOffsets(width);
  for (let y = 0; y < height; y++) {
    others.reserve(width);
    pointRowAhead(y, width, height, step, deep, parent, offsets, others);
  }
  return others;
}

function pointRowAhead(
  y: number,
  width: number,
  height: number,
  step: Uint16Array,
  deep: number,
  parent: Int32Array,
  offsets: readonly number[],
  others: Int32Stack,
): void {
  const edge = y === 0 || y === height - 1;
  const row = y * width;
  const top = edge ? row : row - width;
  const bottom = edge ? row : row + width;
  const { data } = others;
  let { length } = others;
  // The three columns around a pixel: only the one to the right is new.
  let upLeft = 0;
  let left = 0;
  let downLeft = 0;
  let up = step[top]!;
  let own = step[row]!;
  let down = step[bottom]!;
  for (let x = 0, at = row; x < width; x++, at++) {
    const last = x + 1 === width ? x : x + 1;
    const upRight = step[top + last]!;
    const right = step[row + last]!;
    const downRight = step[bottom + last]!;
    if (own > 0 && own < deep) {
      // The sign of a difference, not a branch: which way it goes is a toss-up at most pixels.
      const code =
        ((own - right) >>> 31) |
        (((own - downRight) >>> 30) & 2) |
        (((own - down) >>> 29) & 4) |
        (((own - downLeft) >>> 28) & 8) |
        (((own - 1 - left) >>> 27) & 16) |
        (((own - 1 - upLeft) >>> 26) & 32) |
        (((own - 1 - up) >>> 25) & 64) |
        (((own - 1 - upRight) >>> 24) & 128);
      const one = ONE_OF_ALL[code]!;
      if (one >= 0 && !edge && x > 0 && x < width - 1) parent[at] = at + offsets[one]!;
      else data[length++] = at;
    }
    upLeft = up;
    left = own;
    downLeft = down;
    up = upRight;
    own = right;
    down = downRight;
  }
  others.length = length;
}

/** The pixels by falling distance, in reading order where it is the same. */
function sortFalling(pixels: Int32Array, step: Uint16Array, deep: number): Int32Array {
  const counts = new Int32Array(deep + 1);
  for (let k = 0; k < pixels.length; k++) {
    const key = deep - step[pixels[k]!]!;
    counts[key + 1] = counts[key + 1]! + 1;
  }
  for (let k = 1; k < counts.length; k++) counts[k] = counts[k]! + counts[k - 1]!;
  const order = new Int32Array(pixels.length);
  for (let k = 0; k < pixels.length; k++) {
    const key = deep - step[pixels[k]!]!;
    order[counts[key]!] = pixels[k]!;
    counts[key] = counts[key]! + 1;
  }
  return order;
}

/** Joins what lies at least so deep in the paper, run by run: in whatever order it is flooded, this comes of it. */
function floodDeep(
  width: number,
  height: number,
  step: Uint16Array,
  deep: number,
  parent: Int32Array,
  peak: Uint16Array,
): void {
  let above: number[] = [];
  for (let y = 0; y < height; y++) above = floodRow(y * width, width, step, deep, parent, peak, above);
}

/** @param above first and last pixel of each run in the row above. @returns those of this row. */
function floodRow(
  from: number,
  width: number,
  step: Uint16Array,
  deep: number,
  parent: Int32Array,
  peak: Uint16Array,
  above: readonly number[],
): number[] {
  const runs: number[] = [];
  let over = 0;
  const end = from + width;
  for (let at = from; at < end; at++) {
    if (step[at]! < deep) continue;
    const first = at;
    let most = 0;
    for (; at < end && step[at]! >= deep; at++) {
      parent[at] = first;
      if (step[at]! > most) most = step[at]!;
    }
    peak[first] = most;
    runs.push(first, at - 1);
    // Corner to corner is together as well.
    while (over < above.length && above[over + 1]! + width < first - 1) over += 2;
    for (let k = over; k < above.length && above[k]! + width <= at; k += 2) {
      const one = find(parent, first);
      const two = find(parent, above[k]!);
      if (one === two) continue;
      parent[one] = two;
      peak[two] = Math.max(peak[one]!, peak[two]!);
    }
  }
  return runs;
}

function find(parent: Int32Array, node: number): number {
  while (parent[node]! !== node) {
    const up = parent[parent[node]!]!;
    parent[node] = up;
    node = up;
  }
  return node;
}

/**
 * One of the flooded neighbours (bit k = neighbour k, clockwise from the right) where all of them touch each other in
 * a row: they are one flood. -1 where they may be several, or none is flooded.
 */
const ONE_OF_ALL = Int8Array.from({ length: 256 }, (_, code) => {
  const isOn = (k: number): boolean => ((code >> (k & 7)) & 1) === 1;
  let breaks = 0;
  for (let k = 0; k < 8; k++) {
    // Straight neighbours touch across the corner between them.
    if (isOn(k) && !isOn(k + 1) && !(k % 2 === 0 && isOn(k + 2))) breaks++;
  }
  return breaks > 1 ? -1 : [0, 1, 2, 3, 4, 5, 6, 7].findIndex(isOn);
});

function flood(
  at: number,
  width: number,
  height: number,
  step: Uint16Array,
  parent: Int32Array,
  peak: Uint16Array,
  limit: number,
  paper: InkGrid,
  necks: Proposal[],
): void {
  const x = at % width;
  const y = (at - x) / width;
  const here = step[at]!;
  parent[at] = at;
  peak[at] = here;
  let own = at;
  if (x > 0 && step[at - 1]! >= here) own = meet(at - 1, own, at, x, y, step, parent, peak, limit, paper, necks);
  if (x < width - 1 && step[at + 1]! > here) own = meet(at + 1, own, at, x, y, step, parent, peak, limit, paper, necks);
  if (y > 0 && step[at - width]! >= here)
    own = meet(at - width, own, at, x, y, step, parent, peak, limit, paper, necks);
  if (y < height - 1 && step[at + width]! > here)
    own = meet(at + width, own, at, x, y, step, parent, peak, limit, paper, necks);
  // Diagonal neighbours last: they join what the straight ones left apart.
  if (x === 0 || y === 0 || x === width - 1 || y === height - 1) return;
  if (step[at - width - 1]! >= here) own = meet(at - width - 1, own, at, x, y, step, parent, peak, limit, paper, necks);
  if (step[at - width + 1]! >= here) own = meet(at - width + 1, own, at, x, y, step, parent, peak, limit, paper, necks);
  if (step[at + width - 1]! > here) own = meet(at + width - 1, own, at, x, y, step, parent, peak, limit, paper, necks);
  if (step[at + width + 1]! > here) meet(at + width + 1, own, at, x, y, step, parent, peak, limit, paper, necks);
}

/** Joins the flood of a neighbour with that of the pixel. @returns the root of both. */
function meet(
  other: number,
  own: number,
  at: number,
  x: number,
  y: number,
  step: Uint16Array,
  parent: Int32Array,
  peak: Uint16Array,
  limit: number,
  paper: InkGrid,
  necks: Proposal[],
): number {
  const root = find(parent, other);
  if (root === own) return own;
  const higher = peak[root]! >= peak[own]!;
  const high = higher ? root : own;
  const low = higher ? own : root;
  if (peak[low]! >= step[at]! * WIDENS + 1) addNeck(paper, x, y, limit, necks);
  parent[low] = high;
  return high;
}

/** The cut at a saddle: to the nearest ink, and to the nearest on the other side. */
function addNeck(paper: InkGrid, x: number, y: number, limit: number, necks: Proposal[]): void {
  const { width, height, ink, nearest } = paper;
  const source = ~nearest[y * width + x]!;
  const ax = source % width;
  const ay = (source - ax) / width;
  const [nx, ny] = [x - ax, y - ay];
  const near = Math.sqrt(nx * nx + ny * ny);
  if (near === 0 || 2 * near > limit + 2) return;
  // On the other side the nearest ink lies about as far; a fan looks for it.
  let best = Infinity;
  let bx = 0;
  let by = 0;
  for (let k = 0; k < OPPOSITE.length; k++) {
    const [cos, sin] = OPPOSITE[k]!;
    const rx = (nx * cos - ny * sin) / near;
    const ry = (nx * sin + ny * cos) / near;
    for (let t = 1; t < Math.min(best, limit - near + 2); t += 0.5) {
      const px = Math.round(x + rx * t);
      const py = Math.round(y + ry * t);
      if (px < 0 || py < 0 || px >= width || py >= height) break;
      if (ink[py * width + px]! < 128) continue;
      best = t;
      bx = px;
      by = py;
      break;
    }
  }
  if (best === Infinity) return;
  const d = Math.sqrt((bx - ax) * (bx - ax) + (by - ay) * (by - ay));
  if (d > limit) return;
  necks.push({
    x0: ax,
    y0: ay,
    x1: bx,
    y1: by,
    kind: 'neck',
    ends: [-1, -1],
    towards: null,
    cost: quantised(d * 1.5),
  });
}

/** Cosine and sine of 0, 15, 30, ... degrees either way (half-angle steps from exact roots). */
const OPPOSITE: readonly (readonly [number, number])[] = (() => {
  const cos15 = Math.sqrt(2 + Math.sqrt(3)) / 2;
  const sin15 = Math.sqrt(2 - Math.sqrt(3)) / 2;
  const rays: [number, number][] = [[1, 0]];
  let [c, s] = [1, 0];
  for (let k = 1; k <= 5; k++) {
    [c, s] = [c * cos15 - s * sin15, s * cos15 + c * sin15];
    rays.push([c, s], [c, -s]);
  }
  return rays;
})();
