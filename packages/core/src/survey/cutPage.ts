import type { InkBase } from './OpenSurvey.ts';
import { thinCells } from '../gaps/spaces/absorbTexture.ts';
import type { Cut } from '../model/Cut.ts';
import { type CutRuns, cutRuns } from '../gaps/cells/cutRuns.ts';
import { placePoints } from '../gaps/borders/findBorderPoints.ts';
import type { GapTexture } from '../gaps/hatching/FoundCuts.ts';
import { cutOfKey, leftBeside } from '../gaps/proposals/handCut.ts';
import { linkCells, textureOfCuts } from '../gaps/cells/linkCells.ts';
import { measureRadii } from '../skeleton/measureRadii.ts';
import { pixelsOfCut } from '../gaps/proposals/placeCut.ts';
import { Int32Stack } from '../raster/growable.ts';
import type { CellBorders, CellGraph } from '../model/CellGraph.ts';
import { findAnchors } from '../regions/findAnchors.ts';
import { type Cells, labelRuns } from '../raster/labelRuns.ts';
import { paintCells } from '../raster/paintCells.ts';
import { tallyBorders, wallsOf } from '../gaps/borders/tallyBorders.ts';

export const NO_TEXTURE: GapTexture = { textureMask: new Uint8Array(0), textureWidth: 0, textureFactor: 1 };

/**
 * Cuts the paper along the cuts found and those drawn by hand, and numbers the cells anew.
 * The paper of `base.field` is written over; the ink keeps its nearest paper pixels.
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

/** The cuts of a page: those drawn by hand, then what these leave of those found. */
export function cutsWith({ found }: InkBase, drawn: readonly string[]): Cut[] {
  if (drawn.length === 0) return [...(found?.cuts ?? [])];
  const hand = drawn.map(cutOfKey);
  return [...hand, ...(found?.cuts ?? []).flatMap((cut) => leftBeside(cut, hand))];
}

/** The runs of the paper, parted at cuts. @param rows `[first, end]`; the others are left out. @default all */
export function splitRuns(
  base: InkBase,
  cuts: readonly Cut[],
  rows: readonly [number, number] = [0, base.height],
): CutRuns {
  const { width, height, inkMask, runs, pixelsOfCuts } = base;
  const onCuts = new Int32Stack();
  const onCut = new Int32Stack();
  const keep = (at: number): void => onCut.push(at);
  const [from, end] = [rows[0] * width, rows[1] * width];
  for (const cut of cuts) {
    let pixels = pixelsOfCuts.get(cut);
    if (pixels === undefined) {
      onCut.length = 0;
      pixelsOfCut(cut, inkMask, width, keep);
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
