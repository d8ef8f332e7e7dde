/** Half the side of the square that is averaged, in px: grain and pixels of compression even out. */
const REACH_PX = 2;

/** The mean colour of a picture around a point of it, as `#rrggbb`. */
export function meanColour(image: HTMLImageElement, x: number, y: number): string {
  const side = 2 * REACH_PX + 1;
  const canvas = new OffscreenCanvas(side, side);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(image, Math.round(x) - REACH_PX, Math.round(y) - REACH_PX, side, side, 0, 0, side, side);
  return meanOf(context.getImageData(0, 0, side, side).data);
}

/** Mean of RGBA bytes; what is transparent does not count. */
export function meanOf(rgba: Uint8ClampedArray): string {
  const sum = [0, 0, 0];
  let weight = 0;
  for (let at = 0; at < rgba.length; at += 4) {
    const alpha = rgba[at + 3]!;
    weight += alpha;
    for (let c = 0; c < 3; c++) sum[c] = sum[c]! + alpha * rgba[at + c]!;
  }
  return `#${sum
    .map((one) =>
      Math.round(weight === 0 ? 255 : one / weight)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}
