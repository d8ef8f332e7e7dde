import type { GreyRaster } from '@jumble/core';

/** Two rooms with an anti-aliased wall between them and a frame around. For tests. */
export function rooms(): GreyRaster {
  const [width, height] = [60, 40];
  const data = new Uint8Array(width * height).fill(255);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (y < 3 || y > 36 || x < 3 || x > 56) data[y * width + x] = 0;
      const fromWall = Math.abs(x - 30.3);
      if (fromWall < 4)
        data[y * width + x] = Math.min(data[y * width + x]!, Math.round(255 * Math.min(1, Math.max(0, fromWall - 2))));
    }
  }
  return { width, height, data };
}
