import type { GreyRaster } from '../raster/GreyRaster.ts';

/** Taken out: where tests run, every look at a global costs much. */
const { cos, floor, imul, max, min, round, sin, sqrt } = Math;

/** A picture drawn as text: `#` is ink, a digit an ink alpha in tenths, anything else paper. For tests. */
export function textGrid(rows: readonly string[]): GreyRaster {
  const width = rows[0]!.length;
  const data = new Uint8Array(width * rows.length);
  rows.forEach((row, y) => {
    if (row.length !== width) throw new RangeError(`row ${y} has ${row.length} characters, not ${width}`);
    [...row].forEach((c, x) => {
      data[y * width + x] = c === '#' ? 0 : /\d/.test(c) ? 255 - round(Number(c) * 25.5) : 255;
    });
  });
  return { width, height: rows.length, data };
}

/** Numbers that look random and are the same every time, in 0..1. For tests. */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (imul(state, 1664525) + 1013904223) >>> 0;
    return state / 4294967296;
  };
}

/** Line art made of random thick strokes and blobs. For tests. */
export function randomArt(seed: number, width: number, height: number): GreyRaster {
  const random = seeded(seed);
  const data = new Uint8Array(width * height).fill(255);
  const dot = (cx: number, cy: number, r: number): void => {
    for (let y = max(0, floor(cy - r)); y < min(height, cy + r + 1); y++) {
      for (let x = max(0, floor(cx - r)); x < min(width, cx + r + 1); x++) {
        const alpha = min(1, max(0, r + 0.5 - sqrt((x - cx) * (x - cx) + (y - cy) * (y - cy))));
        const at = y * width + x;
        data[at] = min(data[at]!, round(255 * (1 - alpha)));
      }
    }
  };
  for (let k = 0; k < 6 + random() * 8; k++) {
    let [x, y, turn] = [random() * width, random() * height, random() * 6.28];
    const r = 0.6 + random() * 4;
    for (let s = 0; s < 120; s++) {
      dot(x, y, r);
      turn += (random() - 0.5) * 0.5;
      x += cos(turn) * 1.5;
      y += sin(turn) * 1.5;
    }
  }
  for (let k = 0; k < 2; k++) dot(random() * width, random() * height, 6 + random() * 18);
  return { width, height, data };
}

/** Straight strokes `[x0, y0, x1, y1]` with flat ends, `penPx` wide, smooth at their edges. For tests. */
export function strokes(
  width: number,
  height: number,
  penPx: number,
  lines: readonly (readonly [number, number, number, number])[],
): GreyRaster {
  const data = new Uint8Array(width * height).fill(255);
  // Test runners make every look at a global slow: they are taken out of the loops.
  const { min, max, abs, round, sqrt, floor } = Math;
  for (const [x0, y0, x1, y1] of lines) {
    const length = sqrt((x1 - x0) ** 2 + (y1 - y0) ** 2);
    const [ux, uy] = [(x1 - x0) / length, (y1 - y0) / length];
    for (let y = max(0, floor(min(y0, y1)) - penPx); y < min(height, max(y0, y1) + penPx + 1); y++) {
      for (let x = max(0, floor(min(x0, x1)) - penPx); x < min(width, max(x0, x1) + penPx + 1); x++) {
        const along = (x - x0) * ux + (y - y0) * uy;
        const across = abs((x - x0) * uy - (y - y0) * ux);
        const alpha =
          min(1, max(0, penPx / 2 - across + 0.5)) * min(1, max(0, along + 0.5)) * min(1, max(0, length - along + 0.5));
        const at = y * width + x;
        data[at] = min(data[at]!, round(255 * (1 - alpha)));
      }
    }
  }
  return { width, height, data };
}

/** A square room of lines, with an opening of `gapPx` in its right wall. For tests. */
export function roomWithGap(gapPx: number, penPx = 6): GreyRaster {
  const [a, b] = [60, 240];
  const middle = 150;
  const right: [number, number, number, number][] =
    gapPx === 0
      ? [[b, a - penPx / 2, b, b + penPx / 2]]
      : [
          [b, a - penPx / 2, b, middle - gapPx / 2],
          [b, middle + gapPx / 2, b, b + penPx / 2],
        ];
  return strokes(300, 300, penPx, [[a, a, b, a], [a, b, b, b], [a, a - penPx / 2, a, b + penPx / 2], ...right]);
}

export type Line = [number, number, number, number];

/** The walls of a room of 360 x 280 px on a sheet of 440 x 360, for {@link strokes}. */
export const ROOM: Line[] = [
  [40, 40, 400, 40],
  [400, 40, 400, 320],
  [400, 320, 40, 320],
  [40, 320, 40, 40],
];
