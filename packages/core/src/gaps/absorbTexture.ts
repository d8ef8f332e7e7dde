import { findRoot, joinRoots } from '../raster/unionFind.ts';
import type { CellFacts } from './mergeCells.ts';

/** Inked borders of thin cells; lengths in px, counted by pixel pairs. */
export interface TextureBorders {
  /** Pairs of cells, at least one of them thin; the lower cell is `a`. */
  readonly count: number;
  readonly a: Int32Array;
  readonly b: Int32Array;
  readonly px: Float64Array;
  /** How much of it is ink thinner than the page's lines, and ink of hatching. */
  readonly thinPx: Float64Array;
  readonly texturePx: Float64Array;
}

/** Spaces between strokes are narrower than so many line widths to either side of their middle. */
const THIN_WIDTHS = 9;
/** So much of a space's border is ink of hatching ... */
const LEAST_SHARE = 0.5;
/** ... or of a narrow one's, between two strokes and an outline at either end. */
const NARROW_WIDTHS = 1.3;
const LEAST_NARROW_SHARE = 0.35;
/** A thin cell is one too where so much of its border is hatching or faces such spaces: strokes lost in a thicket. */
const LEAST_FACING = 0.5;
/** ... as long as it is no wider than so many line widths to either side: a balloon before a hatched wall is none. */
const THICKET_WIDTHS = 3.6;
/** ... and so much of its border with what it joins, in line widths. */
const LEAST_COMMON = 1.5;
/** Crossing strokes without an end of their own leave a mesh: cells this narrow and small, in line widths ... */
const TINY_WIDTHS = 1.1;
const TINY_AREA = 14;
/** ... with thin ink between them, so many together. */
const LEAST_MESH = 5;
/** ... and so much of their border known as hatching: a small figure has small parts too. */
const LEAST_MESH_SHARE = 0.05;

/** Cells thin enough to be spaces between the strokes of hatching. */
export function thinCells({ count, radiusPx }: CellFacts, lineWidthPx: number): Uint8Array {
  const thin = new Uint8Array(count);
  for (let c = 0; c < count; c++) if (radiusPx[c]! <= THIN_WIDTHS * lineWidthPx) thin[c] = 1;
  return thin;
}

/**
 * Spaces between strokes of hatching are nobody's regions: those that hang together join the neighbour that
 * is none and has the longest border with them across the hatching. Two real neighbours are never joined by
 * it: a leak costs more than a click.
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
  const together = new Map<number, Pair>();
  for (let p = 0; p < borders.count; p++) {
    const [a, b] = [groupOfCell[borders.a[p]!]!, groupOfCell[borders.b[p]!]!];
    if (a === b) continue;
    const [one, two] = a < b ? [a, b] : [b, a];
    const key = one * count + two;
    let pair = together.get(key);
    if (pair === undefined) together.set(key, (pair = { one, two, px: 0, thinPx: 0, texturePx: 0 }));
    pair.px += borders.px[p]!;
    pair.thinPx += borders.thinPx[p]!;
    pair.texturePx += borders.texturePx[p]!;
  }
  const pairs = [...together.values()];
  const tiny = thin.map((is, g) =>
    is === 1 && radius[g]! <= TINY_WIDTHS * lineWidthPx && area[g]! <= TINY_AREA * lineWidthPx * lineWidthPx ? 1 : 0,
  );
  const inMesh = findMesh(count, pairs, tiny);
  // Thin ink around holes of a mesh is a stroke of it.
  for (const pair of pairs) if (inMesh[pair.one] === 1 || inMesh[pair.two] === 1) pair.texturePx += pair.thinPx;
  const isSpace = findSpaces(count, pairs, thin, radius, lineWidthPx);

  // Spaces with hatching between them are one patch; an outline through it parts two.
  const parent = Int32Array.from({ length: count }, (_, k) => k);
  for (const { one, two, px, texturePx } of pairs) {
    if (isSpace[one] === 1 && isSpace[two] === 1 && texturePx >= LEAST_SHARE * px) joinRoots(parent, one, two);
  }
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
  const shared = new Float64Array(count);
  for (const { patch, other, px, texturePx } of common.values()) {
    // A stroke that crosses an outline does not open it.
    if (texturePx < LEAST_COMMON * lineWidthPx || texturePx < LEAST_SHARE * px) continue;
    const now = home[patch]!;
    if (now >= 0 && texturePx < shared[patch]!) continue;
    if (now >= 0 && texturePx === shared[patch]! && groupFirst[other]! > groupFirst[now]!) continue;
    home[patch] = other;
    shared[patch] = texturePx;
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
  px: number;
  thinPx: number;
  texturePx: number;
}

/** Tiny groups that hang together across thin ink, enough of them to be what crossing strokes leave. */
function findMesh(count: number, pairs: readonly Pair[], tiny: Uint8Array): Uint8Array {
  const parent = Int32Array.from({ length: count }, (_, k) => k);
  for (const { one, two, px, thinPx, texturePx } of pairs) {
    if (tiny[one] === 1 && tiny[two] === 1 && thinPx + texturePx >= LEAST_SHARE * px) joinRoots(parent, one, two);
  }
  const size = new Int32Array(count);
  for (let g = 0; g < count; g++) if (tiny[g] === 1) size[findRoot(parent, g)]!++;
  const border = new Float64Array(count);
  const textured = new Float64Array(count);
  for (const { one, two, px, texturePx } of pairs) {
    for (const g of [one, two]) {
      if (tiny[g] === 0) continue;
      const root = findRoot(parent, g);
      border[root] = border[root]! + px;
      textured[root] = textured[root]! + texturePx;
    }
  }
  return tiny.map((is, g) => {
    const root = findRoot(parent, g);
    return is === 1 && size[root]! >= LEAST_MESH && textured[root]! >= LEAST_MESH_SHARE * border[root]! ? 1 : 0;
  });
}

/** Thin groups whose border is mostly hatching; then those that mostly face such ones, until no more are found. */
function findSpaces(
  count: number,
  pairs: readonly Pair[],
  thin: Uint8Array,
  radius: Float64Array,
  lineWidthPx: number,
): Uint8Array {
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
    const least = radius[g]! <= NARROW_WIDTHS * lineWidthPx ? LEAST_NARROW_SHARE : LEAST_SHARE;
    if (thin[g] === 1 && textured[g]! > 0 && textured[g]! >= least * border[g]!) isSpace[g] = 1;
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
        radius[g]! > THICKET_WIDTHS * lineWidthPx ||
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
