import type { Cut } from '../model/Cut.ts';
import type { FoundCuts } from '../gaps/hatching/FoundCuts.ts';
import type { LineWidth } from '../model/inkMeasures.ts';
import { ownSolids } from '../page/readPageDocument.ts';
import { MAIN_INK, type PageDocument } from '../model/PageDocument.ts';

/**
 * Cuts found by other code are other cuts: this goes up whenever the same page gives others. A test holds
 * it against the cuts of a drawing.
 */
export const CUTS_VERSION = 7;

/** Cuts that were found before; the rest is quick to measure again. */
export type StoredCuts = Omit<FoundCuts, 'paper' | 'paperFactor'>;

/** The files of a page, by the hashes of their rasters. */
export interface PageFiles {
  readonly greyHash: string;
  readonly inks: readonly { readonly id: string; readonly greyHash: string }[];
}

/** Names what cuts depend on: two pages read alike have the same cuts. The largest gap divides; it finds nothing. */
export function readingCacheKey({ greyHash, inks: files }: PageFiles, document: ReadingDecisions): string {
  const { inkPoints, flatten, speckLimitPx2, slopePpm, detail } = document.prep;
  const bounds = (id: string): boolean => document.inks.get(id)?.bounds ?? true;
  return JSON.stringify([
    CUTS_VERSION,
    greyHash,
    [
      inkPoints === 'auto' ? inkPoints : [inkPoints.blackPoint, inkPoints.whitePoint],
      flatten,
      speckLimitPx2,
      slopePpm,
      detail.thinnerThanPx,
      detail.shorterThanPx,
    ],
    bounds(MAIN_INK),
    files.map((file) => [file.greyHash, bounds(file.id)]),
    ownSolids(document),
  ]);
}

type ReadingDecisions = Pick<PageDocument, 'prep' | 'inks' | 'solids'>;

/** Everything but the texture mask, which follows as `[start, length, value]` of its runs. */
interface Packed {
  readonly cuts: readonly Cut[];
  readonly lines: LineWidth;
  readonly foundToPx: number;
  readonly looseEnds: number;
  readonly endAt: readonly number[];
  readonly endWeight: readonly number[];
  readonly textureWidth: number;
  readonly textureFactor: number;
  readonly texturePx: number;
  readonly textureRuns: readonly number[];
}

/** Cuts as JSON. */
export function packCuts(found: StoredCuts): string {
  const { cuts, lines, foundToPx, looseEnds, endAt, endWeight, textureMask, textureWidth, textureFactor } = found;
  const textureRuns: number[] = [];
  for (let at = 0; at < textureMask.length;) {
    const value = textureMask[at]!;
    let end = at + 1;
    while (end < textureMask.length && textureMask[end] === value) end++;
    if (value !== 0) textureRuns.push(at, end - at, value);
    at = end;
  }
  const packed: Packed = {
    cuts,
    lines,
    foundToPx,
    looseEnds,
    endAt: [...endAt],
    endWeight: [...endWeight],
    textureWidth,
    textureFactor,
    texturePx: textureMask.length,
    textureRuns,
  };
  return JSON.stringify(packed);
}

/**
 * The cuts that {@link packCuts} packed, number for number.
 *
 * @param pixels of the page: the mask has no more. @throws Error for a text that is no cuts.
 */
export function unpackCuts(text: string, pixels: number): StoredCuts {
  const packed = JSON.parse(text) as Partial<Packed>;
  const { cuts, lines, endAt, endWeight, textureRuns, texturePx = -1 } = packed;
  if (
    !Array.isArray(cuts) ||
    lines === undefined ||
    !Array.isArray(endAt) ||
    !Array.isArray(endWeight) ||
    !Array.isArray(textureRuns) ||
    !Number.isInteger(texturePx) ||
    texturePx < 0 ||
    texturePx > pixels
  )
    throw new Error('The stored gaps are not readable.');
  const textureMask = new Uint8Array(texturePx);
  for (let k = 0; k < textureRuns.length; k += 3)
    textureMask.fill(textureRuns[k + 2]!, textureRuns[k]!, textureRuns[k]! + textureRuns[k + 1]!);
  return {
    cuts: [...cuts],
    lines,
    foundToPx: packed.foundToPx!,
    looseEnds: packed.looseEnds!,
    endAt: Int32Array.from(endAt),
    endWeight: Float64Array.from(endWeight),
    textureMask,
    textureWidth: packed.textureWidth!,
    textureFactor: packed.textureFactor!,
  };
}
