import type { FoundCuts, GapTexture } from './hatching/FoundCuts.ts';
import { type InkPieces, labelInk, pieceAt } from '../ink/labelInk.ts';
import { findLettering } from '../ink/findLettering.ts';
import { type CutPlacer, chooseCuts } from './proposals/chooseCuts.ts';
import type { Cut } from '../model/Cut.ts';
import type { Proposal } from './proposals/Proposal.ts';
import { followInk } from '../skeleton/followInk.ts';
import { findNecks } from './proposals/findNecks.ts';
import { StrokeFeatureReader } from './proposals/strokeFeatures.ts';
import { type InkGrid, halveInk, inkDistances, paperDistances } from '../skeleton/InkGrid.ts';
import { placeCut } from './proposals/placeCut.ts';
import { proposeFromEnds } from './proposals/proposeFromEnds.ts';
import { proposeOutlines } from './proposals/proposeOutlines.ts';
import { LETTER, type Texture, findTexture } from './hatching/findTexture.ts';
import type { LineWidth } from '../model/inkMeasures.ts';
import { ScratchBuffer } from '../raster/ScratchBuffer.ts';
import { type Skeleton, thinInk } from '../skeleton/thinInk.ts';
import { traceBranches } from '../skeleton/traceBranches.ts';
import { type LooseEnds, findLooseEnds, pruneSpurs } from '../skeleton/traceStrokes.ts';
import { countNeighbours, weighEnds } from './proposals/weighEnds.ts';

/** Lines are traced at a reduced size while they stay this wide there, in px. */
const LEAST_WIDTH_PX = 4;
/** No need to reduce below so many px. */
const SMALL_PX = 3_000_000;
/** Necks are looked for on at most so many px. */
const NECK_PX = 2_000_000;

/** Strokes of hatching between two others are at most so wide to either side, in line widths. */
const BRANCH_WIDTHS = 0.4;

/** A page with more loose ends than this is a photograph or a rough scan: its gaps mean nothing. */
export const MOST_ENDS = 20_000;
const NOTHING = { cuts: [] as Cut[], textureMask: new Uint8Array(0), textureWidth: 0, textureFactor: 1 };

type Ink = Pick<InkGrid, 'ink' | 'width' | 'height'>;

/**
 * The ink at the size lines are traced at. No faint ink is looked for there: what is left of a gap of two px
 * falls off to its sides like a hairline.
 */
function reduceInk(page: Ink, lineWidthPx: number): Ink & { readonly factor: number } {
  let grid: Ink = page;
  let factor = 1;
  while (
    (grid.width * grid.height) / 4 > SMALL_PX / 2 &&
    grid.width * grid.height > SMALL_PX &&
    lineWidthPx / (2 * factor) >= LEAST_WIDTH_PX
  ) {
    grid = halveInk(grid.ink, grid.width, grid.height);
    factor *= 2;
  }
  const { ink, width, height } = grid;
  return { ink, width, height, factor };
}

/** What {@link findCuts} measures of the paper, without the cuts. @param page ink with faint lines marked. */
export function paperOfPage(page: Ink, lineWidthPx: number): Pick<FoundCuts, 'paper' | 'paperFactor'> {
  const { ink, width, height, factor } = reduceInk(page, lineWidthPx);
  return coarsePaper(ink, width, height, factor);
}

/** Distances inside the paper at a size that leaves few px. @param factor page px per px of `ink`. */
export function coarsePaper(
  ink: Uint8Array,
  width: number,
  height: number,
  factor = 1,
): Pick<FoundCuts, 'paper' | 'paperFactor'> {
  let coarse = { ink, width, height };
  let paperFactor = factor;
  while (coarse.width * coarse.height > NECK_PX) {
    coarse = halveInk(coarse.ink, coarse.width, coarse.height);
    paperFactor *= 2;
  }
  return { paper: paperDistances(coarse.ink, coarse.width, coarse.height), paperFactor };
}

/** Of the reduced page: nothing of it is left when its cuts are found. */
const GRID_MEMORY = new ScratchBuffer();

/**
 * Finds where colour could leak: cuts between loose ends, from ends to lines and to the page's edge,
 * and across necks of the paper; none crosses another. Which of them part regions is decided later.
 *
 * @param page ink mask of the page with its distances to paper.
 * @param lines of the page, its hatching among them.
 * @param linesWithout measures the lines again without hatching.
 * @param limitPx the widest cut for a line width, in px of the page.
 * @param outlinesFromPx the narrowest opening of an outline that runs out into the paper, in px of the page.
 */
