import type { PaperRuns } from '../../raster/scanRuns.ts';

/** Runs split along cuts, with a mark on the pieces that lie on a cut. */
export interface CutRuns extends PaperRuns {
  /** 1 for a run of cut pixels: it joins nothing, and is given to a cell beside it at last. */
  readonly onCut: Uint8Array;
}

/**
 * Splits paper runs at the pixels of cuts.
 *
 * @param pixels of all cuts in these rows, any order, doubles allowed.
 * @param rows `[first, end]` to be split; the others have no runs in the result. @default all
 */
export function cutRuns(
  runs: PaperRuns,
  pixels: Int32Array,
  width: number,
  height: number,
  [top, bottom]: readonly [number, number] = [0, height],
): CutRuns {
  if (pixels.length === 0 && top === 0 && bottom === height) return wholeRuns(runs);
  const sorted = pixels.slice().sort();
  const room = runs.row[bottom]! - runs.row[top]! + 2 * sorted.length;
  const start = new Int32Array(room);
  const end = new Int32Array(room);
  const onCut = new Uint8Array(room);
  const row = new Int32Array(height + 1);
  let count = 0;
  const add = (from: number, to: number, cut: number): void => {
    start[count] = from;
    end[count] = to;
    onCut[count++] = cut;
  };
  let k = 0;
  for (let y = top; y < bottom; y++) {
    row[y] = count;
    for (let r = runs.row[y]!; r < runs.row[y + 1]!; r++) {
      let from = runs.start[r]!;
      const to = runs.end[r]!;
      while (k < sorted.length && sorted[k]! < y * width + to) {
        const x = sorted[k]! - y * width;
        if (x >= from) {
          if (x > from) add(from, x, 0);
          let stop = x + 1;
          while (k + 1 < sorted.length && sorted[k + 1]! <= y * width + stop) {
            k++;
            stop = Math.max(stop, sorted[k]! - y * width + 1);
          }
          add(x, stop, 1);
          from = stop;
        }
        k++;
      }
      if (from < to) add(from, to, 0);
    }
  }
  row.fill(count, bottom);
  return { count, start, end, row, onCut };
}

/** Runs that no cut parts, as a table of its own. */
function wholeRuns({ count, start, end, row }: PaperRuns): CutRuns {
  return { count, start: start.slice(), end: end.slice(), row: row.slice(), onCut: new Uint8Array(count) };
}
