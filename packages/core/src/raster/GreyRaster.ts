/** A grey picture: one byte a pixel, row-major, origin top left, 0 = black, 255 = white. */
export interface GreyRaster {
  readonly width: number;
  readonly height: number;
  /** `width * height` bytes. */
  readonly data: Uint8Array;
}

/** Above this many pixels a page is refused at the door. */
export const MAX_PAGE_PIXELS = 200_000_000;
/** A picture file may have this many bytes at most. */
export const MAX_FILE_BYTES = 300 * 1024 * 1024;

/** Longest side of a page: the squares of all distances on it stay within 31 bits. */
export const MAX_PAGE_SIDE = 32_000;

/**
 * Checks a raster once, at the boundary of the core.
 *
 * @throws RangeError when a side is not a positive integer, the area is above {@link MAX_PAGE_PIXELS}
 *   or the buffer does not hold exactly one byte a pixel.
 */
export function checkGreyRaster(grey: GreyRaster): void {
  for (const side of ['width', 'height'] as const) {
    const value = grey[side];
    if (!Number.isInteger(value) || value < 1 || value > MAX_PAGE_SIDE) {
      throw new RangeError(`\`${side}\` must be an integer from 1 to ${MAX_PAGE_SIDE}; received ${value}`);
    }
  }
  const pixels = grey.width * grey.height;
  if (pixels > MAX_PAGE_PIXELS) {
    throw new RangeError(`a page must have at most ${MAX_PAGE_PIXELS} pixels; received ${pixels}`);
  }
  if (grey.data.length !== pixels) {
    throw new RangeError(`\`data\` must hold width * height = ${pixels} bytes; received ${grey.data.length}`);
  }
}
