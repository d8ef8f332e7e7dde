import { findLettering } from '../ink/findLettering.ts';
import { labelInk } from '../ink/labelInk.ts';
import { NO_LINE_EDITS, type LineEdits } from '../model/Holds.ts';
import type { Survey } from '../model/Survey.ts';
import { Int32Stack } from '../raster/growable.ts';
import type { PaperRuns } from '../raster/scanRuns.ts';
import { thinInk } from '../skeleton/thinInk.ts';
import type { InkBase } from '../survey/OpenSurvey.ts';
import { markSolids } from '../trap/markSolids.ts';
import { PAST_EDGE_PX, type LinePieces } from './LinePieces.ts';
import { segmentSkeleton, type Segments } from './segmentSkeleton.ts';

/**
 * Divides the ink of a page into line pieces. Every ink pixel belongs to exactly one: that of the nearest middle line, by way
 * of the ink.
 *
 * Cost: the thinning of the ink, and about six reads of it.
 */
export function findLinePieces(
  base: Pick<InkBase, 'width' | 'height' | 'inkMask' | 'runs' | 'field'>,
  survey: Pick<Survey, 'inkAlpha' | 'lineWidthPx'>,
  edits: LineEdits = NO_LINE_EDITS,
  allocate: (bytes: number) => ArrayBufferLike = (bytes) => new ArrayBuffer(bytes),
): LinePieces {
  const { width, height, inkMask, runs, field } = base;
  const line = survey.lineWidthPx.median;
  const grid = { width, height, ink: inkMask, nearest: field, runs };
  const solids = markSolids({ width, height, field, lineWidthPx: survey.lineWidthPx })?.bits ?? null;
  const segments = segmentSkeleton(grid, thinInk(grid), line, edits, solids);
  // Bits of ink without a middle line of their own add a few.
  const label =
    segments.count < MOST_SHORT
      ? new Uint16Array(allocate(2 * width * height))
      : new Uint32Array(allocate(4 * width * height));
  const near = new Uint16Array(width * height);
  for (let k = 0; k < segments.count; k++) {
    for (let j = segments.start[k]!; j < segments.start[k + 1]!; j++) {
      label[segments.pixels[j]!] = k + 1;
      near[segments.pixels[j]!] = NEAREST;
    }
  }
  if (solids !== null) fillSolids(label, near, solids, segments, width, height);
  spreadLabels(label, near, runs, width, height);
  const count = labelRest(label, field, segments.count, width, height);
  const numbered = numberByPlace(label, field, runs, count, width, height);
  growPastEdge(numbered.ofPixel, field, runs, width, height);
  return { ...describe(numbered, segments, survey, width, height), field };
}

/** Pieces have numbers of two bytes where there are no more than this. */
const MOST_SHORT = 65_000;
/** On the middle line; farther away it is less, down to 0: memory that is never written to costs nothing. */
const NEAREST = 0xffff;
/** All of a solid black belongs to its middle: otherwise its edges would go to the lines that run into them. */
function fillSolids(
  label: Uint16Array | Uint32Array,
  near: Uint16Array,
  solids: Uint8Array,
  segments: Segments,
  width: number,
  height: number,
): void {
  const stack = new Int32Stack();
  for (let k = 0; k < segments.count; k++) {
    if (segments.isSolid[k] === 0) continue;
    for (let j = segments.start[k]!; j < segments.start[k + 1]!; j++) stack.push(segments.pixels[j]!);
    while (stack.length > 0) {
      const at = stack.data[--stack.length]!;
      const x = at % width;
      for (let side = 0; side < 4; side++) {
        if ((side === 0 && x === 0) || (side === 1 && x === width - 1)) continue;
        const next = at + (side === 0 ? -1 : side === 1 ? 1 : side === 2 ? -width : width);
        if (next < 0 || next >= width * height || near[next] === NEAREST) continue;
        if (((solids[next >> 3]! >> (next & 7)) & 1) === 0) continue;
        near[next] = NEAREST;
        label[next] = k + 1;
        stack.push(next);
      }
    }
  }
}

/** Weights of the chamfer distance (Borgefors 1986). */
const [STRAIGHT, DIAGONAL] = [3, 4];

/** Spreads labels through the ink by the shorter way: forth and back until nothing changes. */
function spreadLabels(
  label: Uint16Array | Uint32Array,
  near: Uint16Array,
  runs: PaperRuns,
  width: number,
  height: number,
): void {
  for (let changed = true; changed;) {
    changed = false;
    for (let y = 0; y < height; y++) if (sweepRow(label, near, runs, width, y, -1, y > 0)) changed = true;
    for (let y = height - 1; y >= 0; y--) if (sweepRow(label, near, runs, width, y, 1, y < height - 1)) changed = true;
  }
}

