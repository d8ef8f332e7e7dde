import type { InkBase } from './OpenSurvey.ts';
import { WorkingPage } from './WorkingPage.ts';
import type { Survey } from '../model/Survey.ts';
import { findCuts, paperOfPage } from '../gaps/findCuts.ts';
import type { FoundCuts, GapTexture } from '../gaps/hatching/FoundCuts.ts';
import type { Ruling } from '../model/Ruling.ts';
import { isTexture } from '../gaps/hatching/findTexture.ts';
import { findBorderPoints } from '../gaps/borders/findBorderPoints.ts';
import { findFaintInk } from '../ink/findFaintInk.ts';
import { leaveOutDetail } from '../ink/findDetail.ts';
import type { DetailRule, LineWidth } from '../model/inkMeasures.ts';
import { growSolid, rimOf } from '../ink/findSolids.ts';
import { type WidthSamples, lineWidthOf, sampleWidths } from '../ink/lineWidths.ts';
import { NO_TEXTURE, cutPage } from './cutPage.ts';
import type { StoredCuts } from './storedCuts.ts';
import { type OtherInk, type PageInk, readInk } from './readInk.ts';
import type { Prep } from '../model/PageDocument.ts';
import { type GreyRaster, checkGreyRaster } from '../raster/GreyRaster.ts';
import { divideRegions } from '../regions/divideRegions.ts';
import { fullBlocks } from '../regions/findAnchors.ts';
import { scanRuns, withFaintInk } from '../raster/scanRuns.ts';
import { spreadIntoInk } from '../raster/spreadIntoInk.ts';

export type SurveyStep = 'ink' | 'trap' | 'measure' | 'gaps' | 'label' | 'divide';

