import { thinCells } from '../gaps/absorbTexture.ts';
import type { Cut } from '../gaps/Cut.ts';
import { cutRuns, type CutRuns } from '../gaps/cutRuns.ts';
import { placePoints, type BorderPoints } from '../gaps/findBorderPoints.ts';
import type { FoundCuts, GapTexture } from '../gaps/findCuts.ts';
import { crosses, cutOfKey } from '../gaps/handCut.ts';
import { linkCells, textureOfCuts } from '../gaps/linkCells.ts';
import { measureRadii } from '../gaps/measureRadii.ts';
import { pixelsOfCut } from '../gaps/placeCut.ts';
import type { GreyRaster } from '../raster/GreyRaster.ts';
import { Int32Stack } from '../raster/growable.ts';
import type { CellGraph } from '../regions/divideRegions.ts';
import { findAnchors } from '../regions/findAnchors.ts';
import { labelRuns, type Cells } from '../regions/labelRuns.ts';
import { paintCells } from '../regions/paintCells.ts';
import { tallyBorders, wallsOf, type CellBorders } from '../gaps/tallyBorders.ts';
import type { PaperRuns } from '../regions/scanRuns.ts';

/** What cutting a page anew needs: kept by whoever lets closures be drawn. */
export interface InkBase {
  readonly width: number;
  readonly height: number;
  /** What the ink was read from: level and even. */
  readonly grey: GreyRaster;
  /** What regions end at, 0..255 a pixel. */
  readonly bounds: Uint8Array;
  readonly faintInk: Int32Array;
  readonly runs: PaperRuns;
  readonly field: Int32Array;
  readonly found: FoundCuts | null;
  readonly borderPoints: BorderPoints;
  /** As `fullBlocks` has them of the uncut page. */
  readonly blocks: Uint8Array;
  /** Pixels of each cut that was asked for. */
  readonly pixelsOfCuts: WeakMap<Cut, Int32Array>;
  /** The runs as they were parted last, with the graph that came of it. */
  readonly latest: { graph?: CellGraph; runs?: CellRuns };
  /** Median. */
  readonly lineWidthPx: number;
}

/** Runs of the whole page, parted at cuts, and the cell of each. */
export interface CellRuns {
  readonly split: CutRuns;
  readonly cellOf: Int32Array;
}

export const NO_TEXTURE: GapTexture = { textureMask: new Uint8Array(0), textureWidth: 0, textureFactor: 1 };

/**
 * Cuts the paper along the cuts found and those drawn by hand, and numbers the cells anew.
 * The paper of `base.field` is written over; the ink keeps its nearest paper pixels.
 *
 * @param base its bounds have the bits of faint ink set.
 */
export function cutPage(base: InkBase, drawn: readonly string[]): CellGraph {
  const { width, height, field, found } = base;
  const cuts = cutsWith(base, drawn);
  const split = splitRuns(base, cuts);
  const { cells, cellOfRun } = labelRuns(split, width, height, split.onCut);
  paintCells(split, cellOfRun, width, height, field);
  const anchor = findAnchors(field, base.blocks, split, cellOfRun, cells.count, width, height);
  const radiusPx = new Float64Array(cells.count);
  const deepest = new Int32Array(cells.count).fill(-1);
  if (found !== null)
    measureRadii(split, cellOfRun, width, height, found.paper, found.paperFactor, { radiusPx, deepest });
  placePoints(base.borderPoints, field);
  const graph = graphOf(base, cuts, tallyBorders(base.borderPoints), cells, anchor, radiusPx, deepest);
  Object.assign(base.latest, { graph, runs: { split, cellOf: cellOfRun } });
  return graph;
}

/** The cuts of a page: those drawn by hand, then those found that none of these crosses. */
export function cutsWith({ found }: InkBase, drawn: readonly string[]): Cut[] {
  if (drawn.length === 0) return [...(found?.cuts ?? [])];
  const hand = drawn.map(cutOfKey);
  return [...hand, ...(found?.cuts ?? []).filter((cut) => !hand.some((one) => crosses(one, cut)))];
}

/** The runs of the paper, parted at cuts. @param rows `[first, end]`; the others are left out. @default all */
export function splitRuns(
  base: InkBase,
  cuts: readonly Cut[],
  rows: readonly [number, number] = [0, base.height],
): CutRuns {
  const { width, height, bounds, runs, pixelsOfCuts } = base;
  const onCuts = new Int32Stack();
  const onCut = new Int32Stack();
  const keep = (at: number): void => onCut.push(at);
  const [from, end] = [rows[0] * width, rows[1] * width];
  for (const cut of cuts) {
    let pixels = pixelsOfCuts.get(cut);
    if (pixels === undefined) {
      onCut.length = 0;
      pixelsOfCut(cut, bounds, width, keep);
      pixelsOfCuts.set(cut, (pixels = onCut.data.slice(0, onCut.length)));
    }
    onCuts.reserve(pixels.length);
    for (let k = 0; k < pixels.length; k++) {
      const at = pixels[k]!;
      if (at >= from && at < end) onCuts.data[onCuts.length++] = at;
    }
  }
  return cutRuns(runs, onCuts.data.subarray(0, onCuts.length), width, height, rows);
}

/** Finds what stands between cells once they are painted. */
export function graphOf(
  { width, height, field, found, borderPoints, lineWidthPx }: InkBase,
  cuts: readonly Cut[],
  borders: CellBorders,
  cells: Cells,
  anchor: Int32Array,
  radiusPx: Float64Array,
  deepest: Int32Array,
): CellGraph {
  const facts = { count: cells.count, areaPx: cells.areaPx, radiusPx, wallsPx: wallsOf(borders, cells.count) };
  const thin = borderPoints.hasTexture ? thinCells(facts, lineWidthPx) : null;
  return {
    cells,
    facts,
    deepest,
    anchor,
    cuts,
    borders,
    ...linkCells(cuts, borders, field, thin, width, height),
    texture: textureOfCuts(cuts, found ?? NO_TEXTURE),
  };
}
