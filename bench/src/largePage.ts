import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { GreyRaster } from '@jumble/core';
import { PAGE_WIDTH, renderInk } from '@jumble/demo';
import sharp from 'sharp';

export const LARGE_WIDTH = 4125;
export const LARGE_HEIGHT = 6263;

const cache = join(import.meta.dirname, '..', '.cache');

/** Demo page 1 at 600 dpi, 4125 x 6263 px, 26 megapixels. */
export async function largePage(): Promise<GreyRaster> {
  const path = await largePagePng();
  const { data, info } = await sharp(path).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  const bytes = new Uint8Array(info.width * info.height);
  bytes.set(data);
  return { width: info.width, height: info.height, data: bytes };
}

/** The same as a file; drawn anew when the drawings changed. */
export async function largePagePng(): Promise<string> {
  mkdirSync(cache, { recursive: true });
  const grey = await renderInk(1, LARGE_WIDTH / PAGE_WIDTH);
  const path = join(cache, 'large.png');
  const png = await sharp(Buffer.from(grey.data.buffer), {
    raw: { width: grey.width, height: grey.height, channels: 1 },
  })
    .extend({ bottom: Math.max(0, LARGE_HEIGHT - grey.height), background: '#fff' })
    .extract({ left: 0, top: 0, width: LARGE_WIDTH, height: LARGE_HEIGHT })
    .toColourspace('b-w')
    .png({ compressionLevel: 3 })
    .withMetadata({ density: 600 })
    .toBuffer();
  if (!existsSync(path) || !readFileSync(path).equals(png)) writeFileSync(path, png);
  return path;
}