export interface SurveyOptions {
  /**
   * Makes the memory of the two page-sized rasters, all zero; give shared memory to read them from several threads.
   * @default plain array buffers
   */
  readonly allocate?: (bytes: number) => ArrayBufferLike;
  /** Called when a step is done, in the order ink, trap, measure, gaps, label, divide. */
  readonly onStep?: (step: SurveyStep) => void;
  /** Rulings on closures, by their key. @default none */
  readonly rulings?: ReadonlyMap<string, Ruling>;
  /** Closures drawn by hand, as keys. @default none */
  readonly drawn?: readonly string[];
  /** Further ink files of the page. @default none */
  readonly others?: readonly OtherInk[];
  /** Whether regions end at the lines of the page's own file. @default true */
  readonly ownBounds?: boolean;
  /** Points in solid blacks that are regions of their own. @default none */
  readonly solids?: readonly (readonly [number, number])[];
  /** Cuts of this very reading that were found before, up to the largest gap at least. @default they are found now */
  readonly known?: StoredCuts | null;
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

/** The same as {@link surveyPage}, with what later closures drawn by hand need. */
export function openSurvey(grey: GreyRaster, prep: Prep, options: SurveyOptions = {}): WorkingPage {
  checkGreyRaster(grey);
  const { width, height } = grey;
  const pixels = width * height;
  const allocate = options.allocate ?? ((bytes: number) => new ArrayBuffer(bytes));
  const done = options.onStep ?? (() => undefined);

  const ink = readInk(grey, prep, options.others ?? [], options.ownBounds ?? true, allocate);
  const { inkPoints } = ink;
  const solids = options.solids ?? [];
  const field = new Int32Array(allocate(pixels * 4));
  const bounds = reshapeBounds(ink, field, width, height, prep.detail, solids, allocate);
  const inkMask = withFaintInk(bounds, findFaintInk(bounds, width, height));
  const runs = scanRuns(inkMask, width, height);
  done('ink');

  spreadIntoInk(field, runs, width, height);
  done('trap');

  const widths = sampleWidths(field, runs, width, height);
  const lines = lineWidthOf(widths);
  done('measure');

  const maxGapOf = (lineWidth: number): number =>
    prep.maxGapPx === 'auto' ? autoMaxGap(lineWidth, width, height) : prep.maxGapPx;
  let found: FoundCuts | null = null;
  const known = options.known ?? null;
  if (known !== null && maxGapOf(known.lines.median) > 0 && maxGapOf(known.lines.median) <= known.foundToPx) {
    found = { ...known, ...paperOfPage({ ink: inkMask, width, height }, lines.median) };
  } else if (maxGapOf(lines.median) > 0 && lines.median > 0) {
    const withoutTexture = (texture: GapTexture): LineWidth => lineWidthOf(samplesOutside(texture, widths, width));
    const usual = (lineWidth: number): number => autoMaxGap(lineWidth, width, height);
    const limit = (lineWidth: number): number =>
      Math.max(maxGapOf(lineWidth), Math.round(LOOK_BEYOND * usual(lineWidth)));
    found = findCuts({ width, height, ink: inkMask, nearest: field, runs }, lines, withoutTexture, limit, usual);
  }
  done('gaps');

  const lineWidthPx = found?.lines ?? lines;
  const maxGapPx = maxGapOf(lineWidthPx.median);
  const crumbLimitPx2 =
    prep.crumbLimitPx2 === 'auto' ? Math.floor(lineWidthPx.median * lineWidthPx.median) : prep.crumbLimitPx2;
  const base: InkBase = {
    width,
    height,
    grey: ink.grey,
    inkMask,
    runs,
    field,
    found,
    blocks: fullBlocks(runs, width, height),
    pixelsOfCuts: new WeakMap(),
    latest: {},
    borderPoints: findBorderPoints(field, runs, found ?? NO_TEXTURE, lineWidthPx.median, width, height),
    lineWidthPx: lineWidthPx.median,
  };
  const graph = cutPage(base, options.drawn ?? []);
  done('label');

  const rulings = options.rulings ?? new Map<string, Ruling>();
  const { regions, closures } = divideRegions(graph, field, width, height, {
    lineWidthPx: lineWidthPx.median,
    maxGapPx,
    crumbLimitPx2,
    rulings,
  });
  done('divide');

  const survey: Survey = {
    width,
    height,
    inkAlpha: ink.printed,
    field,
    cellCount: graph.cells.count,
    graph,
    regions,
    closures,
    lineWidthPx,
    inkPoints,
    crumbLimitPx2,
    maxGapPx,
    gapsFoundToPx: found?.foundToPx ?? 0,
    looseEnds: found?.looseEnds ?? 0,
    paperPx: graph.cells.areaPx.reduce((sum, area) => sum + area, 0),
    paper: ink.paper,
    flattened: ink.flattened,
    specksCleared: ink.specksCleared,
    slopePpm: prep.slopePpm ?? 0,
  };
  return new WorkingPage(base, survey, options.drawn ?? [], rulings);
}

/** The samples that do not lie in hatching. @param width of the page. */
function samplesOutside(
  { textureMask, textureWidth, textureFactor }: GapTexture,
  { count, at, steps }: WidthSamples,
  width: number,
): WidthSamples {
  const left = { count: 0, at: new Int32Array(count), steps: new Int32Array(count) };
  for (let k = 0; k < count; k++) {
    const y = Math.floor(at[k]! / width);
    const x = at[k]! - y * width;
    const place = Math.floor(y / textureFactor) * textureWidth + Math.floor(x / textureFactor);
    if (isTexture(textureMask[place] ?? 0)) continue;
    left.at[left.count] = at[k]!;
    left.steps[left.count++] = steps[k]!;
  }
  return left;
}

/**
 * Takes detail out of what bounds regions, and hollows solid blacks that take a part: what lies behind a
 * rim of ink counts as paper. Where neither is asked for, the ink is left as it is.
 *
 * @param field scratch of a page's size, all zero before and after. @returns `ink.bounds`, or a changed copy.
 */
function reshapeBounds(
  ink: PageInk,
  field: Int32Array,
  width: number,
  height: number,
  detail: DetailRule,
  solids: readonly (readonly [number, number])[],
  allocate: (bytes: number) => ArrayBufferLike,
): Uint8Array {
  if (solids.length === 0 && detail.thinnerThanPx === 0 && detail.shorterThanPx === 0) return ink.bounds;
  const bounds = new Uint8Array(allocate(width * height));
  bounds.set(ink.bounds);
  const runs = scanRuns(bounds, width, height);
  spreadIntoInk(field, runs, width, height);
  const rimPx = rimOf(lineWidthOf(sampleWidths(field, runs, width, height)).median);
  leaveOutDetail(bounds, field, width, height, detail);
  const seen = new Uint8Array(width * height);
  for (const [x, y] of solids) {
    if (x >= width || y >= height) continue;
    const body = growSolid({ width, height, field }, y * width + x, rimPx, seen);
    for (let k = 0; k < body.length; k++) bounds[body.data[k]!] = 0;
  }
  field.fill(0);
  return bounds;
}

/** Gaps are looked for up to so many times the largest one that is closed by itself. */
const LOOK_BEYOND = 1.5;

/** Whether all gaps were looked for that may ever be asked for, but those wider than anybody closes. */
export function foundInFull({ width, height }: Pick<Survey, 'width' | 'height'>, found: FoundCuts): boolean {
  return found.foundToPx === Math.round(LOOK_BEYOND * autoMaxGap(found.lines.median, width, height));
}

/** The largest gap to close, unless the flatter says one: by the line's width, within bounds from the page's size. */
export function autoMaxGap(lineWidthPx: number, width: number, height: number): number {
  const size = Math.sqrt(width * height);
  return Math.round(Math.min(Math.max(14 * lineWidthPx, 0.02 * size), 0.12 * size));
}
