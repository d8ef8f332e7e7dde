import { halveInk } from '../skeleton/InkGrid.ts';
import type { Survey } from '../model/Survey.ts';

/** A stretch of ink that was looked at. */
export interface StrokeStripe {
  /** Middle of a square of the page, in px. */
  readonly x: number;
  readonly y: number;
  /** Length of the strokes in it, in px. */
  readonly lengthPx: number;
}

/** What the strokes of a page are like. */
export interface StrokeFacts {
  /** False where every pixel is either ink or paper. */
  readonly antiAliased: boolean;
  /** Length of the outlines of ink against the same outlines smoothed; 1 is a clean pen, 1.3 a dry brush. */
  readonly raggedness: number;
  readonly strokeStripes: readonly StrokeStripe[];
}

/** Stroke lengths are kept for squares of this share of the longer side. */
const SQUARES = 64;

/** Cost: two reads of the ink. */
export function measureStrokes(survey: Pick<Survey, 'width' | 'height' | 'inkAlpha' | 'lineWidthPx'>): StrokeFacts {
  const { width, height, inkAlpha, lineWidthPx } = survey;
  const squarePx = Math.max(8, Math.ceil(Math.max(width, height) / SQUARES));
  const columns = Math.ceil(width / squarePx);
  const edges = new Float64Array(columns * Math.ceil(height / squarePx));
  const tally = new Float64Array(2);
  for (let y = 1; y + 1 < height; y++) {
    tallyRow(inkAlpha, width, y, squarePx, columns, edges, tally);
  }
  const [grey, border] = [tally[0]!, tally[1]!];
  const strokeStripes: StrokeStripe[] = [];
  edges.forEach((count, k) => {
    if (count === 0) return;
    const [x, y] = [((k % columns) + 0.5) * squarePx, (Math.floor(k / columns) + 0.5) * squarePx];
    // Both sides of a stroke are counted, along rows and along columns; pi / 4 takes out the steps (Crofton).
    strokeStripes.push({ x, y, lengthPx: (count / 2) * (Math.PI / 4) });
  });
  return {
    antiAliased: border > 0 && grey > 0.15 * border,
    raggedness: measureRaggedness(inkAlpha, width, height, lineWidthPx.median),
    strokeStripes,
  };
}

function tallyRow(
  ink: Uint8Array,
  width: number,
  y: number,
  squarePx: number,
  columns: number,
  edges: Float64Array,
  tally: Float64Array,
): void {
  const square = Math.floor(y / squarePx) * columns;
  const base = y * width;
  for (let x = 1; x + 1 < width; x++) {
    const at = base + x;
    const alpha = ink[at]!;
    if (alpha === 0 && ink[at - 1] === 0 && ink[at - width] === 0) continue;
    if (alpha > 24 && alpha < 232) tally[0]!++;
    const here = alpha >= 128;
    if (here !== ink[at - width]! >= 128) {
      edges[square + Math.floor(x / squarePx)]!++;
      tally[1]!++;
    }
    if (here !== ink[at - 1]! >= 128) {
      edges[square + Math.floor(x / squarePx)]!++;
      tally[1]!++;
    }
  }
}

/** Crossings of the ink's edge at full size against a size at which a line is about two px wide. */
function measureRaggedness(ink: Uint8Array, width: number, height: number, lineWidthPx: number): number {
  let coarse = { ink, width, height };
  let factor = 1;
  while (lineWidthPx / factor >= 4) {
    coarse = halveInk(coarse.ink, coarse.width, coarse.height);
    factor *= 2;
  }
  if (factor === 1) return 1;
  const fine = crossings(ink, width, height);
  const smooth = factor * crossings(coarse.ink, coarse.width, coarse.height);
  return smooth === 0 ? 1 : fine / smooth;
}

/** How often the edge of the ink is crossed along rows. */
function crossings(ink: Uint8Array, width: number, height: number): number {
  let count = 0;
  for (let y = 0; y < height; y++) {
    const base = y * width;
    for (let x = 1; x < width; x++) if (((ink[base + x]! ^ ink[base + x - 1]!) & 128) !== 0) count++;
  }
  return count;
}
