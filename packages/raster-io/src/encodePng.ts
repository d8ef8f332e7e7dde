import sharp from 'sharp';

/** Low effort: flats compress well whatever is tried. */
const PNG_OPTIONS = { compressionLevel: 3, adaptiveFiltering: false } as const;

/** `width * height * 4` bytes of straight RGBA to PNG. */
export function encodeRgba(rgba: Uint8Array, width: number, height: number): Promise<Uint8Array> {
  return encode(rgba, width, height, 4);
}

/** `width * height * 3` bytes to PNG. */
export function encodeRgb(rgb: Uint8Array, width: number, height: number): Promise<Uint8Array> {
  return encode(rgb, width, height, 3);
}

/** One byte a pixel to a grey PNG. */
export function encodeGrey(grey: Uint8Array, width: number, height: number): Promise<Uint8Array> {
  return encode(grey, width, height, 1);
}

/** 255 for ink, else 0, to a PNG of one bit a pixel, black on white. */
export function encodeHard(ink: Uint8Array, width: number, height: number): Promise<Uint8Array> {
  const grey = ink.map((one) => 255 - one);
  return sharp(grey, { raw: { width, height, channels: 1 }, limitInputPixels: false })
    .png({ compressionLevel: 6, palette: true, colours: 2, dither: 0 })
    .toBuffer();
}

async function encode(data: Uint8Array, width: number, height: number, channels: 1 | 3 | 4): Promise<Uint8Array> {
  let image = sharp(data, { raw: { width, height, channels }, limitInputPixels: false });
  if (channels === 1) image = image.toColourspace('b-w');
  return image.png(PNG_OPTIONS).toBuffer();
}
