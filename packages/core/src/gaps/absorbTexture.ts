import { findRoot, joinRoots } from '../raster/unionFind.ts';
import type { CellFacts } from './mergeCells.ts';

/** Inked borders of thin cells; lengths in px, counted by pixel pairs. */
export interface TextureBorders {
  /** Pairs of cells, at least one of them thin; the lower cell is `a`. */
  readonly count: number;
  readonly a: Int32Array;
  readonly b: Int32Array;
  readonly px: Float64Array;
  /** How much of it is ink of hatching. */
  readonly texturePx: Float64Array;
}

/** Spaces between strokes are narrower than so many line widths to either side of their middle. */
const THIN_WIDTHS = 9;
/** So much of a space's border is ink of hatching ... */
const LEAST_SHARE = 0.5;
/** A thin cell is one too where so much of its border is hatching or faces such spaces: strokes lost in a thicket. */
const LEAST_FACING = 0.5;
/** ... as long as it is no wider than so many line widths to either side: a balloon before a hatched wall is none. */
const THICKET_WIDTHS = 3.6;
/** ... and so much of its border with what it joins, in line widths. */
const LEAST_COMMON = 1.5;

/** Cells thin enough to be spaces between the strokes of hatching. */
export function thinCells({ count, radiusPx }: CellFacts, lineWidthPx: number): Uint8Array {
  const thin = new Uint8Array(count);
  for (let c = 0; c < count; c++) if (radiusPx[c]! <= THIN_WIDTHS * lineWidthPx) thin[c] = 1;
  return thin;
}

/**
 * Spaces between strokes of hatching are nobody's regions: those that hang together join the largest
 * neighbour that is none, across the hatching. Two real neighbours are never joined by it: a leak costs
 * more than a click.
 *
 * @param first pixel of each cell in reading order.
 * @param groupOfCell group of each cell, one of its cells; changed in place.
 * @param keep 1 for cells that were parted by hand: they stay.
 */
export function absorbTexture(
  facts: CellFacts,
  borders: TextureBorders,
  first: Int32Array,
  groupOfCell: Int32Array,
  keep: Uint8Array,
  lineWidthPx: number,
): void {
  if (!borders.texturePx.some((px) => px > 0)) return;
  const { count } = facts;
  const radius = new Float64Array(count);
  const area = new Float64Array(count);
  const groupFirst = new Float64Array(count).fill(Infinity);
  const thin = new Uint8Array(count).fill(1);
  for (let c = 0; c < count; c++) {
    const group = groupOfCell[c]!;
    radius[group] = Math.max(radius[group]!, facts.radiusPx[c]!);
    area[group] = area[group]! + facts.areaPx[c]!;
    groupFirst[group] = Math.min(groupFirst[group]!, first[c]!);
    if (keep[c] === 1) thin[group] = 0;
  }
  for (let g = 0; g < count; g++) if (radius[g]! > THIN_WIDTHS * lineWidthPx) thin[g] = 0;
  const pairs: Pair[] = [];
  for (let p = 0; p < borders.count; p++) {
    const [one, two] = [groupOfCell[borders.a[p]!]!, groupOfCell[borders.b[p]!]!];
    if (one !== two) pairs.push({ one, two, px: borders.px[p]!, texturePx: borders.texturePx[p]! });
  }
  const narrow = radius.map((px) => (px <= THICKET_WIDTHS * lineWidthPx ? 1 : 0));
  const isSpace = findSpaces(count, pairs, thin, narrow);

  // Spaces beside each other are one patch.
  const parent = Int32Array.from({ length: count }, (_, k) => k);
  for (const { one, two } of pairs) if (isSpace[one] === 1 && isSpace[two] === 1) joinRoots(parent, one, two);
  const common = new Map<number, Common>();
  for (const { one, two, px, texturePx } of pairs) {
    if (isSpace[one] === isSpace[two]) continue;
    const [space, other] = isSpace[one] === 1 ? [one, two] : [two, one];
    const patch = findRoot(parent, space);
    const key = patch * count + other;
    const known = common.get(key) ?? { patch, other, px: 0, texturePx: 0 };
    common.set(key, { ...known, px: known.px + px, texturePx: known.texturePx + texturePx });
  }
  const home = new Int32Array(count).fill(-1);
  for (const { patch, other, px, texturePx } of common.values()) {
    // A stroke that crosses an outline does not open it.
    if (texturePx < LEAST_COMMON * lineWidthPx || texturePx < LEAST_SHARE * px) continue;
    const now = home[patch]!;
    if (now < 0 || area[other]! > area[now]! || (area[other] === area[now] && groupFirst[other]! < groupFirst[now]!))
      home[patch] = other;
  }

  const lead = Int32Array.from({ length: count }, (_, k) => k);
  for (let g = 0; g < count; g++) {
    if (isSpace[g] === 0) continue;
    const patch = findRoot(parent, g);
    joinRoots(lead, patch, g);
    if (home[patch]! >= 0) joinRoots(lead, patch, home[patch]!);
  }
  for (let c = 0; c < count; c++) groupOfCell[c] = findRoot(lead, groupOfCell[c]!);
}

/** The border of a patch with one neighbour. */
interface Common {
  readonly patch: number;
  readonly other: number;
  readonly px: number;
  readonly texturePx: number;
}

interface Pair {
  readonly one: number;
  readonly two: number;
  readonly px: number;
  readonly texturePx: number;
}

/** Thin groups whose border is mostly hatching; then those that mostly face such ones, until no more are found. */
function findSpaces(count: number, pairs: readonly Pair[], thin: Uint8Array, narrow: ArrayLike<number>): Uint8Array {
  const border = new Float64Array(count);
  const textured = new Float64Array(count);
  for (const { one, two, px, texturePx } of pairs) {
    border[one] = border[one]! + px;
    border[two] = border[two]! + px;
    textured[one] = textured[one]! + texturePx;
    textured[two] = textured[two]! + texturePx;
  }
  const isSpace = new Uint8Array(count);
  for (let g = 0; g < count; g++) {
    if (thin[g] === 1 && textured[g]! > 0 && textured[g]! >= LEAST_SHARE * border[g]!) isSpace[g] = 1;
  }
  for (;;) {
    const facing = textured.slice();
    for (const { one, two, px, texturePx } of pairs) {
      if (isSpace[two] === 1) facing[one] = facing[one]! + px - texturePx;
      if (isSpace[one] === 1) facing[two] = facing[two]! + px - texturePx;
    }
    let found = false;
    for (let g = 0; g < count; g++) {
      if (
        isSpace[g] === 1 ||
        thin[g] === 0 ||
        narrow[g] === 0 ||
        border[g] === 0 ||
        facing[g]! < LEAST_FACING * border[g]!
      )
        continue;
      isSpace[g] = 1;
      found = true;
    }
    if (!found) return isSpace;
  }
}
