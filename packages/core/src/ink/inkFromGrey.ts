import type { GreyRaster } from '../raster/GreyRaster.ts';
import type { InkPoints } from '../model/inkMeasures.ts';

/**
 * Darkness becomes opacity: 255 at the black point and below, 0 at the white point and above, a
 * straight line between them, rounded to the nearest step.
 *
 * @param out `width * height` bytes on a multiple of four; may be `grey.data` itself.
 * @returns `out`, the ink alpha 0..255 of every pixel. Cost: one read and one write a pixel.
 */
export function inkFromGrey(grey: GreyRaster, points: InkPoints, out?: Uint8Array): Uint8Array {
  const { blackPoint, whitePoint } = points;
  if (!(blackPoint >= 0 && whitePoint <= 255 && blackPoint < whitePoint)) {
    throw new RangeError(
      `\`blackPoint\` must be below \`whitePoint\`, both in 0..255; received ${blackPoint} and ${whitePoint}`,
    );
  }
  const table = new Uint8Array(256);
  const span = whitePoint - blackPoint;
  for (let v = 0; v < 256; v++) {
    const depth = Math.min(span, Math.max(0, whitePoint - v));
    table[v] = Math.floor((depth * 255 * 2 + span) / (2 * span));
  }
  const inkAlpha = out ?? new Uint8Array(grey.data.length);
  mapBytes(grey.data, table, inkAlpha);
  return inkAlpha;
}

/** By words, each looked up anew only where it differs from the one before. */
function mapBytes(data: Uint8Array, table: Uint8Array, out: Uint8Array): void {
  const words = new Uint32Array(data.buffer, data.byteOffset, data.length >>> 2);
  const outWords = new Uint32Array(out.buffer, out.byteOffset, data.length >>> 2);
  let seen = 0;
  let mapped = table[0]! * 0x01010101;
  for (let k = 0; k < words.length; k++) {
    const word = words[k]!;
    if (word !== seen) {
      seen = word;
      mapped =
        table[word & 255]! |
        (table[(word >>> 8) & 255]! << 8) |
        (table[(word >>> 16) & 255]! << 16) |
        (table[word >>> 24]! << 24);
    }
    outWords[k] = mapped;
  }
  for (let i = words.length * 4; i < data.length; i++) out[i] = table[data[i]!]!;
}
