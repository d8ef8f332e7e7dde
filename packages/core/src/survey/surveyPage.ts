import type { FoundCuts } from '../gaps/findCuts.ts';
import { findCuts } from '../gaps/findCuts.ts';
import { cutRuns } from '../gaps/cutRuns.ts';
import { crosses, cutOfKey } from '../gaps/handCut.ts';
import { cellRadii, linkCells, textureOfCuts, type GapTexture } from '../gaps/linkCells.ts';
import type { CellPairs, Ruling } from '../gaps/mergeCells.ts';
import { pixelsOfCut } from '../gaps/placeCut.ts';
import { inkFromGrey } from '../ink/inkFromGrey.ts';
import { findFaintInk } from '../ink/findFaintInk.ts';
import { measureInkPoints, type InkPoints } from '../ink/measureInkPoints.ts';
import { measureLineWidth, type LineWidth } from '../ink/measureLineWidth.ts';
import type { Prep } from '../page/PageDocument.ts';
import { checkGreyRaster, type GreyRaster } from '../raster/GreyRaster.ts';
import { Int32Stack } from '../raster/growable.ts';
import type { Regions } from '../regions/buildRegions.ts';
import { divideRegions, type CellGraph, type Closure } from '../regions/divideRegions.ts';
import { findAnchors } from '../regions/findAnchors.ts';
import { labelRuns, type Cells } from '../regions/labelRuns.ts';
import { paintCells, repaintCells } from '../regions/paintCells.ts';
import { markFaintInk, scanRuns, type PaperRuns } from '../regions/scanRuns.ts';
import { spreadIntoInk } from '../trap/spreadIntoInk.ts';

/** Everything about a page that depends on its line art, its prep settings and the rulings on its gaps. */
export interface Survey {
  readonly width: number;
  readonly height: number;
  /** Ink 0..255 a pixel. */
  readonly inkAlpha: Uint8Array;
  /** On paper the cell (>= 0), on ink `~index` of the nearest paper pixel, `NO_PAPER` where there is none. */
  readonly field: Int32Array;
  readonly cellCount: number;
  readonly graph: CellGraph;
  readonly regions: Regions;
  /** Cuts up to the largest gap to close, each with its confidence and what it parts. */
  readonly closures: readonly Closure[];
  readonly lineWidthPx: LineWidth;
  readonly inkPoints: InkPoints;
  /** Groups of cells below this area are crumbs. */
  readonly crumbLimitPx2: number;
  /** Largest gap that is closed, in px. */
  readonly maxGapPx: number;
  /** Largest gap that was looked for: `maxGapPx` can go up to it without a new survey. */
  readonly gapsFoundToPx: number;
  readonly looseEnds: number;
  readonly paperPx: number;
}

export type SurveyStep = 'ink' | 'label' | 'trap' | 'measure' | 'gaps' | 'divide';

export interface SurveyOptions {
  /**
   * Makes the memory of the two page-sized rasters; give shared memory to read them from several threads.
   * @default plain array buffers
   */
  readonly allocate?: (bytes: number) => ArrayBufferLike;
  /** Called when a step is done, in the order ink, label, trap, measure, gaps, divide. */
  readonly onStep?: (step: SurveyStep) => void;
  /** Rulings on closures, by their key. @default none */
  readonly rulings?: ReadonlyMap<string, Ruling>;
  /** Closures drawn by hand, as keys. @default none */
  readonly drawn?: readonly string[];
}

/**
 * Reads a page: ink, gaps, regions, and for each ink pixel where its colour will come from.
 *
 * Cost on line art: about ten passes over the bytes of the page, and as much again for gaps.
 *
 * @throws RangeError for a raster that contradicts itself or exceeds the page limit.
 */
export function surveyPage(grey: GreyRaster, prep: Prep, options: SurveyOptions = {}): Survey {
  return openSurvey(grey, prep, options).survey;
}

/** A survey that can be cut anew. */
export interface OpenSurvey {
  readonly base: InkBase;
  readonly survey: Survey;
}

/** The same as {@link surveyPage}, with what later closures drawn by hand need. */
export function openSurvey(grey: GreyRaster, prep: Prep, options: SurveyOptions = {}): OpenSurvey {
  checkGreyRaster(grey);
  const { width, height } = grey;
  const pixels = width * height;
  const allocate = options.allocate ?? ((bytes: number) => new ArrayBuffer(bytes));
  const done = options.onStep ?? (() => undefined);

  const inkPoints = prep.inkPoints === 'auto' ? measureInkPoints(grey) : prep.inkPoints;
  const inkAlpha = inkFromGrey(grey, inkPoints, new Uint8Array(allocate(pixels)));
  const faintInk = findFaintInk(inkAlpha, width, height);
  done('ink');

  markFaintInk(inkAlpha, faintInk, true);
  const runs = scanRuns(inkAlpha, width, height);
  const { cells, cellOfRun } = labelRuns(runs, width, height);
  const field = new Int32Array(allocate(pixels * 4));
  paintCells(runs, cellOfRun, width, height, field);
  const anchor = findAnchors(field, runs, cellOfRun, cells.count, width, height);
  done('label');

  spreadIntoInk(field, runs, width, height);
  done('trap');

  const lineWidthPx = measureLineWidth(field, runs, width, height);
  const crumbLimitPx2 =
    prep.crumbLimitPx2 === 'auto' ? Math.floor(lineWidthPx.median * lineWidthPx.median) : prep.crumbLimitPx2;
  let paperPx = 0;
  for (let c = 0; c < cells.count; c++) paperPx += cells.areaPx[c]!;
  done('measure');

  const maxGapPx = prep.maxGapPx === 'auto' ? autoMaxGap(lineWidthPx.median, width, height) : prep.maxGapPx;
  let found: FoundCuts | null = null;
  let gapsFoundToPx = 0;
  if (maxGapPx > 0 && lineWidthPx.median > 0) {
    gapsFoundToPx = Math.max(maxGapPx, Math.round(LOOK_BEYOND * autoMaxGap(lineWidthPx.median, width, height)));
    found = findCuts({ width, height, ink: inkAlpha, nearest: field }, lineWidthPx.median, gapsFoundToPx);
  }
  const base: InkBase = { width, height, inkAlpha, faintInk, runs, field, found };
  const drawn = options.drawn ?? [];
  const graph = found === null && drawn.length === 0 ? uncutGraph(cells, anchor) : cutPage(base, drawn);
  markFaintInk(inkAlpha, faintInk, false);
  done('gaps');

  const { regions, closures } = divideRegions(graph, field, width, height, {
    lineWidthPx: lineWidthPx.median,
    maxGapPx,
    crumbLimitPx2,
    rulings: options.rulings ?? new Map(),
  });
  done('divide');

  const survey: Survey = {
    width,
    height,
    inkAlpha,
    field,
    cellCount: graph.cells.count,
    graph,
    regions,
    closures,
    lineWidthPx,
    inkPoints,
    crumbLimitPx2,
    maxGapPx,
    gapsFoundToPx,
    looseEnds: found?.looseEnds ?? 0,
    paperPx,
  };
  return { base, survey };
}

