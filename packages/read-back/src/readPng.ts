import { decode } from 'fast-png';
import sharp from 'sharp';
import type { Rgba } from './Comparison.ts';
import { ReadBackError } from './ExpectedPage.ts';

/** Decodes a PNG of 8 bits with or without transparency, by a decoder in JavaScript: what wrote it was another. */
export function readPng(bytes: Uint8Array): Rgba {
  const { width, height, data, channels, depth, palette } = decode(bytes, { checkCrc: true });
  if (depth !== 8 || palette !== undefined || (channels !== 3 && channels !== 4))
    throw new ReadBackError('a picture has other samples than were written');
  if (channels === 4) return { width, height, data: data as Uint8Array };
  const rgba = new Uint8Array(width * height * 4).fill(255);
  for (let at = 0; at < width * height; at++) for (let k = 0; k < 3; k++) rgba[at * 4 + k] = data[at * 3 + k]!;
  return { width, height, data: rgba };
}

/** The same by the decoder of the platform, for what was written in JavaScript. */
export async function readPalettePng(bytes: Uint8Array | string): Promise<Rgba> {
  const { data, info } = await sharp(bytes, { ignoreIcc: true, limitInputPixels: false })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}
