import type { GuideRaster } from '@jumble/core';
import { DEMO_PARTS, makeRandom } from '@jumble/demo';
import sharp from 'sharp';

/**
 * A colourist's guide to a page: a tenth of its size, blurred, and shifted by about a hundredth of the page.
 *
 * @param truth number of the part of every pixel.
 * @param options `offRgb`: each part is painted off the sheet's colour by so much of 255 in each channel, at most.
 */
export async function makeGuide(
  truth: Uint8Array,
  width: number,
  height: number,
  seed: number,
  { share = 0.1, blurPx = 1, shiftShare = 0.01, offRgb = 0 } = {},
): Promise<GuideRaster> {
  const random = makeRandom(seed);
  const rgb = new Uint8Array(width * height * 3);
  const off = (): number => Math.round((random() - 0.5) * 2 * offRgb);
  const colours = DEMO_PARTS.map(({ lamplight }) =>
    [1, 3, 5].map((k) => Math.max(0, Math.min(255, parseInt(lamplight.slice(k, k + 2), 16) + off()))),
  );
  const [dx, dy] = [
    Math.round((random() - 0.5) * 2 * shiftShare * width),
    Math.round((random() - 0.5) * 2 * shiftShare * height),
  ];
  for (let y = 0; y < height; y++) {
    const from = Math.max(0, Math.min(height - 1, y - dy)) * width;
    for (let x = 0; x < width; x++)
      rgb.set(colours[truth[from + Math.max(0, Math.min(width - 1, x - dx))]!]!, (y * width + x) * 3);
  }
  const { data, info } = await sharp(rgb, { raw: { width, height, channels: 3 } })
    .resize(Math.round(width * share), Math.round(height * share), { kernel: 'linear', fit: 'fill' })
    .blur(Math.max(0.3, blurPx))
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, rgb: new Uint8Array(data) };
}
