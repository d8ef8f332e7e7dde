import type { GreyRaster } from '../raster/GreyRaster.ts';

/** Half the side of the square that is looked at, in px. */
const REACH = 2;

/** The middle grey of the px around a point: what someone means who points at paper or at ink. */
export function greyAround({ width, height, data }: GreyRaster, x: number, y: number): number {
  const around: number[] = [];
  for (let py = Math.max(0, y - REACH); py <= Math.min(height - 1, y + REACH); py++) {
    for (let px = Math.max(0, x - REACH); px <= Math.min(width - 1, x + REACH); px++)
      around.push(data[py * width + px]!);
  }
  around.sort((a, b) => a - b);
  return around[around.length >> 1] ?? 255;
}
