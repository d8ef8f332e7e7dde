import type { Cells } from '../regions/labelRuns.ts';
import type { PaperRuns } from '../regions/scanRuns.ts';
import type { Cut } from './Cut.ts';
import type { FoundCuts } from './findCuts.ts';
import type { InkGrid } from './InkGrid.ts';
import type { CellPairs } from './mergeCells.ts';
import type { TextureBorders } from './absorbTexture.ts';

/** Where hatching is. */
export type GapTexture = Pick<FoundCuts, 'textureMask' | 'textureWidth' | 'textureFactor'>;

/** Ink rows looked at for inked borders: one of so many. */
const ROW_STRIDE = 2;

/** What stands between cells. */
export interface CellLinks {
  readonly pairs: CellPairs;
  readonly textureBorders: TextureBorders;
}

/**
 * Finds which two cells each cut parts, how much of their common border is inked, and which borders of
 * thin cells are ink of hatching.
 *
 * @param thin 1 for cells that could be spaces between strokes.
 */
export function linkCells(
  cuts: readonly Cut[],
  { textureMask, textureWidth, textureFactor }: GapTexture,
  field: Int32Array,
  runs: PaperRuns,
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
  const anyTexture = textureMask.includes(1);
  if (anyTexture) for (let c = 0; c < cellCount; c++) if (thin[c] === 1) wanted[c] = wanted[c]! | IS_THIN;
  const tally: Tally = {
    wanted,
    cellCount,
    numbers,
    inkedPx: new Float64Array(a.length),
    thinPx: new Map(),
    texturePx: new Map(),
  };
  if (a.length > 0 || anyTexture) {
    for (let y = 0; y + 1 < height; y += ROW_STRIDE) {
      let x = 0;
      for (let r = runs.row[y]!; r <= runs.row[y + 1]!; r++) {
        const stop = r < runs.row[y + 1]! ? runs.start[r]! : width;
        if (stop > x) {
          const texture = {
            mask: textureMask,
            row: Math.floor(y / textureFactor) * textureWidth,
            factor: textureFactor,
            x,
          };
          countBorder(field, y * width + x, y * width + stop, width, tally, texture);
        }
        x = r < runs.row[y + 1]! ? runs.end[r]! : width;
      }
    }
  }
  const keys = [...tally.thinPx.keys()].sort((one, two) => one - two);
  return {
    pairs: { count: a.length, a: Int32Array.from(a), b: Int32Array.from(b), inkedPx: tally.inkedPx, ofCut },
    textureBorders: {
      count: keys.length,
      a: Int32Array.from(keys, (key) => Math.floor(key / cellCount)),
      b: Int32Array.from(keys, (key) => key % cellCount),
      px: Float64Array.from(keys, (key) => tally.thinPx.get(key)!),
      texturePx: Float64Array.from(keys, (key) => tally.texturePx.get(key) ?? 0),
    },
  };
}

const HAS_CUT = 1;
const IS_THIN = 2;

interface Tally {
  /** Bits of what is asked of each cell. */
  readonly wanted: Uint8Array;
  readonly cellCount: number;
  /** Pair of two cells that a cut parts. */
  readonly numbers: ReadonlyMap<number, number>;
  readonly inkedPx: Float64Array;
  /** Inked border of pairs with a thin cell, and how much of it is hatching. */
  readonly thinPx: Map<number, number>;
  readonly texturePx: Map<number, number>;
}

function countBorder(
  field: Int32Array,
  from: number,
  to: number,
  width: number,
  tally: Tally,
  texture: { readonly mask: Uint8Array; readonly row: number; readonly factor: number; readonly x: number },
): void {
  const { wanted, cellCount, numbers, inkedPx, thinPx, texturePx } = tally;
  let left = -1;
  for (let at = from; at < to; at++) {
    const source = ~field[at]!;
    if (source >= field.length) return;
    const own = field[source]!;
    if (left >= 0 && left !== own) note(at, left, own);
    left = own;
    const down = field[at + width]!;
    if (down < 0) {
      const below = field[~down];
      if (below !== undefined && below !== own) note(at, own, below);
    }
  }

  function note(at: number, one: number, two: number): void {
    const asked = wanted[one]! | wanted[two]!;
    if (asked === 0) return;
    const inTexture = texture.mask[texture.row + Math.floor((texture.x + at - from) / texture.factor)] === 1;
    const key = one < two ? one * cellCount + two : two * cellCount + one;
    if ((asked & IS_THIN) !== 0) {
      thinPx.set(key, (thinPx.get(key) ?? 0) + ROW_STRIDE);
      if (inTexture) texturePx.set(key, (texturePx.get(key) ?? 0) + ROW_STRIDE);
    }
    // Ink of hatching is no border.
    if (inTexture || (wanted[one]! & wanted[two]! & HAS_CUT) === 0) return;
    const pair = numbers.get(key);
    if (pair !== undefined) inkedPx[pair] = inkedPx[pair]! + ROW_STRIDE;
  }
}

/** The cells on both sides of a cut's middle; null where they are one. */
function sidesOfCut(cut: Cut, field: Int32Array, width: number, height: number): [number, number] | null {
  const [dx, dy] = [cut.to[0] - cut.from[0], cut.to[1] - cut.from[1]];
  const norm = Math.sqrt(dx * dx + dy * dy) || 1;
  const [nx, ny] = [-dy / norm, dx / norm];
  // Along the cut from its middle outwards, until both sides show paper.
  for (const t of [0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8]) {
    const mx = cut.from[0] + dx * t;
    const my = cut.from[1] + dy * t;
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
      for (let dx = -1; dx <= 1; dx++) if (textureMask[(gy + dy) * textureWidth + gx + dx] === 1) return 0.5;
    }
    return 0;
  };
  return Float64Array.from(cuts, (cut) => touches(cut.from) + touches(cut.to));
}

/** Largest distance to ink in each cell, in px of the page. */
export function cellRadii(
  cells: Cells,
  field: Int32Array,
  width: number,
  height: number,
  paper: InkGrid,
  factor: number,
): Float64Array {
  const radius = new Float64Array(cells.count);
  for (let y = 0; y < paper.height; y++) {
    const py = Math.min(height - 1, y * factor + (factor >> 1));
    for (let x = 0; x < paper.width; x++) {
      const source = paper.nearest[y * paper.width + x]!;
      if (source >= 0) continue;
      const cell = field[py * width + Math.min(width - 1, x * factor + (factor >> 1))]!;
      if (cell < 0) continue;
      const at = ~source;
      // Where the page holds no ink at all the index lies beyond it.
      if (at >= paper.nearest.length) continue;
      const sy = (at / paper.width) | 0;
      const dx = x - (at - sy * paper.width);
      const dy = y - sy;
      const reach = (dx * dx + dy * dy) * factor * factor;
      if (reach > radius[cell]!) radius[cell] = reach;
    }
  }
  for (let c = 0; c < radius.length; c++) radius[c] = Math.sqrt(radius[c]!);
  return radius;
}
