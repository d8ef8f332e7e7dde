import { holdWordAt, type HoldPaint } from './HoldPaint.ts';
import type { LinePieces } from './LinePieces.ts';

/** The layer of holds: opaque where lines have a colour, two px past their edge too; nothing elsewhere. RGBA bytes. */
export function holdRgba({ width, height }: Pick<LinePieces, 'width' | 'height'>, paint: HoldPaint): Uint8Array {
  const words = new Uint32Array(width * height);
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at++) words[at] = wordAt(paint, width, x, y, at);
  return new Uint8Array(words.buffer);
}

function wordAt(paint: HoldPaint, width: number, x: number, y: number, at: number): number {
  return paint.ofPixel[at] === 0 ? 0 : holdWordAt(paint, width, x, y);
}

/** The line art in its colours, with its transparency: the alpha of the ink, pixel for pixel. RGBA bytes. */
export function lineRgba(
  { width, height }: Pick<LinePieces, 'width' | 'height'>,
  inkAlpha: Uint8Array,
  paint: HoldPaint,
): Uint8Array {
  const words = new Uint32Array(width * height);
  for (let y = 0, at = 0; y < height; y++) {
    for (let x = 0; x < width; x++, at++) {
      if (inkAlpha[at] !== 0) words[at] = (wordAt(paint, width, x, y, at) & 0xffffff) | (inkAlpha[at]! << 24);
    }
  }
  return new Uint8Array(words.buffer);
}
