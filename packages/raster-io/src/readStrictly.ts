import { readFile } from 'node:fs/promises';
import { MAX_PAGE_PIXELS } from '@jumble/core';
import sharp, { type Sharp } from 'sharp';
import { plainTiff } from './plainTiff.ts';

/** A padded JPEG file: bytes between two pieces are nothing of the picture. */
const TRIFLE = /extraneous bytes before marker|read gave \d+ warnings/;
/** What is said of a warning by whom it was told to be strict. */
const NO_NEWS = /failOn setting|^\s*$/;

/**
 * Reads a picture as strictly as its format allows. The decoders of PNG, GIF and WebP tell of every damage as an
 * error, and warn of trifles; those of TIFF and JPEG go on after an error and call it a warning, and in tiled TIFF
 * files do not even call.
 *
 * @param format as its metadata say.
 * @param ignoreIcc whether colours are numbers, whatever profile the file carries.
 * @param read may be called twice; `open` gives it the picture, the first page alone, turned as the file says.
 * @throws what the decoder says of a damaged picture.
 */
export async function readStrictly<T>(
  path: string,
  format: string,
  read: (open: () => Sharp) => Promise<T>,
  ignoreIcc = false,
): Promise<T> {
  const source = format === 'tiff' ? await readTiff(path) : path;
  const by = (failOn: 'error' | 'warning'): Promise<T> =>
    read(() => sharp(source, { limitInputPixels: MAX_PAGE_PIXELS, failOn, autoOrient: true, pages: 1, ignoreIcc }));
  if (format !== 'tiff' && format !== 'jpeg') return by('error');
  try {
    return await by('warning');
  } catch (error) {
    const news = linesOf(error).filter((line) => !NO_NEWS.test(line));
    if (format === 'jpeg' && news.every((line) => TRIFLE.test(line))) return by('error');
    throw error;
  }
}

/** What a decoder says is wrong, in one line. */
export function whatIsWrong(error: unknown): string {
  return linesOf(error).find((line) => !NO_NEWS.test(line)) ?? 'its pixels do not keep to its format';
}

/** A TIFF file without what is not its picture: a decoder warns of tags that it does not know. */
async function readTiff(path: string): Promise<Uint8Array> {
  const bytes = await readFile(path);
  plainTiff(bytes);
  return bytes;
}

function linesOf(error: unknown): string[] {
  return (error instanceof Error ? error.message : String(error)).split('\n').map((line) => line.trim());
}
