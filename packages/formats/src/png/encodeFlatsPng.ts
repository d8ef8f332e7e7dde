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
    const box = [0, 0, parts.width, parts.height] as const;
    return setPngFacts(await encodeRgba(cropFlats(parts, rgbOfPart, null, box), parts.width, parts.height), { dpi });
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

/**
 * A rectangle of the flats as RGBA: fully opaque in the part's exact colour, or nothing.
 *
 * @param only numbers of the parts to draw; null draws all.
 * @param box `[x0, y0, x1, y1]`, the last two exclusive.
 */
export function cropFlats(
  parts: PartRaster,
  rgbOfPart: readonly number[],
  only: ReadonlySet<number> | null,
  box: readonly [number, number, number, number],
): Uint8Array {
  const [x0, y0, x1, y1] = box;
  const width = x1 - x0;
  const words = new Uint32Array(width * (y1 - y0));
  const table = new Uint32Array(rgbOfPart.length + 1);
  rgbOfPart.forEach((rgb, part) => {
    if (only === null || only.has(part)) {
      table[part + 1] = 0xff000000 | ((rgb & 255) << 16) | (rgb & 0xff00) | (rgb >>> 16);
    }
  });
  for (let y = y0; y < y1; y++) {
    const from = y * parts.width + x0;
    const to = (y - y0) * width;
    for (let x = 0; x < width; x++) words[to + x] = table[parts.data[from + x]!]!;
  }
  return new Uint8Array(words.buffer);
}
