import type { Cut } from './Cut.ts';
import { pointOfCut } from './cutCurve.ts';
import type { GapTexture } from './findCuts.ts';
import { ROW_STRIDE, TEXTURE, THIN_INK, type BorderPoints } from './findBorderPoints.ts';
import type { CellPairs } from './mergeCells.ts';
import type { TextureBorders } from './absorbTexture.ts';

/** What stands between cells. */
export interface CellLinks {
  readonly pairs: CellPairs;
  readonly textureBorders: TextureBorders;
}

/**
 * Finds which two cells each cut parts, how much of their common border is inked, and which borders of
 * thin cells are ink of hatching. Cost: by cuts and border points, not by pixels.
 *
 * @param thin 1 for cells that could be spaces between strokes.
 */
export function linkCells(
  cuts: readonly Cut[],
  points: BorderPoints,
  field: Int32Array,
  thin: Uint8Array,
  width: number,
  height: number,
): CellLinks {
  const cellCount = thin.length;
  const ofCut = new Int32Array(cuts.length).fill(-1);
  const numbers = new Map<number, number>();
  const a: number[] = [];
  const b: number[] = [];
  cuts.forEach((cut, k) => {
    const sides = sidesOfCut(cut, field, width, height);
    if (sides === null) return;
    const [low, high] = sides[0] < sides[1] ? sides : [sides[1], sides[0]];
    const key = low * cellCount + high;
    let pair = numbers.get(key);
    if (pair === undefined) {
      numbers.set(key, (pair = a.length));
      a.push(low);
      b.push(high);
    }
    ofCut[k] = pair;
  });
  // Only cells with a cut and spaces between strokes are looked up: most ink lies between others.
  const wanted = new Uint8Array(cellCount);
  for (const cell of [...a, ...b]) wanted[cell] = HAS_CUT;
  if (points.ink.includes(TEXTURE)) {
    for (let c = 0; c < cellCount; c++) if (thin[c] === 1) wanted[c] = wanted[c]! | IS_THIN;
  }
  const inkedPx = new Float64Array(a.length);
  const borders = new Map<number, ThinBorder>();
  tallyPoints(points, field, wanted, (key, asked, bothCut, linePx, thinPx, texturePx) => {
    if ((asked & IS_THIN) !== 0) {
      let border = borders.get(key);
      if (border === undefined) borders.set(key, (border = { px: 0, thinPx: 0, texturePx: 0 }));
      border.px += linePx + thinPx + texturePx;
      border.thinPx += thinPx;
      border.texturePx += texturePx;
    }
    // Ink of hatching is no border.
    const pair = bothCut ? numbers.get(key) : undefined;
    if (pair !== undefined) inkedPx[pair] = inkedPx[pair]! + linePx + thinPx;
  });
  const keys = [...borders.keys()].sort((one, two) => one - two);
  return {
    pairs: { count: a.length, a: Int32Array.from(a), b: Int32Array.from(b), inkedPx, ofCut },
    textureBorders: {
      count: keys.length,
      a: Int32Array.from(keys, (key) => Math.floor(key / cellCount)),
      b: Int32Array.from(keys, (key) => key % cellCount),
      px: Float64Array.from(keys, (key) => borders.get(key)!.px),
      thinPx: Float64Array.from(keys, (key) => borders.get(key)!.thinPx),
      texturePx: Float64Array.from(keys, (key) => borders.get(key)!.texturePx),
    },
  };
}

const HAS_CUT = 1;
const IS_THIN = 2;

interface ThinBorder {
  px: number;
  thinPx: number;
  texturePx: number;
}

/** Pairs of cells counted at a time before they are looked up; a power of two. */
const SLOTS = 1024;

/**
 * Counts the points between every two cells of which one is wanted. A pair may be visited several times:
 * its parts add up.
 */
function tallyPoints(
  { count, one, two, ink }: BorderPoints,
  field: Int32Array,
  wanted: Uint8Array,
  visit: (key: number, asked: number, bothCut: boolean, linePx: number, thinPx: number, texturePx: number) => void,
): void {
  const cellCount = wanted.length;
  const low = new Int32Array(SLOTS).fill(-1);
  const high = new Int32Array(SLOTS);
  /** Of lines, of thin ink and of hatching, side by side for each slot. */
  const tally = new Int32Array(3 * SLOTS);
  const empty = (slot: number): void => {
    const [a, b] = [low[slot]!, high[slot]!];
    if (a < 0) return;
    const bothCut = (wanted[a]! & wanted[b]! & HAS_CUT) !== 0;
    const asked = wanted[a]! | wanted[b]!;
    const [line, thin, texture] = [tally[3 * slot]!, tally[3 * slot + THIN_INK]!, tally[3 * slot + TEXTURE]!];
    visit(a * cellCount + b, asked, bothCut, ROW_STRIDE * line, ROW_STRIDE * thin, ROW_STRIDE * texture);
    tally.fill(0, 3 * slot, 3 * slot + 3);
  };
  for (let k = 0; k < count; k++) {
    let a = field[one[k]!]!;
    let b = field[two[k]!]!;
    if (a === b || (wanted[a]! | wanted[b]!) === 0) continue;
    if (a > b) [a, b] = [b, a];
    const slot = (a * 31 + b) & (SLOTS - 1);
    if (low[slot] !== a || high[slot] !== b) {
      empty(slot);
      low[slot] = a;
      high[slot] = b;
    }
    const counter = 3 * slot + ink[k]!;
    tally[counter] = tally[counter]! + 1;
  }
  for (let slot = 0; slot < SLOTS; slot++) empty(slot);
}

/** The cells on both sides of a cut's middle; null where they are one. */
function sidesOfCut(cut: Cut, field: Int32Array, width: number, height: number): [number, number] | null {
  // Along the cut from its middle outwards, until both sides show paper.
  for (const t of [0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8]) {
    const [mx, my, dx, dy] = pointOfCut(cut, t);
    const norm = Math.sqrt(dx * dx + dy * dy) || 1;
    const [nx, ny] = [-dy / norm, dx / norm];
    const one = look(mx, my, nx, ny, field, width, height);
    const two = look(mx, my, -nx, -ny, field, width, height);
    if (one >= 0 && two >= 0 && one !== two) return [one, two];
  }
  return null;
}

function look(x: number, y: number, dx: number, dy: number, field: Int32Array, width: number, height: number): number {
  for (const t of [1.5, 2.2, 3]) {
    const px = Math.round(x + dx * t);
    const py = Math.round(y + dy * t);
    if (px < 0 || py < 0 || px >= width || py >= height) return -1;
    const cell = field[py * width + px]!;
    if (cell >= 0) return cell;
  }
  return -1;
}

/** How much of each cut touches hatching: a half for each of its sides. */
export function textureOfCuts(
  cuts: readonly Cut[],
  { textureMask, textureWidth, textureFactor }: GapTexture,
): Float64Array {
  const touches = ([x, y]: readonly [number, number]): number => {
    const [gx, gy] = [Math.floor(x / textureFactor), Math.floor(y / textureFactor)];
    for (let dy = -1; dy <= 1; dy++) {
      for (let dx = -1; dx <= 1; dx++) if ((textureMask[(gy + dy) * textureWidth + gx + dx] ?? 0) > 0) return 0.5;
    }
    return 0;
  };
  return Float64Array.from(cuts, (cut) => touches(cut.from) + touches(cut.to));
}
