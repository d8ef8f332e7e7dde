import sharp from 'sharp';

/** Pixels of a picture as straight RGBA. */
export interface RgbaRaster {
  readonly width: number;
  readonly height: number;
  /** `width * height * 4` bytes. */
  readonly data: Uint8Array;
}

/** Decodes a PNG we wrote ourselves. */
export async function decodeRgba(png: Uint8Array | string): Promise<RgbaRaster> {
  const { data, info } = await sharp(png, { limitInputPixels: false })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}
