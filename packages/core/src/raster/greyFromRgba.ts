import type { GreyRaster } from './GreyRaster.ts';

/**
 * Grey of a colour picture, laid over white paper: 0.2126 R + 0.7152 G + 0.0722 B in 8-bit fixed
 * point, on the values as stored. Integer arithmetic, so every machine agrees.
 *
 * @param rgba `width * height * 4` bytes, row-major, straight alpha.
 */
export function greyFromRgba(rgba: Uint8Array, width: number, height: number): GreyRaster {
  const pixels = width * height;
  if (rgba.length !== pixels * 4) {
    throw new RangeError(`\`rgba\` must hold width * height * 4 = ${pixels * 4} bytes; received ${rgba.length}`);
  }
  const data = new Uint8Array(pixels);
  for (let i = 0, j = 0; i < pixels; i++, j += 4) {
    const luma = (54 * rgba[j]! + 183 * rgba[j + 1]! + 19 * rgba[j + 2]! + 128) >> 8;
    const alpha = rgba[j + 3]!;
    data[i] = alpha === 255 ? luma : Math.floor((luma * alpha + 255 * (255 - alpha) + 127) / 255);
  }
  return { width, height, data };
}
