import type { Survey } from '../model/Survey.ts';
import { Int32Stack } from '../raster/growable.ts';

/** Paper inside strokes that counts as ink, with the ink whose nearest paper it was. */
export interface Pinholes {
  /** Pixel indices, ascending. */
  readonly at: Int32Array;
  /** Nearest paper of each that is no pinhole. */
  readonly source: Int32Array;
  /** Where each row begins in `at`; one more at the end. */
  readonly row: Int32Array;
  /** 1 for each cell that is a pinhole. */
  readonly isPinhole: Uint8Array;
  /** How many there are. */
  readonly count: number;
}

/**
 * Finds paper of less than `limitPx2` that ink alone encloses, and for its pixels, and the ink around it, the nearest
 * paper outside: exact Euclidean distance, ties to the lowest index, as all ink has it.
 *
 * Cost: pixels in and around pinholes times the square of the stroke's width. @returns null for none.
 */
export function findPinholes(
  { width, height, field, graph, cellCount }: Pick<Survey, 'width' | 'height' | 'field' | 'graph' | 'cellCount'>,
  limitPx2: number,
): Pinholes | null {
  const isPinhole = new Uint8Array(cellCount);
  const { areaPx, box } = graph.cells;
  let count = 0;
  for (let cell = 0; cell < cellCount; cell++) {
    if (areaPx[cell]! === 0 || areaPx[cell]! >= limitPx2) continue;
    // At the page's edge it may be a corner of what lies beyond.
    const edge = [
      box[cell * 4]! === 0,
      box[cell * 4 + 1]! === 0,
      box[cell * 4 + 2]! === width,
      box[cell * 4 + 3]! === height,
    ];
    if (edge.includes(true)) continue;
    isPinhole[cell] = 1;
    count++;
  }
  // What an opening joins to other paper is no pinhole.
  for (let k = 0; k < graph.pairs.count; k++) {
    for (const cell of [graph.pairs.a[k]!, graph.pairs.b[k]!]) {
      if (isPinhole[cell] === 1) count--;
      isPinhole[cell] = 0;
    }
  }
  if (count === 0 || count === cellCount) return null;

  const pixels = new Int32Stack();
  const seen = new Set<number>();
  for (let cell = 0; cell < cellCount; cell++) {
    if (isPinhole[cell] === 0) continue;
    const [x0, y0, x1, y1] = [0, 1, 2, 3].map((k) => box[cell * 4 + k]!) as [number, number, number, number];
    for (let y = y0; y < y1; y++) {
      for (let at = y * width + x0; at < y * width + x1; at++) {
        if (field[at] !== cell) continue;
        for (const near of inkNearestTo(field, width, height, at)) {
          if (seen.has(near)) continue;
          seen.add(near);
          pixels.push(near);
        }
      }
    }
  }
  const at = pixels.data.slice(0, pixels.length).sort();
  const source = new Int32Array(at.length);
  for (let k = 0; k < at.length; k++) source[k] = nearestPaper(field, isPinhole, width, height, at[k]!);
  const row = new Int32Array(height + 1);
  for (const one of at) row[Math.floor(one / width) + 1]!++;
  for (let y = 0; y < height; y++) row[y + 1]! += row[y]!;
  return { at, source, row, isPinhole, count };
}

/** A paper pixel, and the ink whose nearest paper it is: that hangs together around it. */
function inkNearestTo(field: Int32Array, width: number, height: number, paper: number): number[] {
  const found = [paper];
  const seen = new Set(found);
  for (let k = 0; k < found.length; k++) {
    const x = found[k]! % width;
    const y = (found[k]! - x) / width;
    for (let dy = -1; dy <= 1; dy++) {
      for (let dx = -1; dx <= 1; dx++) {
        const [px, py] = [x + dx, y + dy];
        const next = py * width + px;
        if (px < 0 || py < 0 || px >= width || py >= height || seen.has(next) || field[next] !== ~paper) continue;
        seen.add(next);
        found.push(next);
      }
    }
  }
  return found;
}

/** Looks in growing squares; stops once no nearer paper can come. */
function nearestPaper(field: Int32Array, isPinhole: Uint8Array, width: number, height: number, from: number): number {
  const x = from % width;
  const y = (from - x) / width;
  let best = Infinity;
  let nearest = from;
  const look = (px: number, py: number): void => {
    if (px < 0 || py < 0 || px >= width || py >= height) return;
    const at = py * width + px;
    const cell = field[at]!;
    if (cell < 0 || isPinhole[cell] === 1) return;
    const d2 = (px - x) * (px - x) + (py - y) * (py - y);
    if (d2 < best || (d2 === best && at < nearest)) {
      best = d2;
      nearest = at;
    }
  };
  const farthest = Math.max(x, y, width - 1 - x, height - 1 - y);
  for (let r = 1; r <= farthest && r * r <= best; r++) {
    for (let k = -r; k <= r; k++) {
      look(x + k, y - r);
      look(x + k, y + r);
      look(x - r, y + k);
      look(x + r, y + k);
    }
  }
  return nearest;
}
