import { open } from 'node:fs/promises';
import sharp from 'sharp';
import { PageFileError } from './PageFileError.ts';

/**
 * What a profile makes of colours, 0xRRGGBB: cyan, magenta, yellow and black, a byte each.
 *
 * @param profile path of an ICC file of a printer; null is a generic one.
 * @throws PageFileError for a profile that is none, or not for CMYK.
 */
export async function convertToCmyk(rgb: readonly number[], profile: string | null): Promise<Uint8Array> {
  if (profile !== null) await checkProfile(profile);
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
    throw noProfile((error as Error).message.split('\n')[0]!);
  }
}

function noProfile(why: string): PageFileError {
  return new PageFileError(
    'not-an-image',
    `This is no ICC profile of a CMYK printer (${why}). Ask the printer for theirs, or leave it out.`,
  );
}

/** Where an ICC file says what it is (ICC.1, header). */
const HEADER_BYTES = 128;
const [SPACE_AT, SIGNATURE_AT] = [16, 36];

/** The decoder takes what is no profile for none, and says nothing. */
async function checkProfile(path: string): Promise<void> {
  const handle = await open(path, 'r').catch(() => {
    throw noProfile('the file cannot be opened');
  });
  try {
    const header = Buffer.alloc(HEADER_BYTES);
    const { bytesRead } = await handle.read(header, 0, HEADER_BYTES, 0);
    if (bytesRead < HEADER_BYTES || header.toString('latin1', SIGNATURE_AT, SIGNATURE_AT + 4) !== 'acsp')
      throw noProfile('its beginning is not that of a profile');
    const space = header.toString('latin1', SPACE_AT, SPACE_AT + 4);
    if (space !== 'CMYK') throw noProfile(`it is for ${space.trim()}`);
  } finally {
    await handle.close();
  }
}
