import { readFile } from 'node:fs/promises';
import { extname } from 'node:path';
import { FlatsBuilder, type CheckedFlats } from '@jumble/core';
import { readTiffPages } from '@jumble/formats';
import { decodeFlats, PageFileError } from '@jumble/raster-io';
import { readLayers } from './readLayers.ts';
import { UsageError } from './UsageError.ts';

/** Flats as a file has them, whoever made it. */
export interface ReadFlats {
  readonly flats: CheckedFlats;
  readonly dpi: number | null;
  readonly mode: string;
}

/**
 * Reads flats from a PNG, TIFF or OpenRaster file; of layers without line art, paper and shading.
 *
 * @param palette colours that parts have: white that is none of them is paper, where a picture cannot be transparent.
 * @throws UsageError with one line that names the file.
 */
export async function readFlats(path: string, palette: ReadonlySet<number> | null): Promise<ReadFlats> {
  if (await isLayered(path)) {
    const { width, height, layers, dpi, mode } = await readLayers(path);
    const builder = new FlatsBuilder(width, height);
    for (const layer of layers) builder.add(layer, false, layer.opacity);
    return { flats: builder.build(), dpi, mode };
  }
  const picture = await decodeFlats(path).catch((error: unknown) => {
    throw error instanceof PageFileError ? new UsageError(`${path}: ${error.message}`) : error;
  });
  const builder = new FlatsBuilder(picture.width, picture.height);
  builder.add({ ...picture, x: 0, y: 0 }, !picture.hasAlpha && palette?.has(0xffffff) !== true);
  return { flats: builder.build(), dpi: picture.dpi, mode: picture.mode };
}

async function isLayered(path: string): Promise<boolean> {
  const ending = extname(path).toLowerCase();
  if (ending !== '.tif' && ending !== '.tiff') return ending === '.ora';
  try {
    return readTiffPages(await readFile(path)).length > 1;
  } catch {
    // What is wrong with it is said by who decodes it.
    return false;
  }
}
