import { halveInk } from '../gaps/InkGrid.ts';
import type { Survey } from '../survey/surveyPage.ts';

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
  /** How many strokes have which width: entry n counts places between n / 2 and (n + 1) / 2 px wide. */
  readonly widthCounts: Uint32Array;
  /** Length of the outlines of ink against the same outlines smoothed; 1 is a clean pen, 1.3 a dry brush. */
  readonly raggedness: number;
  readonly strokeStripes: readonly StrokeStripe[];
}

/** Widths are counted up to this, in half px. */
const WIDTH_BINS = 160;
/** Stroke lengths are kept for squares of this share of the longer side. */
const SQUARES = 64;

/** Cost: two reads of the ink. */
export function measureStrokes(
  survey: Pick<Survey, 'width' | 'height' | 'inkAlpha' | 'field' | 'lineWidthPx'>,
): StrokeFacts {
  const { width, height, inkAlpha, field, lineWidthPx } = survey;
  const squarePx = Math.max(8, Math.ceil(Math.max(width, height) / SQUARES));
  const columns = Math.ceil(width / squarePx);
  const edges = new Float64Array(columns * Math.ceil(height / squarePx));
  const widthCounts = new Uint32Array(WIDTH_BINS);
  const tally = new Float64Array(2);
  for (let y = 1; y + 1 < height; y++) {
    tallyRow(inkAlpha, field, width, y, squarePx, columns, edges, widthCounts, tally);
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
    widthCounts,
    raggedness: measureRaggedness(inkAlpha, width, height, lineWidthPx.median),
    strokeStripes,
  };
}

function tallyRow(
  ink: Uint8Array,
  field: Int32Array,
  width: number,
  y: number,
  squarePx: number,
  columns: number,
  edges: Float64Array,
  widthCounts: Uint32Array,
  tally: Float64Array,
): void {
  const square = Math.floor(y / squarePx) * columns;
  const base = y * width;
  let from = -1;
  for (let x = 1; x + 1 < width; x++) {
    const at = base + x;
    const alpha = ink[at]!;
    if (alpha === 0 && from < 0) continue;
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
    if (here && from < 0) from = x;
    if (!here && from >= 0) {
      countWidth(field, width, base + ((from + x - 1) >> 1), widthCounts);
      from = -1;
    }
  }
}

/** The width of the line in the middle of a run of ink, where that is the line's own middle. */
function countWidth(field: Int32Array, width: number, at: number, counts: Uint32Array): void {
  const here = distance2(field, width, at);
  if (here === 0 || here === Infinity) return;
  // Across a level line the middle of a run is not the middle of the line.
  if (distance2(field, width, at - width) > here || distance2(field, width, at + width) > here) return;
  const bin = Math.floor(2 * (2 * Math.sqrt(here) - 1));
  counts[Math.min(counts.length - 1, bin)]!++;
}

function distance2(field: Int32Array, width: number, at: number): number {
  const value = field[at];
  if (value === undefined || value >= 0) return 0;
  const source = ~value;
  if (source >= field.length) return Infinity;
  const x = at % width;
  const sx = source % width;
  const dx = x - sx;
  const dy = (at - x - (source - sx)) / width;
  return dx * dx + dy * dy;
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
