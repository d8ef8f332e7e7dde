import sharp from 'sharp';
import { PageFileError } from './PageFileError.ts';

/**
 * What a profile makes of colours, 0xRRGGBB: cyan, magenta, yellow and black, a byte each.
 *
 * @param profile path of an ICC file of a printer; null is a generic one.
 * @throws PageFileError for a profile that is none, or not for CMYK.
 */
export async function convertToCmyk(rgb: readonly number[], profile: string | null): Promise<Uint8Array> {
  if (rgb.length === 0) return new Uint8Array(0);
  const pixels = new Uint8Array(rgb.length * 3);
  rgb.forEach((one, k) => pixels.set([one >>> 16, (one >>> 8) & 255, one & 255], k * 3));
  const image = sharp(pixels, { raw: { width: rgb.length, height: 1, channels: 3 }, limitInputPixels: false });
  try {
    const { data, info } = await image
      .withIccProfile(profile ?? 'cmyk')
      .toColourspace('cmyk')
      .raw()
      .toBuffer({ resolveWithObject: true });
    if (info.channels !== 4) throw new TypeError(`it has ${info.channels} channels`);
    return data;
  } catch (error) {
    throw new PageFileError(
      'not-an-image',
      `This is no ICC profile of a CMYK printer (${(error as Error).message.split('\n')[0]}). Ask the printer for theirs, or leave it out.`,
    );
  }
}
