import type { GreyRaster } from '@jumble/core';

/** How the simulated scanner treats a sheet. */
export interface ScanOptions {
  /** The sheet lies turned by so many degrees, clockwise, within ±5. @default 0.8 */
  readonly skewDegrees?: number;
  /** Grey of the bare paper where the light is best. @default 236 */
  readonly paperTone?: number;
  /** How much darker the far corner is, in greys. @default 34 */
  readonly shadow?: number;
  /** Standard deviation of the sensor's noise, in greys. @default 2.2 */
  readonly noise?: number;
  /** Specks of dirt on a megapixel. @default 14 */
  readonly specksPerMegapixel?: number;
  /** The same seed gives the same scan. @default 1 */
  readonly seed?: number;
}

/** Grey of solid ink on paper under the lamp. */
const INK_TONE = 34;

/**
 * A stand-in for a scanner: lays a drawn sheet slightly turned on grey paper, lights it unevenly, adds the
 * noise of a sensor and the dirt of the glass.
 *
 * @returns a grey raster of the sheet's size. Cost: a bilinear look-up and one random number a pixel.
 * @throws RangeError for a turn beyond 5 degrees.
 */
export function scanSheet(sheet: GreyRaster, options: ScanOptions = {}): GreyRaster {
  const { skewDegrees = 0.8, paperTone = 236, shadow = 34, noise = 2.2, specksPerMegapixel = 14, seed = 1 } = options;
  if (!(Math.abs(skewDegrees) <= 5)) {
    throw new RangeError(`\`skewDegrees\` must lie within -5..5; received ${skewDegrees}`);
  }
  const { width, height, data } = sheet;
  const random = randomNumbers(seed);
  const out = new Uint8Array(width * height);
  const angle = (skewDegrees * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  // The lamp stands over one point of the glass; its light falls off from there.
  const [lampX, lampY] = [width * (0.25 + 0.2 * random()), height * (0.2 + 0.2 * random())];
  const far2 = Math.max(lampX, width - lampX) ** 2 + Math.max(lampY, height - lampY) ** 2;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const sx = cx + (x - cx) * cos + (y - cy) * sin;
      const sy = cy - (x - cx) * sin + (y - cy) * cos;
      const light = paperTone - (shadow * ((x - lampX) ** 2 + (y - lampY) ** 2)) / far2;
      const ink = 1 - sample(data, width, height, sx, sy) / 255;
      // Three uniform numbers make a good bell.
      const jitter = noise === 0 ? 0 : (random() + random() + random() - 1.5) * 2 * noise;
      out[y * width + x] = clamp(light * (1 - ink) + INK_TONE * ink + jitter);
    }
  }
  const specks = Math.round((specksPerMegapixel * width * height) / 1_000_000);
  for (let k = 0; k < specks; k++) {
    const [x, y, r] = [random() * width, random() * height, 0.7 + random() * random() * 1.6];
    stamp(out, width, height, x, y, r, INK_TONE + 50 * random());
  }
  return { width, height, data: out };
}

/** White beyond the sheet's edge. */
function sample(data: Uint8Array, width: number, height: number, x: number, y: number): number {
  const ix = Math.floor(x);
  const iy = Math.floor(y);
  if (ix < 0 || iy < 0 || ix + 1 >= width || iy + 1 >= height) return 255;
  const at = iy * width + ix;
  const [fx, fy] = [x - ix, y - iy];
  const top = data[at]! * (1 - fx) + data[at + 1]! * fx;
  const bottom = data[at + width]! * (1 - fx) + data[at + width + 1]! * fx;
  return top * (1 - fy) + bottom * fy;
}

function stamp(out: Uint8Array, width: number, height: number, cx: number, cy: number, r: number, tone: number): void {
  for (let y = Math.max(0, Math.floor(cy - r - 1)); y <= Math.min(height - 1, cy + r + 1); y++) {
    for (let x = Math.max(0, Math.floor(cx - r - 1)); x <= Math.min(width - 1, cx + r + 1); x++) {
      const share = Math.min(1, Math.max(0, r + 0.5 - Math.hypot(x - cx, y - cy)));
      const at = y * width + x;
      out[at] = clamp(Math.min(out[at]!, out[at]! * (1 - share) + tone * share));
    }
  }
}

function clamp(value: number): number {
  return value < 0 ? 0 : value > 255 ? 255 : Math.round(value);
}

function randomNumbers(seed: number): () => number {
  let state = (seed * 2654435761) >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 4294967296;
  };
}
