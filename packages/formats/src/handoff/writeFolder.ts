import { nameApart, plainFileName } from '@jumble/core';
import { colourPixels, encodeFlatsPng, type EncodeRgba } from '../png/encodeFlatsPng.ts';
import { setPngFacts } from '../png/setPngFacts.ts';
import { inkRgba, linesRgba, silhouetteRgba } from './buildOpenRaster.ts';
import { countLayers, flatsLayers } from './flatsLayers.ts';
import type { HandoffPage } from './preparePage.ts';

/** A layer in the manifest of a folder. */
export interface ManifestLayer {
  readonly file: string;
  readonly name: string;
  readonly group: string | null;
  /** Box of its pixels, in px. */
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export interface FolderPorts {
  readonly encodeRgba: EncodeRgba;
  /** Encodes a picture of 255 for ink, else 0, as black on white with one bit a pixel. */
  readonly encodeHard: EncodeRgba;
  /** Takes a finished file of the folder. */
  readonly put: (name: string, bytes: Uint8Array) => Promise<void>;
  readonly onProgress?: (share: number) => void;
}

/** Writes a page as a folder of PNGs, each of the page's size, with a manifest. */
export async function writeFolder(page: HandoffPage, notes: string | null, ports: FolderPorts): Promise<void> {
  const { input, width, height, dpi, flats } = page;
  const { encodeRgba, put } = ports;
  const picture = async (name: string, rgba: Uint8Array): Promise<string> => {
    await put(`${name}.png`, setPngFacts(await encodeRgba(rgba, width, height), { dpi }));
    return `${name}.png`;
  };
  await put('flats.png', await encodeFlatsPng(flats.parts, flats.rgbOfPart, dpi, encodeRgba));
  const ink = page.hardInk;
  if (ink === null) await picture('ink', inkRgba(page.inkAlpha));
  else await put('ink.png', setPngFacts(await ports.encodeHard(ink.data, ink.width, ink.height), { dpi: ink.dpi }));
  const colouredLines = page.holds === null ? null : await picture('lines', linesRgba(page));
  const shading = input.shading === true ? await picture('shading', silhouetteRgba(page)) : null;
  const closures = page.closures === null ? null : await picture('closures', new Uint8Array(page.closures.buffer));
  const taken = new Set(['flats', 'ink', 'lines', 'shading', 'closures', 'manifest']);
  const layers: ManifestLayer[] = [];
  const expected = countLayers(page) + 1;
  for (const { values, group, name, ...box } of flatsLayers(page)) {
    // In a folder nothing tells where a cropped picture goes: every layer has the page's size.
    const rgba = onPage(colourPixels(values, flats.rgbOfPart), box, width, height);
    const file = await picture(nameApart(plainFileName(name), taken), rgba);
    layers.push({ file, name, group, ...box });
    ports.onProgress?.(Math.min(0.99, layers.length / expected));
  }
  const manifest = {
    format: 'jumble-flats',
    version: 1,
    width,
    height,
    dpi,
    lineArt: 'ink.png',
    lineArtBits: ink === null ? 8 : 1,
    colouredLines,
    shading,
    closures,
    merged: 'flats.png',
    transparencyLocked: true,
    notes,
    layers,
  };
  await put('manifest.json', new TextEncoder().encode(`${JSON.stringify(manifest, null, 2)}\n`));
}

interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

function onPage(
  rgba: Uint8Array,
  { x, y, width: columns, height: rows }: Box,
  width: number,
  height: number,
): Uint8Array {
  if (columns === width && rows === height) return rgba;
  const page = new Uint8Array(width * height * 4);
  for (let row = 0; row < rows; row++)
    page.set(rgba.subarray(row * columns * 4, (row + 1) * columns * 4), ((y + row) * width + x) * 4);
  return page;
}
