import { eachRunOf, type InkPieces } from './labelInk.ts';

/** Specks are counted in these sizes, in px². */
export const MOST_SPECK_PX2 = 400;

/** Fainter pieces are haze of the paper, not specks. */
const HAZE_PX2 = 0.25;

/**
 * How many pieces of ink there are of each size up to {@link MOST_SPECK_PX2}: entry n counts those with
 * more than n - 1 and at most n px² of ink, entry 0 the haze of single pale pixels.
 */
export function countSpecks({ count, areaPx }: Pick<InkPieces, 'count' | 'areaPx'>): Uint32Array {
  const counts = new Uint32Array(MOST_SPECK_PX2 + 1);
  for (let piece = 0; piece < count; piece++) {
    const size = areaPx[piece]! < HAZE_PX2 ? 0 : Math.ceil(areaPx[piece]!);
    if (size <= MOST_SPECK_PX2) counts[size]!++;
  }
  return counts;
}

/** `[x, y, ink in px²]` of each piece that {@link countSpecks} counts as a speck, at most `most` of them. */
export function speckPlaces({ count, areaPx, box }: InkPieces, most: number): Float32Array {
  const places: number[] = [];
  for (let piece = 0; piece < count && places.length < 3 * most; piece++) {
    const area = areaPx[piece]!;
    if (area < HAZE_PX2 || area > MOST_SPECK_PX2) continue;
    const b = piece * 4;
    places.push((box[b]! + box[b + 2]! - 1) / 2, (box[b + 1]! + box[b + 3]! - 1) / 2, area);
  }
  return Float32Array.from(places);
}

/** Wipes out pieces of ink up to a size; nothing that touches a line is such a piece. @returns how many went. */
export function clearSpecks(inkAlpha: Uint8Array, width: number, pieces: InkPieces, limitPx2: number): number {
  let gone = 0;
  for (let piece = 0; piece < pieces.count; piece++) if (pieces.areaPx[piece]! <= limitPx2) gone++;
  eachRunOf(
    pieces,
    (piece) => pieces.areaPx[piece]! <= limitPx2,
    width,
    (from, to) => inkAlpha.fill(0, from, to),
  );
  return gone;
}
