import { readFile } from 'node:fs/promises';
import { FlatsBuilder, type CheckedFlats } from '@jumble/core';
import { readTiffPages } from '@jumble/formats';
import { decodeFlats } from './decodeFlats.ts';
import { kindOfFlats, readLayers } from './readLayers.ts';

/** Flats as a file has them, whoever made it. */
export interface ReadFlats {
  readonly flats: CheckedFlats;
  readonly dpi: number | null;
  readonly mode: string;
}

/**
 * Reads flats from a PNG, TIFF or OpenRaster file, or a folder; of layers without line art, paper and shading.
 *
 * @param palette colours that parts have: white that is none of them is paper, where a picture cannot be transparent.
 * @throws PageFileError with a message that says what to do.
 */
export async function readFlats(path: string, palette: ReadonlySet<number> | null): Promise<ReadFlats> {
  if (await isLayered(path)) {
    const { width, height, layers, dpi, mode } = await readLayers(path);
    const builder = new FlatsBuilder(width, height);
    for (const layer of layers) builder.add(layer, false, layer.opacity);
    return { flats: builder.build(), dpi, mode };
  }
  const picture = await decodeFlats(path);
  const builder = new FlatsBuilder(picture.width, picture.height);
  builder.add({ ...picture, x: 0, y: 0 }, !picture.hasAlpha && palette?.has(0xffffff) !== true);
  return { flats: builder.build(), dpi: picture.dpi, mode: picture.mode };
}

async function isLayered(path: string): Promise<boolean> {
  const kind = await kindOfFlats(path);
  if (kind !== 'tif') return kind !== 'other';
  try {
    return readTiffPages(await readFile(path)).length > 1;
  } catch {
    // What is wrong with it is said by who decodes it.
    return false;
  }
}
