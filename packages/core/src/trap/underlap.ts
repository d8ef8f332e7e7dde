import type { PartRaster } from './renderParts.ts';

/** Pixels of one layer in a box, 1 where it has colour. */
export interface LayerMask {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Part number + 1 of each pixel of the layer, 0 where it has none. */
  readonly data: Uint16Array;
}

/**
 * A layer of flats that runs so far under the layers in front of it: its own pixels, and those of theirs within
 * `underlapPx` (Euclidean, between pixel centres). What the layers give together stays the same.
 *
 * @param layerOf layer of each part number, the lowest in front. @param numbers part numbers of the layer at hand.
 * Cost: the box, and the layer's edge times the square of the underlap.
 */
export function underlapLayer(
  { width, height, data, box }: PartRaster,
  layerOf: ArrayLike<number>,
  numbers: readonly number[],
  underlapPx: number,
): LayerMask {
  const edge = (k: number): number[] => numbers.map((n) => box[n * 4 + k]!);
  const x0 = Math.max(0, Math.min(...edge(0)) - underlapPx);
  const y0 = Math.max(0, Math.min(...edge(1)) - underlapPx);
  const x1 = Math.min(width, Math.max(...edge(2)) + underlapPx);
  const y1 = Math.min(height, Math.max(...edge(3)) + underlapPx);
  const mask = { x: x0, y: y0, width: x1 - x0, height: y1 - y0, data: new Uint16Array((x1 - x0) * (y1 - y0)) };
  const layer = layerOf[numbers[0]!]!;
  const isOwn = new Uint8Array(layerOf.length + 1);
  const isFront = new Uint8Array(layerOf.length + 1);
  for (let n = 0; n < layerOf.length; n++) {
    if (layerOf[n] === layer) isOwn[n + 1] = 1;
    else if (layerOf[n]! < layer) isFront[n + 1] = 1;
  }
  const reach = Array.from({ length: underlapPx + 1 }, (_, dy) =>
    Math.floor(Math.sqrt(underlapPx * underlapPx - dy * dy)),
  );
  // The nearest own pixel gives its number where a layer has several: ties to the first in reading order.
  const nearest2 = underlapPx === 0 ? null : new Uint16Array(mask.data.length).fill(0xffff);
  for (let y = y0; y < y1; y++) {
    for (let x = x0; x < x1; x++) {
      const value = data[y * width + x]!;
      if (isOwn[value] === 0) continue;
      mask.data[(y - y0) * mask.width + x - x0] = value;
      if (nearest2 !== null && isEdge(x, y, value)) stamp(x, y, value, nearest2);
    }
  }
  return mask;

  function isEdge(x: number, y: number, value: number): boolean {
    const at = y * width + x;
    return (
      (x > 0 && data[at - 1] !== value) ||
      (x < width - 1 && data[at + 1] !== value) ||
      (y > 0 && data[at - width] !== value) ||
      (y < height - 1 && data[at + width] !== value)
    );
  }

  function stamp(x: number, y: number, value: number, near2: Uint16Array): void {
    for (let dy = -underlapPx; dy <= underlapPx; dy++) {
      const py = y + dy;
      if (py < y0 || py >= y1) continue;
      const half = reach[Math.abs(dy)]!;
      for (let px = Math.max(x0, x - half); px <= Math.min(x1 - 1, x + half); px++) {
        if (isFront[data[py * width + px]!] === 0) continue;
        const at = (py - y0) * mask.width + px - x0;
        const d2 = (px - x) * (px - x) + dy * dy;
        if (d2 >= near2[at]!) continue;
        near2[at] = d2;
        mask.data[at] = value;
      }
    }
  }
}