/** What cutting a page anew needs: kept by whoever lets closures be drawn. */
export interface InkBase {
  readonly width: number;
  readonly height: number;
  readonly inkAlpha: Uint8Array;
  readonly faintInk: Int32Array;
  readonly runs: PaperRuns;
  readonly field: Int32Array;
  readonly found: FoundCuts | null;
}

/**
 * Cuts the paper along the cuts found and those drawn by hand, and numbers the cells anew.
 * The paper of `base.field` is written over; the ink keeps its nearest paper pixels.
 *
 * @param base its ink has the bits of faint ink set.
 */
function cutPage({ width, height, inkAlpha, runs, field, found }: InkBase, drawn: readonly string[]): CellGraph {
  const hand = drawn.map(cutOfKey);
  const cuts = [...hand, ...(found?.cuts ?? []).filter((cut) => !hand.some((one) => crosses(one, cut)))];
  const onCuts = new Int32Stack();
  for (const cut of cuts) pixelsOfCut(cut, inkAlpha, width, (at) => onCuts.push(at));
  const split = cutRuns(runs, onCuts.data.subarray(0, onCuts.length), width, height);
  const { cells, cellOfRun } = labelRuns(split, width, height, split.onCut);
  repaintCells(split, cellOfRun, width, height, field);
  const anchor = findAnchors(field, split, cellOfRun, cells.count, width, height);
  const texture: GapTexture = found ?? NO_TEXTURE;
  return {
    cells,
    facts: {
      count: cells.count,
      areaPx: cells.areaPx,
      radiusPx:
        found === null
          ? new Float64Array(cells.count)
          : cellRadii(cells, field, width, height, found.paper, found.paperFactor),
    },
    anchor,
    cuts,
    pairs: linkCells(cuts, texture, field, split, cells.count, width, height),
    texture: textureOfCuts(cuts, texture),
  };
}

function uncutGraph(cells: Cells, anchor: Int32Array): CellGraph {
  return {
    cells,
    facts: { count: cells.count, areaPx: cells.areaPx, radiusPx: new Float64Array(cells.count) },
    anchor,
    cuts: [],
    pairs: NO_PAIRS,
    texture: new Float64Array(0),
  };
}

/** A survey with other closures drawn by hand; the rulings are applied anew. */
export function redrawSurvey(
  { base, survey }: OpenSurvey,
  drawn: readonly string[],
  maxGapPx: number,
  rulings: ReadonlyMap<string, Ruling>,
): OpenSurvey {
  markFaintInk(base.inkAlpha, base.faintInk, true);
  const graph = cutPage(base, drawn);
  markFaintInk(base.inkAlpha, base.faintInk, false);
  return { base, survey: ruleSurvey({ ...survey, graph, cellCount: graph.cells.count }, maxGapPx, rulings) };
}

/** Gaps are looked for up to so many times the largest one that is closed by itself. */
const LOOK_BEYOND = 1.5;
const NO_TEXTURE: GapTexture = { textureMask: new Uint8Array(0), textureWidth: 0, textureFactor: 1 };
const NO_PAIRS: CellPairs = {
  count: 0,
  a: new Int32Array(0),
  b: new Int32Array(0),
  inkedPx: new Float64Array(0),
  ofCut: new Int32Array(0),
};

/** The largest gap to close, unless the flatter says one: by the line's width, within bounds from the page's size. */
export function autoMaxGap(lineWidthPx: number, width: number, height: number): number {
  const size = Math.sqrt(width * height);
  return Math.round(Math.min(Math.max(14 * lineWidthPx, 0.02 * size), 0.12 * size));
}

/** The same survey with other rulings and another largest gap, up to `gapsFoundToPx`. Cost: by cells, not by pixels. */
export function ruleSurvey(survey: Survey, maxGapPx: number, rulings: ReadonlyMap<string, Ruling>): Survey {
  const { graph, field, width, height, crumbLimitPx2 } = survey;
  const lineWidthPx = survey.lineWidthPx.median;
  return {
    ...survey,
    maxGapPx,
    ...divideRegions(graph, field, width, height, { lineWidthPx, maxGapPx, crumbLimitPx2, rulings }),
  };
}
