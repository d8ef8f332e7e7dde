import type { GuideRaster } from '@jumble/core';

/** Keys are guides, not pages: larger ones are read at this size. */
const MOST_SIDE_PX = 1000;
const MOST_BYTES = 60_000_000;

/**
 * Reads a picture into a key, in true colours and at most 1,000 px wide and high.
 *
 * @throws Error with words for the flatter when the file is no picture or too large.
 */
export async function readGuideFile(file: File): Promise<GuideRaster> {
  if (file.size > MOST_BYTES) throw new Error('This file is larger than 60 MB. Save the key smaller and try again.');
  let picture: ImageBitmap;
  try {
    picture = await createImageBitmap(file, { colorSpaceConversion: 'none', premultiplyAlpha: 'none' });
  } catch {
    throw new Error(`${file.name} cannot be read as a picture. Use a PNG, JPEG, WebP or GIF file.`);
  }
  const scale = Math.min(1, MOST_SIDE_PX / Math.max(picture.width, picture.height));
  const width = Math.max(1, Math.round(picture.width * scale));
  const height = Math.max(1, Math.round(picture.height * scale));
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d')!;
  // What is see-through counts as paper.
  context.fillStyle = '#fff';
  context.fillRect(0, 0, width, height);
  context.imageSmoothingQuality = 'high';
  context.drawImage(picture, 0, 0, width, height);
  picture.close();
  const { data } = context.getImageData(0, 0, width, height);
  const rgb = new Uint8Array(width * height * 3);
  for (let k = 0; k < width * height; k++) rgb.set(data.subarray(k * 4, k * 4 + 3), k * 3);
  return { width, height, rgb };
}