export function findCuts(
  page: InkGrid,
  lines: LineWidth,
  linesWithout: (texture: GapTexture) => LineWidth,
  limitPx: (lineWidthPx: number) => number,
  outlinesFromPx: (lineWidthPx: number) => number,
): FoundCuts {
  const { factor, ...reduced } = reduceInk(page, lines.median);
  const grid = factor === 1 ? page : inkDistances(reduced.ink, reduced.width, reduced.height, GRID_MEMORY);
  const thinned = thinInk(grid);
  let read = readStrokes(grid, thinned, lines.median / factor);
  if (read.ends.count > MOST_ENDS) {
    return {
      ...NOTHING,
      ...coarsePaper(grid.ink, grid.width, grid.height, factor),
      lines,
      foundToPx: limitPx(lines.median),
      looseEnds: read.ends.count,
      endAt: new Int32Array(0),
      endWeight: new Float64Array(0),
    };
  }
  // Where most of the ink is hatching, its strokes hide how wide the lines are.
  let known = lines;
  for (let round = 0; round < MOST_ROUNDS && read.texture.inTexture.includes(1); round++) {
    const again = linesWithout({ textureMask: read.texture.mask, textureWidth: grid.width, textureFactor: factor });
    if (again.median < OTHER_WIDTH * known.median) break;
    known = again;
    read = readStrokes(grid, read.skeleton, known.median / factor);
  }
  const lineWidth = known.median / factor;
  const limit = limitPx(known.median);
  const { ends: bare, texture } = read;
  const pieces = labelInk(grid.ink, grid.width, grid.height);
  const letters = markLettering(grid, pieces, lineWidth, texture.mask);
  const neighbours = countNeighbours(bare, lineWidth);
  const weight = weighEnds(bare, neighbours, texture.inTexture, lineWidth);
  for (let k = 0; k < bare.count; k++) if (isLettering(letters, pieces, bare.x[k]!, bare.y[k]!)) weight[k] = 0;
  const ends = { ...bare, weight };
  const outlinesFrom = outlinesFromPx(known.median) / factor;
  const outlines = proposeOutlines(grid, ends, texture.inTexture, outlinesFrom, lineWidth);
  const isOutline = new Set(outlines.map(({ ends }) => ends.join()));
  const proposals = proposeFromEnds(grid, ends, limit / factor, lineWidth).filter(
    (one) => !insideFamily(one, texture) && !isOutline.has([...one.ends].sort((a, b) => a - b).join()),
  );

  const { paper, paperFactor } = coarsePaper(grid.ink, grid.width, grid.height, factor);
  const scale = paperFactor / factor;
  for (const neck of findNecks(paper, limit / paperFactor)) {
    const shift = (scale - 1) / 2;
    proposals.push({
      ...neck,
      x0: neck.x0 * scale + shift,
      y0: neck.y0 * scale + shift,
      x1: neck.x1 * scale + shift,
      y1: neck.y1 * scale + shift,
      cost: neck.cost * scale,
    });
  }

  const strokeFeatures = new StrokeFeatureReader(grid, ends, neighbours, pieces, proposals, lineWidth);
  proposals.push(...outlines);
  const cuts = chooseCuts(
    proposals,
    lineWidth,
    new PagePlacer(page, factor, limit, letters, pieces, strokeFeatures),
    outlinesFrom,
  );
  return {
    cuts,
    paper,
    paperFactor,
    lines: known,
    foundToPx: limit,
    looseEnds: ends.count,
    endAt: endsOnPage(ends, factor),
    endWeight: ends.weight,
    textureMask: texture.mask,
    textureWidth: grid.width,
    textureFactor: factor,
  };
}

/** Carries proposals over to the page they were found for. */
class PagePlacer implements CutPlacer {
  /** @param factor page px per px of the grid. @param limitPx the widest cut. @param isLetter of each piece. */
  constructor(
    private readonly page: Ink,
    private readonly factor: number,
    private readonly limitPx: number,
    private readonly isLetter: Uint8Array | null,
    private readonly pieces: InkPieces,
    private readonly strokeFeatures: StrokeFeatureReader,
  ) {}

  place(proposal: Proposal): Cut | null {
    const { ink, width, height } = this.page;
    const most = proposal.kind === 'outline' ? Infinity : this.limitPx;
    const cut = placeCut(proposal, this.factor, ink, width, height, most);
    // Nobody fills letters, nor what lies between them.
    if (cut === null || endsAtLettering(cut, this.isLetter, this.pieces, this.factor)) return null;
    return { ...cut, strokeFeatures: this.strokeFeatures.read(proposal) };
  }
}

