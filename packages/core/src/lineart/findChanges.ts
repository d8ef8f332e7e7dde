import { labelInk } from '../ink/labelInk.ts';

/** A place where a revised drawing differs from the one before. */
export interface Change {
  /** `[x0, y0, x1, y1]` in px, the last two exclusive. */
  readonly box: readonly [number, number, number, number];
  /** Ink that came and ink that went, in px. */
  readonly addedPx: number;
  readonly removedPx: number;
}

/** Differences closer together than this many line widths are one change. */
const REACH_WIDTHS = 6;
/** Smaller differences come from exporting a file anew. */
const LEAST_PX = 6;

/**
 * Finds where two inkings of a page differ, the largest change first. A line that only moved by a px, or
 * was saved with other edges, did not change: ink counts as new where there was none within one px.
 *
 * @param before, after ink alpha of the same size. Cost: two reads of each.
 */
export function findChanges(
  before: Uint8Array,
  after: Uint8Array,
  width: number,
  height: number,
  lineWidthPx: number,
): Change[] {
  // 255 where ink came or went, on a grid coarse enough to join what lies close together.
  const reach = Math.max(4, Math.round(REACH_WIDTHS * Math.max(1, lineWidthPx)));
  const w = Math.ceil(width / reach);
  const h = Math.ceil(height / reach);
  const added = new Uint32Array(w * h);
  const removed = new Uint32Array(w * h);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      const [was, is] = [before[at]! >= 128, after[at]! >= 128];
      if (was === is) continue;
      if (is && !inkNear(before, width, height, x, y)) added[Math.floor(y / reach) * w + Math.floor(x / reach)]!++;
      else if (was && !inkNear(after, width, height, x, y))
        removed[Math.floor(y / reach) * w + Math.floor(x / reach)]!++;
    }
  }
  const marks = new Uint8Array(Math.ceil((w * h) / 4) * 4);
  for (let k = 0; k < w * h; k++) if (added[k]! + removed[k]! >= LEAST_PX) marks[k] = 255;
  const pieces = labelInk(marks.subarray(0, w * h), w, h);
  const changes = Array.from({ length: pieces.count }, () => ({ addedPx: 0, removedPx: 0 }));
  for (let y = 0; y < h; y++) {
    for (let r = pieces.row[y]!; r < pieces.row[y + 1]!; r++) {
      const change = changes[pieces.ofRun[r]!]!;
      for (let k = y * w + pieces.start[r]!; k < y * w + pieces.end[r]!; k++) {
        change.addedPx += added[k]!;
        change.removedPx += removed[k]!;
      }
    }
  }
  return changes
    .map(({ addedPx, removedPx }, k): Change => {
      const [x0, y0, x1, y1] = pieces.box.subarray(k * 4, k * 4 + 4) as unknown as [number, number, number, number];
      return {
        box: [x0 * reach, y0 * reach, Math.min(width, x1 * reach), Math.min(height, y1 * reach)],
        addedPx,
        removedPx,
      };
    })
    .sort((a, b) => b.addedPx + b.removedPx - a.addedPx - a.removedPx || a.box[1] - b.box[1] || a.box[0] - b.box[0]);
}

function inkNear(ink: Uint8Array, width: number, height: number, x: number, y: number): boolean {
  for (let ny = Math.max(0, y - 1); ny <= Math.min(height - 1, y + 1); ny++) {
    for (let nx = Math.max(0, x - 1); nx <= Math.min(width - 1, x + 1); nx++) {
      if (ink[ny * width + nx]! >= 128) return true;
    }
  }
  return false;
}
