import type { PartRaster } from './renderParts.ts';

/**
 * Flats worked out at half the size, scaled back: every pixel becomes four, cut off at the page's own size.
 *
 * @param width, height twice those of the raster, or one less.
 */
export function doubleParts(parts: PartRaster, width: number, height: number): PartRaster {
  if ((width + 1) >> 1 !== parts.width || (height + 1) >> 1 !== parts.height) {
    throw new RangeError(`\`width\` and \`height\` must be twice ${parts.width} x ${parts.height}, or one less`);
  }
  const data = new Uint16Array(width * height);
  for (let y = 0; y < height; y++) {
    const row = (y >> 1) * parts.width;
    for (let x = 0; x < width; x++) data[y * width + x] = parts.data[row + (x >> 1)]!;
  }
  const areaPx = new Uint32Array(parts.areaPx.length);
  for (let at = 0; at < data.length; at++) if (data[at]! > 0) areaPx[data[at]! - 1] = areaPx[data[at]! - 1]! + 1;
  const most = [width, height, width, height];
  const box = parts.box.map((edge, k) => (areaPx[k >> 2] === 0 ? edge : Math.min(2 * edge, most[k & 3]!)));
  return { width, height, data, box, areaPx };
}
