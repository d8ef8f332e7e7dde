import { MAX_PAGE_PIXELS } from '@jumble/core';
import sharp from 'sharp';
import { checkFile, dpiOf, modeOf, readMetadata } from './decodePage.ts';
import type { RgbaRaster } from './decodeRgba.ts';
import { PageFileError } from './PageFileError.ts';
import { readStrictly, whatIsWrong } from './readStrictly.ts';

/** Flats as they came in a picture file. */
export interface DecodedFlats extends RgbaRaster {
  /** Whether the file can be transparent. */
  readonly hasAlpha: boolean;
  readonly dpi: number | null;
  /** Colour mode in words, as a page's. */
  readonly mode: string;
}

/**
 * Decodes flats: colours are numbers, and no profile changes them.
 *
 * @throws PageFileError with a message that says what to do.
 */
export async function decodeFlats(path: string): Promise<DecodedFlats> {
  await checkFile(path);
  const metadata = await readMetadata(path);
  if (metadata.format !== 'png' && metadata.format !== 'tiff')
    throw new PageFileError(
      'not-an-image',
      `Flats are read from PNG, TIFF and OpenRaster; this is ${metadata.format.toUpperCase()}, which changes colours. Export them anew.`,
    );
  try {
    const { data, info } = await readStrictly(
      path,
      metadata.format,
      (open) =>
        open().toColourspace('srgb').ensureAlpha().raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true }),
      true,
    );
    return {
      width: info.width,
      height: info.height,
      data,
      hasAlpha: metadata.hasAlpha,
      dpi: dpiOf(metadata),
      mode: modeOf(metadata),
    };
  } catch (error) {
    throw new PageFileError(
      'damaged',
      `The picture is damaged or cut short (${whatIsWrong(error)}). Export or copy the file again.`,
    );
  }
}

/** What a file of flats states of itself. @throws PageFileError for what is no picture that is read, or too large. */
export async function flatsFileFacts(path: string): Promise<Pick<DecodedFlats, 'dpi' | 'mode'>> {
  await checkFile(path);
  const metadata = await readMetadata(path);
  return { dpi: dpiOf(metadata), mode: modeOf(metadata) };
}

/** Decodes one page of a TIFF file; colours are numbers. @throws what the decoder says. */
export async function decodeTiffPage(path: string, page: number): Promise<RgbaRaster> {
  const { data, info } = await sharp(path, { page, ignoreIcc: true, limitInputPixels: MAX_PAGE_PIXELS })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}
