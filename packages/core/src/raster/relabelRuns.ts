import { joinRowsBut, settleCutRuns } from './labelRuns.ts';
import type { PaperRuns } from './scanRuns.ts';
import { findRoot, joinRoots } from './unionFind.ts';

/** Pieces that cells come to after a change of cuts, in reading order. */
export interface Pieces {
  readonly count: number;
  /** Piece of each run, -1 where its cell is not looked at. */
  readonly ofRun: Int32Array;
}

/**
 * Labels again the runs of some cells alone.
 *
 * @param onCut 1 for runs of cut pixels. @param cellOf cell of each run before the change.
 * @param touched 1 for cells to be looked at.
 * @returns null where a cut falls to a cell that is not looked at.
 */
export function relabelRuns(
  runs: PaperRuns,
  onCut: Uint8Array,
  height: number,
  cellOf: Int32Array,
  touched: Uint8Array,
): Pieces | null {
  const { count } = runs;
  const parent = new Int32Array(count);
  const apart = new Uint8Array(count).fill(1);
  const waiting = new Uint8Array(count);
  for (let r = 0; r < count; r++) {
    parent[r] = r;
    if (touched[cellOf[r]!] === 0) continue;
    if (onCut[r] === 1) waiting[r] = 1;
    else apart[r] = 0;
  }
  joinRowsBut(runs, height, parent, apart);
  let strayed = false;
  settleCutRuns(runs, height, waiting, (r, other) => {
    if (touched[cellOf[other]!] === 1) joinRoots(parent, r, other);
    else strayed = true;
  });
  if (strayed) return null;

  const ofRun = new Int32Array(count).fill(-1);
  let pieces = 0;
  for (let r = 0; r < count; r++) {
    if (touched[cellOf[r]!] === 0) continue;
    const root = findRoot(parent, r);
    ofRun[r] = root === r ? pieces++ : ofRun[root]!;
  }
  return { count: pieces, ofRun };
}
