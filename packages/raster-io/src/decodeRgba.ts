import { MAX_PAGE_PIXELS } from '@jumble/core';
import sharp from 'sharp';

/** Pixels of a picture as straight RGBA. */
export interface RgbaRaster {
  readonly width: number;
  readonly height: number;
  /** `width * height * 4` bytes. */
  readonly data: Uint8Array;
}

/** Decodes a layer; colours are numbers, whatever profile the file carries. @throws what the decoder says, and above the size of a page. */
export async function decodeRgba(png: Uint8Array | string): Promise<RgbaRaster> {
  const { data, info } = await sharp(png, { limitInputPixels: MAX_PAGE_PIXELS, ignoreIcc: true })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}
