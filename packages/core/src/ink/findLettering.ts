import { findRoot, joinRoots, ownRoots } from '../raster/unionFind.ts';
import type { InkPieces } from './labelInk.ts';

/** A block of lettering: lines of letters close together. */
export interface LetterBlock {
  /** Numbers of its pieces of ink. */
  readonly pieces: readonly number[];
  /** `[x0, y0, x1, y1]`, the last two exclusive. */
  readonly box: readonly [number, number, number, number];
  /** Typical height of a letter, in px. */
  readonly heightPx: number;
}

/** Letters are at least so many line widths high. */
const LEAST_HEIGHTS = 2.6;
/** And at most this share of the page's longer side, or so many line widths, whichever is more: a scrap of a page has letters too. */
const MOST_HEIGHT = 0.05;
const MOST_HEIGHTS = 12;
/** Letters that touch make a piece this many times as wide as high, at most. */
const WIDEST = 8;
/** Letters of one line differ in height by at most this factor. */
const ALIKE = 1.7;
/** Space between letters of a line, and between lines, in letter heights. */
const LETTER_SPACE = 1.1;
const LINE_SPACE = 1.3;
/** Letters have fewer holes than this each, on average: windows, rings and buttons have more ... */
const MOST_HOLES = 1;
/** ... as a line of letters has fewer than this ... */
const MOST_HOLES_IN_LINE = 1.6;
/** ... and one of fewer letters than so many has not one in each. */
const LEAST_WITH_HOLES = 5;
/** Letters are about so wide, in their height: letters that touch are one piece, with holes between them. */
const LETTER_WIDTH = 0.8;
/** A line has at least so many letters, a block so many. */
const LEAST_IN_LINE = 3;
const LEAST_IN_BLOCK = 4;

/**
 * Finds lettering: pieces of ink of like height that stand side by side in lines, in the manner of
 * Fletcher and Kasturi 1988. Rows of equal slim strokes are hatching, rows of equal dots rivets, and
 * stay out.
 */
export function findLettering(pieces: InkPieces, lineWidthPx: number, width: number, height: number): LetterBlock[] {
  const most = Math.max(MOST_HEIGHT * Math.max(width, height), MOST_HEIGHTS * lineWidthPx);
  const letters: number[] = [];
  for (let k = 0; k < pieces.count; k++)
    if (hasLetterSize(pieces, k, LEAST_HEIGHTS * lineWidthPx, most)) letters.push(k);
  letters.sort((a, b) => pieces.box[a * 4]! - pieces.box[b * 4]! || a - b);

  const lineOf = ownRoots(pieces.count);
  for (let n = 0; n < letters.length; n++) joinRightOf(pieces, letters, n, lineOf);
  const lines = new Map<number, number[]>();
  for (const k of letters) {
    const line = lines.get(findRoot(lineOf, k));
    if (line === undefined) lines.set(findRoot(lineOf, k), [k]);
    else line.push(k);
  }
  const holes = holesOf(pieces);
  const straightness = measureStraightness(pieces);
  const holesIn = (members: readonly number[]): number => members.reduce((sum, k) => sum + holes[k]!, 0);
  const lettersIn = (members: readonly number[]): number =>
    members.reduce((sum, k) => sum + lettersInPiece(pieces, k), 0);
  const good = [...lines.values()].filter(
    (line) =>
      line.length >= LEAST_IN_LINE &&
      looksLikeLetters(line, pieces, straightness) &&
      holesIn(line) < MOST_HOLES_IN_LINE * lettersIn(line) &&
      (line.length >= LEAST_WITH_HOLES || line.some((k) => holes[k] === 0)),
  );
  return joinLines(good, pieces).filter(({ pieces: members }) => holesIn(members) <= MOST_HOLES * lettersIn(members));
}

/** @param least @param most height, in px. */
function hasLetterSize({ box, areaPx }: InkPieces, piece: number, least: number, most: number): boolean {
  const w = box[piece * 4 + 2]! - box[piece * 4]!;
  const h = box[piece * 4 + 3]! - box[piece * 4 + 1]!;
  return h >= least && h <= most && w <= WIDEST * h && areaPx[piece]! >= 0.06 * w * h;
}

/** Letters that touch are one piece. */
function lettersInPiece({ box }: InkPieces, piece: number): number {
  const w = box[piece * 4 + 2]! - box[piece * 4]!;
  const h = box[piece * 4 + 3]! - box[piece * 4 + 1]!;
  return Math.max(1, Math.round(w / (LETTER_WIDTH * h)));
}

/** Joins a letter's line with those of its like neighbours to the right. @param letters from left to right. */
function joinRightOf({ box }: InkPieces, letters: readonly number[], n: number, lineOf: Int32Array): void {
  const a = letters[n]! * 4;
  const left = box[a]!;
  const right = box[a + 2]!;
  const height = box[a + 3]! - box[a + 1]!;
  for (let m = n + 1; m < letters.length; m++) {
    const b = letters[m]! * 4;
    const otherLeft = box[b]!;
    if (otherLeft > right + LETTER_SPACE * height * ALIKE) break;
    const otherHeight = box[b + 3]! - box[b + 1]!;
    const low = Math.min(height, otherHeight);
    const high = Math.max(height, otherHeight);
    if (high > ALIKE * low || otherLeft < left + (right - left) * 0.4 || otherLeft - right > LETTER_SPACE * high)
      continue;
    if (Math.min(box[a + 3]!, box[b + 3]!) - Math.max(box[a + 1]!, box[b + 1]!) < 0.5 * low) continue;
    joinRoots(lineOf, letters[m]!, letters[n]!);
  }
}

/** A piece this slim, or whose ink spreads this little across its longest way (a share of variance), is one stroke. */
const SLIM = 0.36;
const STRAIGHT = 0.04;
/** At most this share of a line's letters are one stroke: more of them are hatching. */
const MOST_STROKES = 0.6;

