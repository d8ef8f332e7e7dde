import { open } from 'node:fs/promises';
import { greyFromRgba, MAX_DPI, MAX_FILE_BYTES, MAX_PAGE_PIXELS, MAX_PAGE_SIDE, type GreyRaster } from '@jumble/core';
import sharp from 'sharp';
import { PageFileError } from './PageFileError.ts';
import { readStrictly, whatIsWrong } from './readStrictly.ts';

const READABLE = new Set(['png', 'tiff', 'jpeg', 'gif', 'webp']);
/** What these formats write when nobody said anything. */
const UNTOLD_DPI = 72;

/** A page file as it came, and its grey raster. */
export interface DecodedPage {
  readonly grey: GreyRaster;
  /** Resolution the file states, null where it states none, or one that cannot be. */
  readonly dpi: number | null;
  readonly format: string;
  /** Colour mode in words: "1-bit", "grey", "indexed", "RGB", "CMYK", with "+ transparency". */
  readonly mode: string;
  readonly bitsPerChannel: number;
}

/**
 * Decodes any page file to a grey raster over white paper: PNG, TIFF, JPEG, GIF and WebP; indexed,
 * grey, RGB or CMYK, with transparency, 1, 8 or 16 bits.
 *
 * @throws PageFileError with a message that says what to do.
 */
export async function decodePage(path: string): Promise<DecodedPage> {
  await checkFile(path);
  const metadata = await readMetadata(path);
  if ((metadata.pages ?? 1) > 1) {
    throw new PageFileError(
      'animation',
      `The file holds ${metadata.pages} pictures (an animation or several pages). Export the page as a single picture.`,
    );
  }
  const grey = await readGrey(path, metadata);
  return {
    grey,
    dpi: dpiOf(metadata),
    format: metadata.format,
    mode: modeOf(metadata),
    bitsPerChannel: bitsOf(metadata),
  };
}

/** @throws PageFileError for a file that cannot be opened, or holds nothing, or too much. */
export async function checkFile(path: string): Promise<void> {
  let size: number;
  try {
    const handle = await open(path, 'r');
    const stat = await handle.stat();
    await handle.close();
    if (!stat.isFile()) throw new PageFileError('not-an-image', 'This is not a file. Choose a picture file.');
    size = stat.size;
  } catch (error) {
    if (error instanceof PageFileError) throw error;
    throw new PageFileError('missing', 'The file cannot be opened. Check its name and that it can be read.');
  }
  if (size === 0) throw new PageFileError('empty', 'The file is empty (zero bytes). Export the page again.');
  if (size > MAX_FILE_BYTES) {
    throw new PageFileError(
      'too-large',
      `The file has ${Math.ceil(size / 1024 / 1024)} MB; at most 300 MB are read. Save it with compression or at a lower resolution.`,
    );
  }
}

export type Metadata = Awaited<ReturnType<ReturnType<typeof sharp>['metadata']>>;

/** @throws PageFileError for what is no picture that is read, or has too many pixels. */
export async function readMetadata(path: string): Promise<Metadata> {
  let metadata: Metadata;
  try {
    metadata = await sharp(path, { limitInputPixels: false }).metadata();
  } catch {
    throw new PageFileError(
      'not-an-image',
      'The file is not a picture Jumble can read, or its beginning is damaged. Use PNG, TIFF, JPEG, GIF or WebP.',
    );
  }
  if (!READABLE.has(metadata.format)) {
    throw new PageFileError(
      'not-an-image',
      `The file is ${metadata.format.toUpperCase()}, which is not read. Use PNG, TIFF, JPEG, GIF or WebP.`,
    );
  }
  const { width, height } = metadata;
  if (width * height > MAX_PAGE_PIXELS || width > MAX_PAGE_SIDE || height > MAX_PAGE_SIDE) {
    throw new PageFileError(
      'too-many-pixels',
      `The picture has ${width} x ${height} px; a page may have at most 200 megapixels and ${MAX_PAGE_SIDE} px a side. Export it at a lower resolution.`,
    );
  }
  return metadata;
}

async function readGrey(path: string, metadata: Metadata): Promise<GreyRaster> {
  const plain =
    metadata.space === 'b-w' && !metadata.hasAlpha && metadata.depth === 'uchar' && metadata.icc === undefined;
  try {
    return await readStrictly(path, metadata.format, async (open) => {
      if (plain) {
        const { data, info } = await open().toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
        if (info.channels === 1) return { width: info.width, height: info.height, data: aligned(data) };
      }
      const { data, info } = await open()
        .toColourspace('srgb')
        .ensureAlpha()
        .raw({ depth: 'uchar' })
        .toBuffer({ resolveWithObject: true });
      return greyFromRgba(data, info.width, info.height);
    });
  } catch (error) {
    throw new PageFileError(
      'damaged',
      `The picture is damaged or cut short (${whatIsWrong(error)}). Export or copy the file again.`,
    );
  }
}

/** The core reads rasters by words: they must begin on a multiple of four bytes. */
function aligned(data: Uint8Array): Uint8Array {
  return (data.byteOffset & 3) === 0 ? new Uint8Array(data.buffer, data.byteOffset, data.length) : new Uint8Array(data);
}

/** A figure that no scanner or printer has is none. */
export function dpiOf({ density }: Metadata): number | null {
  return density !== undefined && density > UNTOLD_DPI && density <= MAX_DPI ? density : null;
}

/** Colour mode in words. */
export function modeOf(metadata: Metadata): string {
  const alpha = metadata.hasAlpha ? ' + transparency' : '';
  if (metadata.isPalette === true) return `indexed${alpha}`;
  if (metadata.space === 'cmyk') return `CMYK${alpha}`;
  if (metadata.channels <= 2) return `${bitsOf(metadata) === 1 ? '1-bit' : 'grey'}${alpha}`;
  return `RGB${alpha}`;
}

function bitsOf(metadata: Metadata): number {
  return metadata.bitsPerSample ?? (metadata.depth === 'ushort' ? 16 : metadata.depth === 'float' ? 32 : 8);
}
