import type { PaperRuns } from '../raster/scanRuns.ts';

/** How long cells touch once colour has run to the middle of the lines. */
export interface BorderLengths {
  readonly count: number;
  /** The lower cell of each pair. */
  readonly a: Int32Array;
  readonly b: Int32Array;
  /** In px, counted by pixel pairs. */
  readonly px: Float64Array;
}

/** Rows looked at: one of so many. */
const ROW_STRIDE = 2;

/**
 * The common border of every two cells that touch under ink, sorted by cells.
 *
 * @param runs of the paper, uncut. Cost: one read of the ink, every other row.
 */
export function measureBorders(
  field: Int32Array,
  runs: PaperRuns,
  cellCount: number,
  width: number,
  height: number,
): BorderLengths {
  const lengths = new Map<number, number>();
  for (let y = 0; y + 1 < height; y += ROW_STRIDE) {
    let x = 0;
    for (let r = runs.row[y]!; r <= runs.row[y + 1]!; r++) {
      const stop = r < runs.row[y + 1]! ? runs.start[r]! : width;
      if (stop > x) {
        // Paper on either side of a thin line touches across it.
        const left = x > 0 ? field[y * width + x - 1]! : -1;
        const right = stop < width ? field[y * width + stop]! : -1;
        countRun(field, y * width + x, y * width + stop, left, right, width, cellCount, lengths);
      }
      x = r < runs.row[y + 1]! ? runs.end[r]! : width;
    }
  }
  const keys = Float64Array.from(lengths.keys()).sort();
  const borders = {
    count: keys.length,
    a: new Int32Array(keys.length),
    b: new Int32Array(keys.length),
    px: new Float64Array(keys.length),
  };
  keys.forEach((key, k) => {
    borders.a[k] = Math.floor(key / cellCount);
    borders.b[k] = key % cellCount;
    borders.px[k] = lengths.get(key)!;
  });
  return borders;
}

function countRun(
  field: Int32Array,
  from: number,
  to: number,
  before: number,
  after: number,
  width: number,
  cellCount: number,
  lengths: Map<number, number>,
): void {
  let left = before;
  let lastKey = -1;
  let pending = 0;
  for (let at = from; at < to; at++) {
    const source = ~field[at]!;
    if (source >= field.length) continue;
    const own = field[source]!;
    if (left >= 0 && left !== own) note(left, own);
    left = own;
    const down = field[at + width]!;
    const below = down < 0 ? field[~down] : down;
    if (below !== undefined && below !== own) note(own, below);
  }
  if (left >= 0 && after >= 0 && left !== after) note(left, after);
  if (pending > 0) lengths.set(lastKey, (lengths.get(lastKey) ?? 0) + pending);

  function note(one: number, two: number): void {
    const key = one < two ? one * cellCount + two : two * cellCount + one;
    if (key !== lastKey && pending > 0) {
      lengths.set(lastKey, (lengths.get(lastKey) ?? 0) + pending);
      pending = 0;
    }
    lastKey = key;
    pending += ROW_STRIDE;
  }
}
