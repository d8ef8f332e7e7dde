import type { CellBorders, CellPairs, TextureBorders } from '../../model/CellGraph.ts';
import type { Cut } from '../../model/Cut.ts';
import { pointOfCut } from '../proposals/cutCurve.ts';
import type { GapTexture } from '../hatching/FoundCuts.ts';
import { isTexture } from '../hatching/findTexture.ts';
import { PairNumbers } from '../../raster/PairNumbers.ts';
import { cellsOfBorder, keyOfBorder } from '../borders/tallyBorders.ts';

/** What stands between cells. */
export interface CellLinks {
  readonly pairs: CellPairs;
  readonly textureBorders: TextureBorders;
}

/**
 * Finds which two cells each cut parts, how much of their common border is inked, and the borders of cells that could
 * be spaces between strokes. Cost: by cuts and borders, not by pixels.
 *
 * @param thin 1 for cells that could be spaces between strokes, null where no ink may be hatching.
 */
export function linkCells(
  cuts: readonly Cut[],
  borders: CellBorders,
  field: Int32Array,
  thin: Uint8Array | null,
  width: number,
  height: number,
): CellLinks {
  const ofCut = new Int32Array(cuts.length).fill(-1);
  const numbers = new PairNumbers();
  const a: number[] = [];
  const b: number[] = [];
  const inkedPx: number[] = [];
  for (let k = 0; k < cuts.length; k++) {
    const sides = sidesOfCut(cuts[k]!, field, width, height);
    if (sides === null) continue;
    const low = Math.min(sides[0], sides[1]);
    const high = Math.max(sides[0], sides[1]);
    const pair = numbers.numberOf(low, high);
    if (pair === a.length) {
      a.push(low);
      b.push(high);
      // Ink of hatching is no border.
      const border = borders.get(keyOfBorder(low, high));
      inkedPx.push(border === undefined ? 0 : border.px - border.texturePx);
    }
    ofCut[k] = pair;
  }
  return {
    pairs: {
      count: a.length,
      a: Int32Array.from(a),
      b: Int32Array.from(b),
      inkedPx: Float64Array.from(inkedPx),
      ofCut,
    },
    textureBorders: columnsOf(borders, thin),
  };
}

/** The borders of thin cells, and the thin ink in all cells, as columns, in no order. */
function columnsOf(borders: CellBorders, thin: Uint8Array | null): TextureBorders {
  const room = thin === null ? 0 : borders.size;
  const columns = {
    a: new Int32Array(room),
    b: new Int32Array(room),
    px: new Float64Array(room),
    thinPx: new Float64Array(room),
    texturePx: new Float64Array(room),
    widths: new Float64Array(room),
    squares: new Float64Array(room),
    narrowest: new Float64Array(room),
    rows: new Float64Array(room),
  };
  let count = 0;
  if (thin !== null) {
    for (const [key, border] of borders) {
      const [a, b] = cellsOfBorder(key);
      if (a !== b && (thin[a]! | thin[b]!) === 0) continue;
      columns.a[count] = a;
      columns.b[count] = b;
      columns.px[count] = border.px;
      columns.thinPx[count] = border.thinPx;
      columns.texturePx[count] = border.texturePx;
      columns.widths[count] = border.widths;
      columns.squares[count] = border.squares;
      columns.narrowest[count] = border.narrowest;
      columns.rows[count] = border.rows;
      count++;
    }
  }
  return { count, ...columns };
}

/** Places along a cut, and distances to its sides in px, at which cells are looked for. */
const ALONG = [0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8];
const ASIDE = [1.5, 2.2, 3];

/** The cells on both sides of a cut's middle; null where they are one. */
function sidesOfCut(cut: Cut, field: Int32Array, width: number, height: number): [number, number] | null {
  // Along the cut from its middle outwards, until both sides show paper.
  for (let k = 0; k < ALONG.length; k++) {
    const [mx, my, dx, dy] = pointOfCut(cut, ALONG[k]!);
    const norm = Math.sqrt(dx * dx + dy * dy) || 1;
    const nx = -dy / norm;
    const ny = dx / norm;
    const one = look(mx, my, nx, ny, field, width, height);
    const two = look(mx, my, -nx, -ny, field, width, height);
    if (one >= 0 && two >= 0 && one !== two) return [one, two];
  }
  return null;
}

function look(x: number, y: number, dx: number, dy: number, field: Int32Array, width: number, height: number): number {
  for (let k = 0; k < ASIDE.length; k++) {
    const t = ASIDE[k]!;
    const px = Math.round(x + dx * t);
    const py = Math.round(y + dy * t);
    if (px < 0 || py < 0 || px >= width || py >= height) return -1;
    const cell = field[py * width + px]!;
    if (cell >= 0) return cell;
  }
  return -1;
}

/** How much of each cut touches hatching: a half for each of its sides, all for the one side of a cut to the page's edge. */
export function textureOfCuts(cuts: readonly Cut[], texture: GapTexture): Float64Array {
  const shares = new Float64Array(cuts.length);
  for (let k = 0; k < cuts.length; k++) {
    const { kind, from, to } = cuts[k]!;
    const one = touchesTexture(texture, from[0], from[1]) ? 0.5 : 0;
    const two = touchesTexture(texture, to[0], to[1]) ? 0.5 : 0;
    shares[k] = kind === 'edge' ? 2 * Math.max(one, two) : one + two;
  }
  return shares;
}

function touchesTexture({ textureMask, textureWidth, textureFactor }: GapTexture, x: number, y: number): boolean {
  const gx = Math.floor(x / textureFactor);
  const gy = Math.floor(y / textureFactor);
  for (let dy = -1; dy <= 1; dy++) {
    for (let dx = -1; dx <= 1; dx++) {
      if (isTexture(textureMask[(gy + dy) * textureWidth + gx + dx] ?? 0)) return true;
    }
  }
  return false;
}
