import { open, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { MAX_PAGE_PIXELS, type DiffLayer } from '@jumble/core';
import { flatsOfOpenRaster, isNoFlats, readFolderZip, readOpenRaster, readTiffPages } from '@jumble/formats';
import { decodeFlats, decodeTiffPage, flatsFileFacts } from './decodeFlats.ts';
import { decodeRgba } from './decodeRgba.ts';
import { PageFileError } from './PageFileError.ts';

/** Flats in layers, topmost first. */
export interface LayeredFlats {
  readonly width: number;
  readonly height: number;
  readonly layers: readonly (DiffLayer & { readonly opacity?: number })[];
  readonly dpi: number | null;
  /** Colour mode in words. */
  readonly mode: string;
}

/** What a file is, by how it begins. */
export type FlatsFileKind = 'folder' | 'ora' | 'zip' | 'tif' | 'other';

/** @throws PageFileError for what cannot be opened. */
export async function kindOfFlats(path: string): Promise<FlatsFileKind> {
  const there = await stat(path).catch(() => {
    throw new PageFileError('not-an-image', 'It cannot be opened; check its name.');
  });
  if (there.isDirectory()) return 'folder';
  const handle = await open(path, 'r');
  try {
    const head = Buffer.alloc(64);
    await handle.read(head, 0, head.length, 0);
    const text = head.toString('latin1');
    if (text.startsWith('PK')) return text.slice(30, 38) === 'mimetype' ? 'ora' : 'zip';
    return text.startsWith('II*\0') || text.startsWith('MM\0*') ? 'tif' : 'other';
  } finally {
    await handle.close();
  }
}

/**
 * Reads layered flats from an OpenRaster or TIFF file, a folder with a manifest, or such a folder as a zip.
 *
 * @throws PageFileError with a message that says what to do.
 */
export async function readLayers(path: string): Promise<LayeredFlats> {
  const kind = await kindOfFlats(path);
  try {
    if (kind === 'folder') return await readFolder(async (name) => join(path, name));
    if (kind === 'zip') {
      const files = readFolderZip(await readFile(path));
      return await readFolder((name) => Promise.resolve(files.get(name)));
    }
    if (kind === 'ora') return await readOra(path);
    if (kind === 'tif') return await readTiff(path);
  } catch (error) {
    if (error instanceof PageFileError) throw error;
    throw new PageFileError('damaged', `It cannot be read (${(error as Error).message}). Export or copy it again.`);
  }
  throw new PageFileError('not-an-image', 'Layers are read from .ora, .tif and folders with a manifest.json.');
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

/** @param find where a file of the folder lies, or its bytes; undefined for none. */
async function readFolder(find: (name: string) => Promise<string | Uint8Array | undefined>): Promise<LayeredFlats> {
  const there = await find('manifest.json');
  if (there === undefined) throw new TypeError('it holds no manifest.json');
  const text = typeof there === 'string' ? await readFile(there, 'utf8') : new TextDecoder().decode(there);
  const manifest = JSON.parse(text) as Manifest | null;
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
    const found = await find(file);
    if (found === undefined) throw new TypeError(`${file} is missing`);
    const picture = typeof found === 'string' ? await decodeLayer(found, file) : await decodeRgba(found);
    read.push({ group: typeof group === 'string' ? group : null, name, x: 0, y: 0, ...picture });
  }
  return { width, height, layers: read, dpi: typeof dpi === 'number' ? dpi : null, mode: 'RGB + transparency' };
}

function decodeLayer(path: string, file: string): ReturnType<typeof decodeFlats> {
  return decodeFlats(path).catch((error: unknown) => {
    throw error instanceof PageFileError ? new PageFileError(error.fault, `${file}: ${error.message}`) : error;
  });
}
