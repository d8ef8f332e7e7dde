import { crossingsInRow } from '../layout/crossingsInRow.ts';
import type { LineSelect } from '../model/Holds.ts';
import type { LinePieces } from './LinePieces.ts';

/** The parts of a page, by the numbers that stand for them in {@link PieceParts}. */
export interface PartsOfLines {
  readonly numberOf: (part: string) => number | undefined;
  /** Group of each part. */
  readonly groupOf: readonly string[];
  /** Whether each part's group is a set: what stands behind the figures. */
  readonly isGround: readonly boolean[];
}

/** The parts on both sides of each piece, -1 for none. */
export interface PieceParts {
  readonly one: Int32Array;
  readonly two: Int32Array;
}

/** What a piece of line is: figure against ground, within one part, or between two. */
export type LineKind = 'contour' | 'inner' | 'border';

export function kindOfPiece(
  { one, two }: PieceParts,
  { isGround }: Pick<PartsOfLines, 'isGround'>,
  piece: number,
): LineKind {
  const [a, b] = [one[piece]!, two[piece]!];
  if (a === b) return 'inner';
  const isFigure = (part: number): boolean => part >= 0 && !isGround[part]!;
  return isFigure(a) !== isFigure(b) ? 'contour' : 'border';
}

/** A point is meant for the piece this near to it, in px. */
const NEAR_PX = 24;

/**
 * The pieces a rule takes, ascending. Solid blacks and lettering are taken by points and outlines alone.
 *
 * @returns none for parts that are not on the page.
 */
export function selectLines(pieces: LinePieces, sides: PieceParts, parts: PartsOfLines, select: LineSelect): number[] {
  if ('at' in select) {
    const found = new Set(select.at.map(([x, y]) => pieceNear(pieces, x, y)).filter((piece) => piece >= 0));
    return [...found].sort((a, b) => a - b);
  }
  if ('within' in select) return piecesWithin(pieces, select.within);
  const isTaken = takerOf(pieces, sides, parts, select);
  const found: number[] = [];
  for (let piece = 0; piece < pieces.count; piece++) {
    if (pieces.isSolid[piece] === 0 && pieces.isLettering[piece] === 0 && isTaken(piece)) found.push(piece);
  }
  return found;
}

function takerOf(
  { widthPx }: LinePieces,
  sides: PieceParts,
  parts: PartsOfLines,
  select: Exclude<LineSelect, { readonly at: unknown } | { readonly within: unknown }>,
): (piece: number) => boolean {
  const { one, two } = sides;
  const never = (): boolean => false;
  if ('all' in select) return () => true;
  if ('but' in select) return (piece) => kindOfPiece(sides, parts, piece) !== 'contour';
  if ('thinnerThanPx' in select) return (piece) => widthPx[piece]! < select.thinnerThanPx;
  if ('widerThanPx' in select) return (piece) => widthPx[piece]! > select.widerThanPx;
  if ('contourOf' in select) {
    const isOf = (part: number): boolean => part >= 0 && parts.groupOf[part] === select.contourOf;
    return (piece) => isOf(one[piece]!) !== isOf(two[piece]!);
  }
  if ('between' in select) {
    const [a, b] = select.between.map(parts.numberOf);
    if (a === undefined || b === undefined) return never;
    return (piece) => (one[piece] === a && two[piece] === b) || (one[piece] === b && two[piece] === a);
  }
  const part = parts.numberOf('inside' in select ? select.inside : select.contour);
  if (part === undefined) return never;
  return 'inside' in select
    ? (piece) => one[piece] === part && two[piece] === part
    : (piece) => (one[piece] === part) !== (two[piece] === part);
}

/** The piece nearest to a point, -1 for none within reach. */
export function pieceNear(
  { ofPixel, width, height }: Pick<LinePieces, 'ofPixel' | 'width' | 'height'>,
  x: number,
  y: number,
  reachPx = NEAR_PX,
): number {
  let best = reachPx * reachPx + 1;
  let piece = -1;
  for (let py = Math.max(0, y - reachPx); py <= Math.min(height - 1, y + reachPx); py++) {
    for (let px = Math.max(0, x - reachPx); px <= Math.min(width - 1, x + reachPx); px++) {
      const here = ofPixel[py * width + px]!;
      if (here === 0) continue;
      const d2 = (px - x) * (px - x) + (py - y) * (py - y);
      if (d2 < best) [best, piece] = [d2, here - 1];
    }
  }
  return piece;
}

/** Pieces with more than half of their ink inside an outline. */
export function piecesWithin(pieces: LinePieces, points: readonly (readonly [number, number])[]): number[] {
  const { ofPixel, areaPx, field, width, height, count } = pieces;
  const ys = points.map(([, y]) => y);
  const [top, bottom] = [Math.max(0, Math.floor(Math.min(...ys))), Math.min(height, Math.ceil(Math.max(...ys)))];
  const inside = new Uint32Array(count);
  for (let y = top; y < bottom; y++) {
    const crossings = crossingsInRow(points, y);
    for (let k = 0; k + 1 < crossings.length; k += 2) {
      // A pixel is inside where its middle is.
      const from = Math.max(0, Math.ceil(crossings[k]! - 0.5));
      const to = Math.min(width, Math.ceil(crossings[k + 1]! - 0.5));
      for (let at = y * width + from; at < y * width + to; at++) {
        const piece = ofPixel[at]!;
        if (piece > 0 && field[at]! < 0) inside[piece - 1] = inside[piece - 1]! + 1;
      }
    }
  }
  const found: number[] = [];
  for (let piece = 0; piece < count; piece++) if (2 * inside[piece]! > areaPx[piece]!) found.push(piece);
  return found;
}
