import type { InkGrid } from './InkGrid.ts';
import { neighbourhood, neighbourOffsets, type Skeleton } from './thinInk.ts';
import { NEIGHBOURS, squaredRadiusAt, type Stroke } from './traceStrokes.ts';

/** A stroke between two others. */
export interface Branch extends Stroke {
  /** Half width of its last third by that of its first: a stroke that was flicked thins out. */
  readonly taper: number;
}

/** Shorter pieces than this say nothing of their direction, in px. */
const LEAST_LENGTH = 4;

/** Where a line is so many times thicker than asked for it is another one. */
const THICK = 1.5;

/** What a pixel of the middle line is; 0 is none. */
const [BETWEEN, JUNCTION, SEEN] = [1, 2, 3];

/**
 * Pieces of middle line between two junctions, or thicker lines, that are thinner than given: strokes that start and end on
 * others have no loose end.
 *
 * @param mostRadius mean half width of its middle third, in px of the grid.
 */
export function traceBranches(grid: InkGrid, skeleton: Skeleton, mostRadius: number): Branch[] {
  const { on, pixels, stride } = skeleton;
  const offsets = neighbourOffsets(stride);
  const state = new Uint8Array(on.length);
  const thick = (THICK * mostRadius + 0.5) * (THICK * mostRadius + 0.5);
  for (const at of pixels) {
    if (on[at] === 0) continue;
    const y = (at / stride) | 0;
    const isThin = squaredRadiusAt(grid, at - y * stride - 1, y - 1) <= thick;
    state[at] = isThin && NEIGHBOURS[neighbourhood(on, at, stride)]! <= 2 ? BETWEEN : JUNCTION;
  }
  /** A neighbour in a state, or -1. */
  const beside = (at: number, wanted: number): number => {
    for (let k = 0; k < 8; k++) if (state[at + offsets[k]!] === wanted) return at + offsets[k]!;
    return -1;
  };
  const found: Branch[] = [];
  for (const first of pixels) {
    if (state[first] !== BETWEEN || beside(first, JUNCTION) < 0) continue;
    const path: number[] = [];
    for (let at = first; at >= 0; at = beside(at, BETWEEN)) {
      state[at] = SEEN;
      path.push(at);
    }
    if (path.length < LEAST_LENGTH || beside(path.at(-1)!, JUNCTION) < 0) continue;
    const x = Int32Array.from(path, (at) => (at % stride) - 1);
    const y = Int32Array.from(path, (at) => ((at / stride) | 0) - 1);
    const third = Math.ceil(path.length / 3);
    const meanRadius = (from: number): number => {
      let sum = 0;
      for (let k = from; k < from + third; k++) sum += Math.sqrt(squaredRadiusAt(grid, x[k]!, y[k]!)) - 0.5;
      return Math.max(0, sum / third);
    };
    const radius = meanRadius((path.length - third) >> 1);
    if (radius > mostRadius) continue;
    const taper = (meanRadius(path.length - third) + 0.25) / (meanRadius(0) + 0.25);
    found.push({ x, y, radius: new Float64Array(path.length).fill(radius), length: path.length, taper });
  }
  return found;
}