/** @param way -1 from the left with the row above, 1 from the right with the row below. */
function sweepRow(
  label: Uint16Array | Uint32Array,
  near: Uint16Array,
  runs: PaperRuns,
  width: number,
  y: number,
  way: -1 | 1,
  hasRow: boolean,
): boolean {
  const [first, last] = [runs.row[y]!, runs.row[y + 1]!];
  const base = y * width;
  let changed = false;
  const runCount = last - first;
  for (let k = 0; k <= runCount; k++) {
    const r = way === -1 ? first + k : last - k;
    const from = r === first ? 0 : runs.end[r - 1]!;
    const to = r === last ? width : runs.start[r]!;
    if (to > from && sweepRun(label, near, width, base, from, to, way, hasRow)) changed = true;
  }
  return changed;
}

function sweepRun(
  label: Uint16Array | Uint32Array,
  near: Uint16Array,
  width: number,
  base: number,
  from: number,
  to: number,
  way: -1 | 1,
  hasRow: boolean,
): boolean {
  let changed = false;
  const other = way * width;
  for (let k = from; k < to; k++) {
    const x = way === -1 ? k : to - 1 - (k - from);
    const at = base + x;
    let best = near[at]!;
    let source = -1;
    const beside = x + way;
    if (beside >= from && beside < to && near[at + way]! - STRAIGHT > best) {
      best = near[at + way]! - STRAIGHT;
      source = at + way;
    }
    if (hasRow) {
      // Paper is as far as can be for ever.
      if (near[at + other]! - STRAIGHT > best) {
        best = near[at + other]! - STRAIGHT;
        source = at + other;
      }
      if (x > 0 && near[at + other - 1]! - DIAGONAL > best) {
        best = near[at + other - 1]! - DIAGONAL;
        source = at + other - 1;
      }
      if (x + 1 < width && near[at + other + 1]! - DIAGONAL > best) {
        best = near[at + other + 1]! - DIAGONAL;
        source = at + other + 1;
      }
    }
    if (source < 0) continue;
    near[at] = best;
    label[at] = label[source]!;
    changed = true;
  }
  return changed;
}

/** Bits of ink that consist of junctions alone are pieces of their own. @returns how many pieces there are. */
function labelRest(
  label: Uint16Array | Uint32Array,
  field: Int32Array,
  from: number,
  width: number,
  height: number,
): number {
  let count = from;
  for (let first = 0; first < label.length; first++) {
    if (field[first]! >= 0 || label[first] !== 0) continue;
    const stack = [first];
    label[first] = ++count;
    for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
      const x = at % width;
      const y = (at - x) / width;
      for (let py = Math.max(0, y - 1); py <= Math.min(height - 1, y + 1); py++) {
        for (let px = Math.max(0, x - 1); px <= Math.min(width - 1, x + 1); px++) {
          const next = py * width + px;
          if (field[next]! >= 0 || label[next] !== 0) continue;
          label[next] = count;
          stack.push(next);
        }
      }
    }
  }
  return count;
}

interface Numbered {
  readonly count: number;
  readonly ofPixel: Uint16Array | Uint32Array;
  /** Number of each label. */
  readonly ofLabel: Int32Array;
  readonly areaPx: Uint32Array;
  readonly box: Int32Array;
  readonly first: Int32Array;
}

/** Numbers pieces by where they begin, in reading order; `label` is written over. */
function numberByPlace(
  label: Uint16Array | Uint32Array,
  field: Int32Array,
  runs: PaperRuns,
  most: number,
  width: number,
  height: number,
): Numbered {
  const ofLabel = new Int32Array(most + 1).fill(-1);
  const areaPx = new Uint32Array(most);
  const box = new Int32Array(most * 4);
  const first = new Int32Array(most);
  let count = 0;
  for (let y = 0; y < height; y++) {
    for (let r = runs.row[y]!; r <= runs.row[y + 1]!; r++) {
      const from = r === runs.row[y]! ? 0 : runs.end[r - 1]!;
      const to = r === runs.row[y + 1]! ? width : runs.start[r]!;
      for (let x = from; x < to; x++) {
        const at = y * width + x;
        if (field[at]! >= 0) continue;
        let piece = ofLabel[label[at]!]!;
        if (piece < 0) {
          piece = ofLabel[label[at]!] = count++;
          box.set([x, y, x + 1, y + 1], piece * 4);
          first[piece] = at;
        }
        label[at] = piece + 1;
        areaPx[piece] = areaPx[piece]! + 1;
        const b = piece * 4;
        if (x < box[b]!) box[b] = x;
        if (x >= box[b + 2]!) box[b + 2] = x + 1;
        box[b + 3] = y + 1;
      }
    }
  }
  return { count, ofPixel: label, ofLabel, areaPx: areaPx.slice(0, count), box: box.slice(0, count * 4), first };
}

