import { MOST_PEN_PX } from '@jumble/core';

/** Sizes that keys go through, in px. */
const SIZES = [1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64, 96, 128, 200, 300, MOST_PEN_PX];

/** The next larger or smaller size of a pen, in px; the same at the end. */
export function stepSize(sizePx: number, direction: 1 | -1): number {
  const next = direction === 1 ? SIZES.find((one) => one > sizePx) : SIZES.findLast((one) => one < sizePx);
  return next ?? sizePx;
}
