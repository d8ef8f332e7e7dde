import { MAX_PAGE_PIXELS } from '@jumble/core';
import sharp from 'sharp';
import { PageFileError } from './PageFileError.ts';
import { readStrictly } from './readStrictly.ts';

/** Reference pictures are kept no larger than this, in px a side: they lie beside the page. */
const MOST_SIDE_PX = 1600;
const READABLE = new Set(['png', 'tiff', 'jpeg', 'gif', 'webp']);

/**
 * Reads any picture and writes it anew as a PNG in sRGB without anything else that was in the file.
 *
 * @throws PageFileError with a message that says what to do.
 */
export async function decodeReference(path: string): Promise<{ png: Uint8Array; width: number; height: number }> {
  try {
    const { format } = await sharp(path, { limitInputPixels: MAX_PAGE_PIXELS }).metadata();
    if (!READABLE.has(format)) throw new Error(format);
    const { data, info } = await readStrictly(path, format, (open) =>
      open()
        .resize(MOST_SIDE_PX, MOST_SIDE_PX, { fit: 'inside', withoutEnlargement: true })
        .toColourspace('srgb')
        .png()
        .toBuffer({ resolveWithObject: true }),
    );
    return { png: data, width: info.width, height: info.height };
  } catch {
    throw new PageFileError(
      'damaged',
      'This is no picture that can be read. Choose a PNG, TIFF, JPEG, GIF or WebP file of at most 200 megapixels.',
    );
  }
}
