import { readFile } from 'node:fs/promises';
import { extname } from 'node:path';
import { FlatsBuilder, MAX_PAGE_PIXELS, type CheckedFlats } from '@jumble/core';
import { flatsOfOpenRaster, readOpenRaster, readTiffPages } from '@jumble/formats';
import { decodeFlats, decodeRgba, flatsFileFacts, PageFileError } from '@jumble/raster-io';
import { readLayers as readLayersOf } from './readLayers.ts';
import { UsageError } from './UsageError.ts';

/** Flats as a file has them, whoever made it. */
export interface ReadFlats {
  readonly flats: CheckedFlats;
  readonly dpi: number | null;
  readonly mode: string;
}

/**
 * Reads flats from a PNG, TIFF or OpenRaster file; of the last one without line art, paper and shading.
 *
 * @param palette colours that parts have: white that is none of them is paper, where a picture cannot be transparent.
 * @throws UsageError with one line that names the file.
 */
export async function readFlats(path: string, palette: ReadonlySet<number> | null): Promise<ReadFlats> {
  if (extname(path).toLowerCase() === '.ora') return readLayers(path);
  if (/^\.tiff?$/i.test(extname(path))) {
    const layered = await readPagesOf(path);
    if (layered !== null) return layered;
  }
  const picture = await decodeFlats(path).catch((error: unknown) => {
    throw error instanceof PageFileError ? new UsageError(`${path}: ${error.message}`) : error;
  });
  const builder = new FlatsBuilder(picture.width, picture.height);
  builder.add({ ...picture, x: 0, y: 0 }, !picture.hasAlpha && palette?.has(0xffffff) !== true);
  return { flats: builder.build(), dpi: picture.dpi, mode: picture.mode };
}

async function readLayers(path: string): Promise<ReadFlats> {
  const bytes = await readFile(path).catch(() => {
    throw new UsageError(`${path}: the file cannot be opened; check its name.`);
  });
  try {
    const image = readOpenRaster(bytes);
    const { width, height } = image;
    if (!(width > 0 && height > 0 && width * height <= MAX_PAGE_PIXELS))
      throw new TypeError(`its size, ${width} x ${height} px, is not that of a page`);
    const builder = new FlatsBuilder(width, height);
    for (const { png, x, y, opacity } of flatsOfOpenRaster(image.children))
      builder.add({ ...(await decodeRgba(png)), x, y }, false, opacity);
    return { flats: builder.build(), dpi: image.dpi, mode: 'RGB + transparency' };
  } catch (error) {
    throw new UsageError(`${path}: it cannot be read (${(error as Error).message}). Export or copy the file again.`);
  }
}

/** Flats of a TIFF file in several pages; null for one with a single page, or none at all. */
async function readPagesOf(path: string): Promise<ReadFlats | null> {
  try {
    if (readTiffPages(await readFile(path)).length < 2) return null;
  } catch {
    // What is wrong with it is said by who decodes it.
    return null;
  }
  const { width, height, layers } = await readLayersOf(path);
  const builder = new FlatsBuilder(width, height);
  for (const layer of layers) builder.add(layer, false);
  return { flats: builder.build(), ...(await flatsFileFacts(path)) };
}
