import type { Survey } from '../model/Survey.ts';
import type { LinePieces } from './LinePieces.ts';

/** Which regions lie along each piece: entries `start[k] .. start[k + 1] - 1` of the other columns, most first. */
export interface PieceSides {
  readonly start: Int32Array;
  readonly region: Int32Array;
  /** Edge pixels of the piece whose nearest paper is that region's. */
  readonly px: Int32Array;
}

/** Ink no farther than this from paper is the edge of a line, squared. */
const EDGE2 = 2;

/** Finds the regions along every piece. Cost: a read of the ink. */
export function findPieceSides(
  { ofPixel, count }: LinePieces,
  { width, height, field, regions }: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
): PieceSides {
  const tally = new Map<number, number>();
  let last = -1;
  let run = 0;
  for (let y = 0, at = 0; y < height; y++) {
    for (let x = 0; x < width; x++, at++) {
      const value = field[at]!;
      if (value >= 0 || ~value >= field.length) continue;
      const source = ~value;
      const sx = source % width;
      const dx = x - sx;
      const dy = y - (source - sx) / width;
      if (dx * dx + dy * dy > EDGE2) continue;
      const key = (ofPixel[at]! - 1) * regions.count + regions.ofCell[field[source]!]!;
      if (key !== last) {
        if (run > 0) tally.set(last, (tally.get(last) ?? 0) + run);
        last = key;
        run = 0;
      }
      run++;
    }
  }
  if (run > 0) tally.set(last, (tally.get(last) ?? 0) + run);
  const entries = [...tally].sort(
    ([a, pxA], [b, pxB]) => Math.floor(a / regions.count) - Math.floor(b / regions.count) || pxB - pxA || a - b,
  );
  const start = new Int32Array(count + 1);
  const region = new Int32Array(entries.length);
  const px = new Int32Array(entries.length);
  entries.forEach(([key, counted], k) => {
    start[Math.floor(key / regions.count) + 1]!++;
    region[k] = key % regions.count;
    px[k] = counted;
  });
  for (let k = 0; k < count; k++) start[k + 1] = start[k + 1]! + start[k]!;
  return { start, region, px };
}

/** A part lies on both sides of a line where what is not it takes less than this share of its edge. */
const LEAST_SIDE = 0.2;

/**
 * The parts on both sides of each piece: two columns of the caller's part numbers, -1 for no part; the part along more of its
 * edge first.
 *
 * @param partOfRegion -1 for none.
 */
export function partsOnSides(sides: PieceSides, partOfRegion: Int32Array): { one: Int32Array; two: Int32Array } {
  const count = sides.start.length - 1;
  const [one, two] = [new Int32Array(count).fill(-1), new Int32Array(count).fill(-1)];
  const shares = new Map<number, number>();
  for (let piece = 0; piece < count; piece++) {
    shares.clear();
    let all = 0;
    for (let k = sides.start[piece]!; k < sides.start[piece + 1]!; k++) {
      const part = partOfRegion[sides.region[k]!]!;
      shares.set(part, (shares.get(part) ?? 0) + sides.px[k]!);
      all += sides.px[k]!;
    }
    const [most, next] = [...shares].sort(([a, pxA], [b, pxB]) => pxB - pxA || a - b);
    if (most === undefined) continue;
    one[piece] = most[0];
    // Several parts may share the other side: the one along most of it stands for them.
    two[piece] = next !== undefined && all - most[1] >= LEAST_SIDE * all ? next[0] : most[0];
  }
  return { one, two };
}
