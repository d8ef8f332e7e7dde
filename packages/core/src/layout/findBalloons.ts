import type { Survey } from '../model/Survey.ts';
import type { InkPieces } from '../ink/labelInk.ts';
import type { LetterBlock } from '../ink/findLettering.ts';

/** A region with lettering in it that reads like a balloon or a caption. */
export interface Balloon {
  readonly region: number;
  /** Point on paper between its letters, in px: what a ruling on it is kept under. */
  readonly at: readonly [number, number];
  readonly letters: number;
  /** `[x0, y0, x1, y1]` of the region. */
  readonly box: readonly [number, number, number, number];
}

/** A balloon leaves at most so many letter heights around its lettering, and is this much larger with its tail. */
const MOST_ROOM = 4.5;
const WITH_TAIL = 2.2;
/** And at most this share of the page. */
const MOST_SHARE = 0.12;

/** Finds regions that lie tightly around lettering, in the order of the blocks. */
export function findBalloons(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
  blocks: readonly LetterBlock[],
  pieces: InkPieces,
): Balloon[] {
  const { width, height, field, regions } = survey;
  const found = new Map<number, Balloon>();
  for (const block of blocks) {
    const votes = new Map<number, { count: number; at: number }>();
    for (const k of block.pieces) {
      // Left of a piece's first pixel there is paper.
      const at = pieces.first[k]! - 1;
      const cell = pieces.first[k]! % width === 0 ? -1 : field[at]!;
      if (cell < 0) continue;
      const region = regions.ofCell[cell]!;
      votes.set(region, { count: (votes.get(region)?.count ?? 0) + 1, at });
    }
    const [winner] = [...votes].sort((a, b) => b[1].count - a[1].count || a[0] - b[0]);
    if (winner === undefined || winner[1].count * 2 < block.pieces.length) continue;
    const [region, { at }] = winner;
    const box = regions.box.subarray(region * 4, region * 4 + 4) as unknown as Balloon['box'];
    const size = (box[2] - box[0]) * (box[3] - box[1]);
    const room = MOST_ROOM * block.heightPx;
    const most = (block.box[2] - block.box[0] + room) * (block.box[3] - block.box[1] + room) * WITH_TAIL;
    const known = found.get(region);
    if (known !== undefined) {
      found.set(region, { ...known, letters: known.letters + block.pieces.length });
      continue;
    }
    if (regions.touchesEdge[region] === 1 || size > most || size > MOST_SHARE * width * height) continue;
    found.set(region, {
      region,
      at: [at % width, Math.floor(at / width)],
      letters: block.pieces.length,
      box: [box[0], box[1], box[2], box[3]],
    });
  }
  return [...found.values()];
}
