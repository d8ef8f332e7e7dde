import type { GreyRaster } from '../raster/GreyRaster.ts';

/** A picture drawn as text: `#` is ink, a digit an ink alpha in tenths, anything else paper. For tests. */
export function textGrid(rows: readonly string[]): GreyRaster {
  const width = rows[0]!.length;
  const data = new Uint8Array(width * rows.length);
  rows.forEach((row, y) => {
    if (row.length !== width) throw new RangeError(`row ${y} has ${row.length} characters, not ${width}`);
    [...row].forEach((c, x) => {
      data[y * width + x] = c === '#' ? 0 : /\d/.test(c) ? 255 - Math.round(Number(c) * 25.5) : 255;
    });
  });
  return { width, height: rows.length, data };
}

/** Numbers that look random and are the same every time, in 0..1. For tests. */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 4294967296;
  };
}

/** Line art made of random thick strokes and blobs. For tests. */
export function randomArt(seed: number, width: number, height: number): GreyRaster {
  const random = seeded(seed);
  const data = new Uint8Array(width * height).fill(255);
  const dot = (cx: number, cy: number, r: number): void => {
    for (let y = Math.max(0, Math.floor(cy - r)); y < Math.min(height, cy + r + 1); y++) {
      for (let x = Math.max(0, Math.floor(cx - r)); x < Math.min(width, cx + r + 1); x++) {
        const alpha = Math.min(1, Math.max(0, r + 0.5 - Math.sqrt((x - cx) * (x - cx) + (y - cy) * (y - cy))));
        const at = y * width + x;
        data[at] = Math.min(data[at]!, Math.round(255 * (1 - alpha)));
      }
    }
  };
  for (let k = 0; k < 6 + random() * 8; k++) {
    let [x, y, turn] = [random() * width, random() * height, random() * 6.28];
    const r = 0.6 + random() * 4;
    for (let s = 0; s < 120; s++) {
      dot(x, y, r);
      turn += (random() - 0.5) * 0.5;
      x += Math.cos(turn) * 1.5;
      y += Math.sin(turn) * 1.5;
    }
  }
  for (let k = 0; k < 2; k++) dot(random() * width, random() * height, 6 + random() * 18);
  return { width, height, data };
}
