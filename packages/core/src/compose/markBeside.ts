import type { HoldPaint } from '../holds/HoldPaint.ts';
import type { PyramidLevel } from './buildPyramid.ts';

/** What marks chosen lines: dashes on the paper beside them. */
const BESIDE_WORD = 0xff685d2f | 0;
const BESIDE_LIGHT = 0xffffffff | 0;
/** How far from the ink they run, in picture px, and how long a dash is. */
const BESIDE_PX = 4;
const DASH_BITS = 2;
/** Below this scale a dot stands every so many picture px. */
const AFAR_SCALE = 0.4;
const AFAR_PX = 6;

/** Marks paper, and ink of other lines, so far from a chosen line. */
export function markBeside(
  { width, height, field }: PyramidLevel,
  ofPixel: HoldPaint['ofPixel'],
  chosen: Uint8Array,
  full: Int32Array,
  y: number,
  scale: number,
  place: number,
  out: Int32Array,
  base: number,
): void {
  const far = Math.max(2, Math.round((scale < AFAR_SCALE ? 2 : BESIDE_PX) / scale));
  const near = far >> 1;
  const isAfar = scale < AFAR_SCALE;
  const isChosen = (x: number, py: number): boolean => {
    if (x < 0 || py < 0 || x >= width || py >= height) return false;
    const at = py * width + x;
    return field[at]! < 0 && chosen[ofPixel[at]!] === 1;
  };
  for (let px = 0; px < full.length; px++) {
    const x = full[px]!;
    if (x < 0 || field[y * width + x]! < 0) continue;
    const isFar = isChosen(x - far, y) || isChosen(x + far, y) || isChosen(x, y - far) || isChosen(x, y + far);
    if (!isFar || isChosen(x - near, y) || isChosen(x + near, y) || isChosen(x, y - near) || isChosen(x, y + near))
      continue;
    // From afar there is little paper between lines: dots leave their colours to be seen.
    if (isAfar && (px + place) % AFAR_PX !== 0) continue;
    out[base + px] = ((px + place) >> DASH_BITS) % 2 === 0 || isAfar ? BESIDE_WORD : BESIDE_LIGHT;
  }
}
