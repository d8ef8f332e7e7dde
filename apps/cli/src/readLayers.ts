import { readFile, stat } from 'node:fs/promises';
import { extname, join } from 'node:path';
import { MAX_PAGE_PIXELS, type DiffLayer } from '@jumble/core';
import { flatsOfOpenRaster, isNoFlats, readOpenRaster, readTiffPages } from '@jumble/formats';
import { decodeFlats, decodeRgba, decodeTiffPage, flatsFileFacts, PageFileError } from '@jumble/raster-io';
import { readJson } from './readJson.ts';
import { UsageError } from './UsageError.ts';

/** Flats in layers, topmost first. */
export interface LayeredFlats {
  readonly width: number;
  readonly height: number;
  readonly layers: readonly (DiffLayer & { readonly opacity?: number })[];
  readonly dpi: number | null;
  /** Colour mode in words. */
  readonly mode: string;
}

/**
 * Reads layered flats from an OpenRaster or TIFF file, or a folder with a manifest.
 *
 * @throws UsageError with one line that names the file.
 */
export async function readLayers(path: string): Promise<LayeredFlats> {
  const isFolder = await stat(path).then(
    (there) => there.isDirectory(),
    () => Promise.reject(new UsageError(`${path}: it cannot be opened; check its name.`)),
  );
  const ending = extname(path).toLowerCase();
  try {
    if (isFolder) return await readFolder(path);
    if (ending === '.ora') return await readOra(path);
    if (ending === '.tif' || ending === '.tiff') return await readTiff(path);
  } catch (error) {
    if (error instanceof UsageError) throw error;
    throw new UsageError(`${path}: it cannot be read (${(error as Error).message}). Export or copy it again.`);
  }
  throw new UsageError(`${path}: layers are read from .ora, .tif and folders with a manifest.json.`);
}

function checkSize(width: number, height: number): void {
  if (!(width > 0 && height > 0 && width * height <= MAX_PAGE_PIXELS))
    throw new TypeError(`its size, ${width} x ${height} px, is not that of a page`);
}

async function readOra(path: string): Promise<LayeredFlats> {
  const { width, height, dpi, children } = readOpenRaster(await readFile(path));
  checkSize(width, height);
  const layers: LayeredFlats['layers'][number][] = [];
  for (const { png, x, y, name, groups, opacity = 1 } of flatsOfOpenRaster(children))
    // The outermost group holds all flats.
    layers.push({ group: groups.filter((one) => !/^flats\b/i.test(one)).at(-1) ?? null, name, x, y, opacity, ...(await decodeRgba(png)) }); // prettier-ignore
  return { width, height, layers, dpi, mode: 'RGB + transparency' };
}

/** Pages of a TIFF file go by their names: a group and a layer, parted by a stroke. */
async function readTiff(path: string): Promise<LayeredFlats> {
  const pages = readTiffPages(await readFile(path));
  const [first] = pages;
  if (first === undefined) throw new TypeError('it holds no picture');
  checkSize(first.width, first.height);
  const layers: DiffLayer[] = [];
  for (const [number, { name }] of pages.entries()) {
    if (isNoFlats(name)) continue;
    const cut = name.indexOf('/');
    const [group, own] = cut < 0 ? [null, name] : [name.slice(0, cut), name.slice(cut + 1)];
    layers.push({ group, name: own, x: 0, y: 0, ...(await decodeTiffPage(path, number)) });
  }
  return { width: first.width, height: first.height, layers, ...(await flatsFileFacts(path)) };
}

interface Manifest {
  readonly width?: unknown;
  readonly height?: unknown;
  readonly dpi?: unknown;
  readonly layers?: unknown;
}

async function readFolder(path: string): Promise<LayeredFlats> {
  const manifest = (await readJson(join(path, 'manifest.json'), 'manifest')) as Manifest | null;
  const { width, height, dpi, layers } = manifest ?? {};
  if (typeof width !== 'number' || typeof height !== 'number' || !Array.isArray(layers))
    throw new TypeError('its manifest has no "width", "height" and "layers"');
  checkSize(width, height);
  const read: DiffLayer[] = [];
  for (const layer of layers as { file?: unknown; name?: unknown; group?: unknown }[]) {
    const { file, name, group } = layer;
    // Nothing outside the folder is read, whatever a manifest says.
    if (typeof file !== 'string' || typeof name !== 'string' || !/^[\w -]{1,200}\.png$/.test(file))
      throw new TypeError('its manifest names a layer without a file in this folder');
    const picture = await decodeFlats(join(path, file)).catch((error: unknown) => {
      throw error instanceof PageFileError ? new UsageError(`${join(path, file)}: ${error.message}`) : error;
    });
    read.push({ group: typeof group === 'string' ? group : null, name, x: 0, y: 0, ...picture });
  }
  return { width, height, layers: read, dpi: typeof dpi === 'number' ? dpi : null, mode: 'RGB + transparency' };
}
