import { laidOut, type Cover } from './coverOf.ts';
import { blur, ENOUGH_PX } from './guideBlur.ts';
import { NormalEquations } from './NormalEquations.ts';
import type { GuidePlace, GuideRaster } from '../register/registerGuide.ts';

/** A px of the key that is so far off says half as much. */
const OFF = 10;
/** Farther than so many px of the key nothing moves. */
const MOST_MOVED = 1;

/**
 * Where a key lies to a fraction of its px, once it is known what it shows: the shift and the scales with which
 * the picture of the regions comes nearest to it (Lucas and Kanade 1981), one step from where it lies.
 *
 * @param colours RGB of each region, `regions * 3`.
 */
export function refinePlace(
  guide: GuideRaster,
  place: GuidePlace,
  cover: Cover,
  kernel: Float64Array,
  colours: Float64Array,
): GuidePlace {
  const { width, height, rgb } = guide;
  const equations = new NormalEquations(4);
  const every = Math.ceil((width * height) / ENOUGH_PX);
  const laid = laidOut(cover, colours);
  for (const channel of [0, 1, 2] as const) {
    const image = laid[channel];
    blur(image, new Float64Array(image.length), width, height, kernel);
    for (let y = 1; y + 1 < height; y += every) {
      for (let x = 1; x + 1 < width; x++) {
        const p = y * width + x;
        const trust = cover.trust[p]!;
        if (trust === 0) continue;
        const right = (image[p - 1]! - image[p + 1]!) / 2;
        const down = (image[p - width]! - image[p + width]!) / 2;
        // Where all is of one colour nothing is seen to move.
        if (right === 0 && down === 0) continue;
        const rest = rgb[p * 3 + channel]! - image[p]!;
        const off = (rest / OFF) ** 2;
        const [u, v] = [(x + 0.5) / width - 0.5, (y + 0.5) / height - 0.5];
        equations.add([right, right * u, down, down * v], rest, trust / ((1 + off) * (1 + off)));
      }
    }
  }
  const moved = equations.solve();
  if (moved === null || moved.some((by) => by < -MOST_MOVED || by > MOST_MOVED)) return place;
  const [dx, growX, dy, growY] = moved as unknown as readonly [number, number, number, number];
  const [fx, fy] = [1 + growX / width, 1 + growY / height];
  return {
    scaleX: place.scaleX * fx,
    scaleY: place.scaleY * fy,
    shiftX: place.shiftX * fx + dx - growX / 2,
    shiftY: place.shiftY * fy + dy - growY / 2,
  };
}