/** Lets pieces run past the ink, so that soft pixels beside it take their colour: the lower number where two meet. */
function growPastEdge(
  ofPixel: Uint16Array | Uint32Array,
  field: Int32Array,
  runs: PaperRuns,
  width: number,
  height: number,
): void {
  const grown = new Int32Stack(1 << 16);
  const pieces = new Int32Stack(1 << 16);
  /** A paper pixel takes the lowest of its neighbours; what was taken in this round counts in the next. */
  const look = (x: number, y: number): void => {
    if (x < 0 || y < 0 || x >= width || y >= height) return;
    const at = y * width + x;
    if (ofPixel[at] !== 0 || field[at]! < 0) return;
    let piece = x > 0 ? ofPixel[at - 1]! : 0;
    if (x + 1 < width && ofPixel[at + 1]! > 0 && (piece === 0 || ofPixel[at + 1]! < piece)) piece = ofPixel[at + 1]!;
    if (y > 0 && ofPixel[at - width]! > 0 && (piece === 0 || ofPixel[at - width]! < piece))
      piece = ofPixel[at - width]!;
    if (y + 1 < height && ofPixel[at + width]! > 0 && (piece === 0 || ofPixel[at + width]! < piece))
      piece = ofPixel[at + width]!;
    if (piece === 0) return;
    grown.push(at);
    pieces.push(piece);
  };
  for (let y = 0; y < height; y++) {
    for (let r = runs.row[y]!; r <= runs.row[y + 1]!; r++) {
      const from = r === runs.row[y]! ? 0 : runs.end[r - 1]!;
      const to = r === runs.row[y + 1]! ? width : runs.start[r]!;
      if (to <= from) continue;
      look(from - 1, y);
      look(to, y);
      for (let x = from; x < to; x++) {
        look(x, y - 1);
        look(x, y + 1);
      }
    }
  }
  let start = 0;
  for (let round = 0; ; round++) {
    const end = grown.length;
    for (let k = start; k < end; k++) ofPixel[grown.data[k]!] = pieces.data[k]!;
    if (round + 1 === PAST_EDGE_PX) return;
    for (let k = start; k < end; k++) {
      const x = grown.data[k]! % width;
      const y = (grown.data[k]! - x) / width;
      look(x - 1, y);
      look(x + 1, y);
      look(x, y - 1);
      look(x, y + 1);
    }
    start = end;
  }
}

function describe(
  { count, ofPixel, ofLabel, areaPx, box, first }: Numbered,
  segments: Segments,
  { inkAlpha, lineWidthPx }: Pick<Survey, 'inkAlpha' | 'lineWidthPx'>,
  width: number,
  height: number,
): Omit<LinePieces, 'field'> {
  const lengthPx = new Float64Array(count).fill(1);
  const widthPx = new Float64Array(count).fill(1);
  const at = first.slice(0, count);
  const isSolid = new Uint8Array(count);
  for (let k = 0; k < segments.count; k++) {
    const piece = ofLabel[k + 1]!;
    if (piece < 0) continue;
    lengthPx[piece] = segments.lengthPx[k]!;
    // A long piece is as wide as its ink by its length; in a short one that says little.
    const isLong = segments.lengthPx[k]! > 4 * segments.radiusPx[k]!;
    widthPx[piece] = isLong ? areaPx[piece]! / segments.lengthPx[k]! : Math.max(1, 2 * segments.radiusPx[k]!);
    at[piece] = segments.pixels[(segments.start[k]! + segments.start[k + 1]!) >> 1]!;
    if (segments.isSolid[k] === 1) isSolid[piece] = 1;
  }
  const isLettering = new Uint8Array(count);
  const bits = labelInk(inkAlpha, width, height);
  const isLetter = new Uint8Array(bits.count);
  for (const { pieces } of findLettering(bits, lineWidthPx.median, width, height))
    for (const piece of pieces) isLetter[piece] = 1;
  for (let y = 0; y < height; y++) {
    for (let r = bits.row[y]!; r < bits.row[y + 1]!; r++) {
      if (isLetter[bits.ofRun[r]!] === 0) continue;
      for (let x = bits.start[r]!; x < bits.end[r]!; x++) {
        const piece = ofPixel[y * width + x]!;
        if (piece > 0) isLettering[piece - 1] = 1;
      }
    }
  }
  return { count, width, height, ofPixel, areaPx, lengthPx, widthPx, box, at, isSolid, isLettering };
}
