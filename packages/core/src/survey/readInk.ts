import { clearSpecks } from '../ink/clearSpecks.ts';
import { flattenPaper, isUneven, measurePaper } from '../ink/flattenPaper.ts';
import type { InkPoints, PaperTone } from '../model/inkMeasures.ts';
import { inkFromGrey } from '../ink/inkFromGrey.ts';
import { labelInk } from '../ink/labelInk.ts';
import { measureInkPoints } from '../ink/measureInkPoints.ts';
import { straighten } from '../ink/straighten.ts';
import type { Prep } from '../model/PageDocument.ts';
import { type GreyRaster, checkGreyRaster } from '../raster/GreyRaster.ts';

/** A further ink file of a page, of the same size as the page. */
export interface OtherInk {
  readonly grey: GreyRaster;
  /** Whether regions end at its lines; it is printed either way. */
  readonly bounds: boolean;
}

/** The ink of a page, made from its files. */
export interface PageInk {
  /** Everything that is printed, 0..255 a pixel. */
  readonly printed: Uint8Array;
  /** What regions end at; the same array where that is everything. */
  readonly bounds: Uint8Array;
  /** The page's own file as its ink was read from it: level and even. */
  readonly grey: GreyRaster;
  readonly inkPoints: InkPoints;
  readonly paper: PaperTone;
  readonly flattened: boolean;
  readonly specksCleared: number;
}

/**
 * Reads the ink of a page: turned straight, paper flattened, darkness made into opacity, specks
 * cleared, and further files laid over it as prints would be.
 *
 * @param ownBounds whether regions end at the lines of the page's own file.
 * @throws RangeError for a file that contradicts itself or has another size.
 */
export function readInk(
  grey: GreyRaster,
  prep: Prep,
  others: readonly OtherInk[],
  ownBounds: boolean,
  allocate: (bytes: number) => ArrayBufferLike,
): PageInk {
  const { width, height } = grey;
  const paper = measurePaper(grey);
  const flattened = prep.flatten === 'auto' ? isUneven(paper) : prep.flatten;
  let specksCleared = 0;
  const read = (
    one: GreyRaster,
    points: 'auto' | InkPoints,
    tone: PaperTone,
    flat: boolean,
  ): [Uint8Array, InkPoints, GreyRaster] => {
    const even = flat ? flattenPaper(one, tone) : one;
    const level = prep.slopePpm === null || prep.slopePpm === 0 ? even : straighten(even, prep.slopePpm);
    const found = points === 'auto' ? measureInkPoints(even) : points;
    const alpha = inkFromGrey(level, found, new Uint8Array(allocate(width * height)));
    if (prep.speckLimitPx2 !== null && prep.speckLimitPx2 > 0)
      specksCleared += clearSpecks(alpha, width, labelInk(alpha, width, height), prep.speckLimitPx2);
    return [alpha, found, level];
  };

  const [own, inkPoints, level] = read(grey, prep.inkPoints, paper, flattened);
  const facts = { grey: level, inkPoints, paper, flattened };
  if (others.length === 0 && ownBounds) return { printed: own, bounds: own, ...facts, specksCleared };
  const all = ownBounds && others.every((one) => one.bounds);
  const bounds = all ? own : new Uint8Array(allocate(width * height));
  if (!all && ownBounds) bounds.set(own);
  others.forEach((other, k) => {
    checkGreyRaster(other.grey);
    if (other.grey.width !== width || other.grey.height !== height) {
      throw new RangeError(
        `\`others[${k}]\` must have the page's size ${width} x ${height}; received ${other.grey.width} x ${other.grey.height}`,
      );
    }
    const tone = measurePaper(other.grey);
    const [alpha] = read(other.grey, 'auto', tone, isUneven(tone));
    layOver(own, alpha);
    if (!all && other.bounds) layOver(bounds, alpha);
  });
  return { printed: own, bounds, ...facts, specksCleared };
}

/** Ink over ink, as it prints: what is left white is white on both. */
function layOver(below: Uint8Array, above: Uint8Array): void {
  for (let at = 0; at < below.length; at++) {
    const a = above[at]!;
    if (a === 0) continue;
    const b = below[at]!;
    below[at] = a + b - Math.floor((a * b + 127) / 255);
  }
}
