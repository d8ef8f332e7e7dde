import type { PartRaster } from '@jumble/core';
import { encode } from 'fast-png';
import { setPngFacts } from './setPngFacts.ts';

/** Makes a PNG of `width * height` RGBA bytes. */
export type EncodeRgba = (rgba: Uint8Array, width: number, height: number) => Promise<Uint8Array>;

/**
 * All flats as one picture, hard-edged: with a palette for up to 255 colours (and none), in RGBA
 * beyond that.
 *
 * @param rgbOfPart 0xRRGGBB by part number.
 */
export async function encodeFlatsPng(
  parts: PartRaster,
  rgbOfPart: readonly number[],
  dpi: number | null,
  encodeRgba: EncodeRgba,
): Promise<Uint8Array> {
  const used = rgbOfPart.map((_, part) => part).filter((part) => parts.areaPx[part]! > 0);
  const colours = [...new Set(used.map((part) => rgbOfPart[part]!))];
  if (colours.length > 255) {
    return setPngFacts(await encodeRgba(colourPixels(parts.data, rgbOfPart), parts.width, parts.height), { dpi });
  }
  const slot = new Map(colours.map((rgb, k) => [rgb, k + 1]));
  const slotOfPart = new Uint8Array(rgbOfPart.length + 1);
  for (const part of used) slotOfPart[part + 1] = slot.get(rgbOfPart[part]!)!;
  const data = new Uint8Array(parts.data.length);
  for (let i = 0; i < data.length; i++) data[i] = slotOfPart[parts.data[i]!]!;
  const png = encode(
    {
      width: parts.width,
      height: parts.height,
      data,
      depth: 8,
      channels: 1,
      palette: [
        [0, 0, 0, 0],
        ...colours.map((rgb): [number, number, number, number] => [rgb >>> 16, (rgb >>> 8) & 255, rgb & 255, 255]),
      ],
    },
    { zlib: { level: 3 } },
  );
  return setPngFacts(png, { dpi });
}

/** Flats as RGBA: fully opaque in the part's exact colour, or nothing. @param data part number + 1 of each pixel, 0 for none. */
export function colourPixels(data: Uint16Array, rgbOfPart: readonly number[]): Uint8Array {
  const words = new Uint32Array(data.length);
  const table = new Uint32Array(rgbOfPart.length + 1);
  rgbOfPart.forEach((rgb, part) => {
    table[part + 1] = 0xff000000 | ((rgb & 255) << 16) | (rgb & 0xff00) | (rgb >>> 16);
  });
  for (let at = 0; at < words.length; at++) words[at] = table[data[at]!]!;
  return new Uint8Array(words.buffer);
}