/** Letters differ in width and are not all single strokes. */
function looksLikeLetters(line: readonly number[], pieces: InkPieces, straightness: Float64Array): boolean {
  const { box, areaPx } = pieces;
  const widths = line.map((k) => box[k * 4 + 2]! - box[k * 4]!);
  const heights = line.map((k) => box[k * 4 + 3]! - box[k * 4 + 1]!);
  const plain = line.filter((k, n) => widths[n]! < SLIM * heights[n]! || straightness[k]! < STRAIGHT).length;
  if (plain > MOST_STROKES * line.length) return false;
  const mean = widths.reduce((a, b) => a + b, 0) / widths.length;
  const spread = Math.sqrt(widths.reduce((sum, w) => sum + (w - mean) * (w - mean), 0) / widths.length) / mean;
  const fill = line.map((k, n) => areaPx[k]! / (widths[n]! * heights[n]!));
  const fillMean = fill.reduce((a, b) => a + b, 0) / fill.length;
  const fillSpread = Math.sqrt(fill.reduce((sum, f) => sum + (f - fillMean) * (f - fillMean), 0) / fill.length);
  // All alike in width and in blackness: beads, rivets, windows.
  return spread > 0.1 || fillSpread > 0.06;
}

function joinLines(lines: readonly (readonly number[])[], pieces: InkPieces): LetterBlock[] {
  const blocks = lines.map((line) => blockOf(line, pieces)).sort((a, b) => a.box[1] - b.box[1] || a.box[0] - b.box[0]);
  for (let n = 0; n < blocks.length; n++) {
    for (let m = n + 1; m < blocks.length; m++) {
      const [a, b] = [blocks[n]!, blocks[m]!];
      const h = Math.max(a.heightPx, b.heightPx);
      if (h > ALIKE * Math.min(a.heightPx, b.heightPx)) continue;
      const apart = Math.max(b.box[1] - a.box[3], a.box[1] - b.box[3]);
      const beside = Math.min(a.box[2], b.box[2]) - Math.max(a.box[0], b.box[0]);
      if (apart > LINE_SPACE * h || beside < -LETTER_SPACE * h || (beside < 0 && apart > -0.5 * h)) continue;
      blocks[n] = blockOf([...a.pieces, ...b.pieces], pieces);
      blocks.splice(m, 1);
      m = n;
    }
  }
  return blocks.filter((block) => block.pieces.length >= LEAST_IN_BLOCK);
}

/** For each piece the smaller of the two variances of its ink by the larger: near 0 for a straight stroke. */
function measureStraightness({ count, start, end, row, ofRun }: InkPieces): Float64Array {
  const sums = new Float64Array(6 * count);
  for (let y = 0; y + 1 < row.length; y++) {
    for (let r = row[y]!; r < row[y + 1]!; r++) {
      const at = 6 * ofRun[r]!;
      const n = end[r]! - start[r]!;
      const x = (start[r]! + end[r]! - 1) / 2;
      sums[at] = sums[at]! + n;
      sums[at + 1] = sums[at + 1]! + n * x;
      sums[at + 2] = sums[at + 2]! + n * y;
      sums[at + 3] = sums[at + 3]! + n * x * x + (n * (n * n - 1)) / 12;
      sums[at + 4] = sums[at + 4]! + n * x * y;
      sums[at + 5] = sums[at + 5]! + n * y * y;
    }
  }
  const straightness = new Float64Array(count);
  for (let piece = 0; piece < count; piece++) straightness[piece] = spreadAcross(sums, 6 * piece);
  return straightness;
}

/** The smaller variance by the larger. @param at where the sums of 1, x, y, xx, xy and yy are. */
function spreadAcross(sums: Float64Array, at: number): number {
  const n = sums[at]!;
  const mx = sums[at + 1]! / n;
  const my = sums[at + 2]! / n;
  const xx = sums[at + 3]! / n - mx * mx;
  const xy = sums[at + 4]! / n - mx * my;
  const yy = sums[at + 5]! / n - my * my;
  const half = (xx + yy) / 2;
  const apart = Math.sqrt(((xx - yy) / 2) * ((xx - yy) / 2) + xy * xy);
  return half + apart === 0 ? 1 : (half - apart) / (half + apart);
}

/** How many holes each piece of ink has: one more than its rows' runs that touch outnumber the runs (Euler). */
function holesOf({ count, start, end, row, ofRun }: InkPieces): Int32Array {
  const holes = new Int32Array(count).fill(1);
  for (let y = 0; y + 1 < row.length; y++) {
    let above = y === 0 ? row[y]! : row[y - 1]!;
    for (let r = row[y]!; r < row[y + 1]!; r++) {
      const piece = ofRun[r]!;
      holes[piece] = holes[piece]! - 1;
      while (above < row[y]! && end[above]! < start[r]!) above++;
      // Runs touch across a corner too; the last one may touch the next run as well.
      for (let other = above; other < row[y]! && start[other]! <= end[r]!; other++) holes[piece] = holes[piece]! + 1;
    }
  }
  return holes;
}

function blockOf(members: readonly number[], { box }: InkPieces): LetterBlock {
  const heights = members.map((k) => box[k * 4 + 3]! - box[k * 4 + 1]!).sort((a, b) => a - b);
  return {
    pieces: members,
    box: [
      Math.min(...members.map((k) => box[k * 4]!)),
      Math.min(...members.map((k) => box[k * 4 + 1]!)),
      Math.max(...members.map((k) => box[k * 4 + 2]!)),
      Math.max(...members.map((k) => box[k * 4 + 3]!)),
    ],
    heightPx: heights[heights.length >> 1]!,
  };
}
