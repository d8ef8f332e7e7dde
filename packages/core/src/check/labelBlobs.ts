import { Int32Stack } from '../raster/growable.ts';
import { findRoot, joinRoots } from '../raster/unionFind.ts';

/** Connected pixels of one class, in reading order of their first one. */
export interface Blobs {
  readonly count: number;
  /** The class of each. */
  readonly of: Float64Array;
  readonly areaPx: Uint32Array;
  /** `[x0, y0, x1, y1]`, the last two exclusive. */
  readonly box: Int32Array;
  /** Edges between its pixels and others, in px. */
  readonly edgePx: Uint32Array;
  /** Index of its first pixel. */
  readonly first: Int32Array;
  /** Runs of pixels in a row, `[index of the first, length, blob]` each. */
  readonly runs: Int32Array;
}

/**
 * Connects pixels of one class, row by row, on runs with union-find.
 *
 * @param classesOf writes the class of each pixel of a row, 0 for none.
 * @param corners whether pixels that meet at a corner hang together.
 * Cost: by pixels once, then by runs.
 */
export function labelBlobs(
  width: number,
  height: number,
  classesOf: (y: number, classes: Float64Array) => void,
  corners: boolean,
): Blobs {
  const classes = new Float64Array(width);
  const runAt = new Int32Stack();
  const runLength = new Int32Stack();
  const parent = new Int32Stack();
  const runClass: number[] = [];
  const sharedPx = new Int32Stack();
  const reach = corners ? 1 : 0;
  let above = 0;
  for (let y = 0; y < height; y++) {
    classesOf(y, classes);
    const [base, from] = [y * width, runClass.length];
    let k = above;
    for (let x = 0; x < width;) {
      const one = classes[x]!;
      let end = x + 1;
      while (end < width && classes[end] === one) end++;
      if (one !== 0) {
        const run = runClass.push(one) - 1;
        runAt.push(base + x);
        runLength.push(end - x);
        parent.push(run);
        let shared = 0;
        const lineAbove = base - width;
        while (k < from && runAt.data[k]! + runLength.data[k]! - lineAbove + reach <= x) k++;
        for (let j = k; j < from && runAt.data[j]! - lineAbove < end + reach; j++) {
          if (runClass[j] !== one) continue;
          const overlap =
            Math.min(end, runAt.data[j]! - lineAbove + runLength.data[j]!) - Math.max(x, runAt.data[j]! - lineAbove);
          if (overlap > 0) shared += overlap;
          joinRoots(parent.data, run, j);
        }
        sharedPx.push(shared);
      }
      x = end;
    }
    above = from;
  }
  return gather(width, runAt, runLength, parent, runClass, sharedPx);
}

function gather(
  width: number,
  runAt: Int32Stack,
  runLength: Int32Stack,
  parent: Int32Stack,
  runClass: readonly number[],
  sharedPx: Int32Stack,
): Blobs {
  const blobOf = new Int32Array(runClass.length);
  const of: number[] = [];
  runClass.forEach((one, run) => {
    const root = findRoot(parent.data, run);
    blobOf[run] = root === run ? of.push(one) - 1 : blobOf[root]!;
  });
  const count = of.length;
  const [areaPx, edgePx] = [new Uint32Array(count), new Uint32Array(count)];
  const first = new Int32Array(count).fill(-1);
  const box = new Int32Array(count * 4);
  const runs = new Int32Array(runClass.length * 3);
  for (let run = 0; run < runClass.length; run++) {
    const [blob, at, length] = [blobOf[run]!, runAt.data[run]!, runLength.data[run]!];
    const [x, y] = [at % width, Math.floor(at / width)];
    runs.set([at, length, blob], run * 3);
    areaPx[blob] = areaPx[blob]! + length;
    edgePx[blob] = edgePx[blob]! + 2 + 2 * length - 2 * sharedPx.data[run]!;
    const k = blob * 4;
    if (first[blob]! < 0) {
      first[blob] = at;
      box.set([x, y, x + length, y + 1], k);
      continue;
    }
    box[k] = Math.min(box[k]!, x);
    box[k + 2] = Math.max(box[k + 2]!, x + length);
    box[k + 3] = y + 1;
  }
  return { count, of: Float64Array.from(of), areaPx, box, edgePx, first, runs };
}