function endsOnPage({ count, x, y }: LooseEnds, factor: number): Int32Array {
  const at = new Int32Array(2 * count);
  for (let k = 0; k < count; k++) {
    at[2 * k] = Math.round(x[k]! * factor);
    at[2 * k + 1] = Math.round(y[k]! * factor);
  }
  return at;
}

/** Hatching is looked for anew with a line width measured without it, so often at most ... */
const MOST_ROUNDS = 2;
/** ... where that is so many times what it was. */
const OTHER_WIDTH = 1.15;

interface ReadStrokes {
  readonly skeleton: Skeleton;
  readonly ends: Omit<LooseEnds, 'weight'>;
  readonly texture: Texture;
}

/** @param lineWidth in px of the grid. */
function readStrokes(grid: InkGrid, thinned: Skeleton, lineWidth: number): ReadStrokes {
  const skeleton = pruneSpurs(grid, thinned, lineWidth);
  const ends = findLooseEnds(grid, skeleton, lineWidth);
  if (ends.count > MOST_ENDS)
    return { skeleton, ends, texture: { inTexture: new Uint8Array(0), mask: new Uint8Array(0) } };
  const strokes = Array.from(ends.x, (_, end) => followInk(grid, ends, end, lineWidth));
  const branches = traceBranches(grid, skeleton, BRANCH_WIDTHS * lineWidth);
  return { skeleton, ends, texture: findTexture(grid, strokes, branches, lineWidth) };
}

/** Letters higher than so many line widths are drawn to be filled; the holes of lower ones are nobody's regions. */
const SMALL_LETTERS = 16;

/** Finds lettering. @param textureMask the ink of small letters is set in it. @returns 1 for each piece of ink that is a letter; null without any. */
function markLettering(
  { width, height }: InkGrid,
  pieces: InkPieces,
  lineWidth: number,
  textureMask: Uint8Array,
): Uint8Array | null {
  const blocks = findLettering(pieces, lineWidth, width, height);
  if (blocks.length === 0) return null;
  const isLetter = new Uint8Array(pieces.count);
  const isSmall = new Uint8Array(pieces.count);
  for (const block of blocks) {
    for (const piece of block.pieces) isLetter[piece] = 1;
    if (block.heightPx <= SMALL_LETTERS * lineWidth) for (const piece of block.pieces) isSmall[piece] = 1;
  }
  for (let y = 0; y < height; y++) markRow(pieces, isSmall, y, y * width, textureMask);
  return isLetter;
}

/** @param from where the row begins in the mask. */
function markRow(pieces: InkPieces, isSmall: Uint8Array, y: number, from: number, textureMask: Uint8Array): void {
  for (let r = pieces.row[y]!; r < pieces.row[y + 1]!; r++) {
    if (isSmall[pieces.ofRun[r]!] === 1) textureMask.fill(LETTER, from + pieces.start[r]!, from + pieces.end[r]!);
  }
}

/** Whether there is lettering at a point of the grid, or right beside it. @param isLetter as {@link markLettering} has it. */
function isLettering(isLetter: Uint8Array | null, pieces: InkPieces, x: number, y: number): boolean {
  if (isLetter === null) return false;
  const right = Math.round(x) + 1;
  const bottom = Math.min(pieces.row.length - 2, Math.round(y) + 1);
  for (let py = Math.max(0, Math.round(y) - 1); py <= bottom; py++) {
    for (let px = right - 2; px <= right; px++) {
      const piece = pieceAt(pieces, px, py);
      if (piece >= 0) return isLetter[piece] === 1;
    }
  }
  return false;
}

/** Whether lettering is at one of the ends of a cut. @param factor page px per px of the grid. */
function endsAtLettering({ from, to }: Cut, isLetter: Uint8Array | null, pieces: InkPieces, factor: number): boolean {
  return (
    isLettering(isLetter, pieces, from[0] / factor, from[1] / factor) ||
    isLettering(isLetter, pieces, to[0] / factor, to[1] / factor)
  );
}

/** A cut between two strokes of hatching parts nothing. */
function insideFamily({ ends, kind }: Proposal, { inTexture }: Texture): boolean {
  return kind === 'ends' && inTexture[ends[0]] === 1 && inTexture[ends[1]] === 1;
}
