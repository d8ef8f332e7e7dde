import { blur, layOut, type UnmixedKey } from './unmixKey.ts';
import type { KeyRaster } from './registerKey.ts';

/** Taken out: looked up a million times. */
const { abs } = Math;

/** Which part a region is, and how much worse the key would come out with the next best. */
export interface SettledParts {
  /** Number of the part of each region. */
  readonly part: Int32Array;
  /** Rise of the squared error with the next best part. */
  readonly margin: Float64Array;
}

/** Rounds over all regions, at most. */
const MOST_ROUNDS = 8;

/**
 * Regions too small or thin for the key to show by themselves: for each of them, in turn, the part with
 * which the page's regions, laid out and blurred, give the key best, until nothing changes (iterated
 * conditional modes, Besag 1986). That a part can only have its own colour says more than the mixture.
 *
 * @param rgb of each part as the key has it, `parts * 3`. @param part where to start, by region.
 * @param fixed 1 for regions that are known.
 */
export function settleParts(
  key: KeyRaster,
  { cover, kernel }: Pick<UnmixedKey, 'cover' | 'kernel'>,
  rgb: Float64Array,
  part: Int32Array,
  fixed: Uint8Array,
): SettledParts {
  const { width, height } = key;
  const regions = part.length;
  const parts = rgb.length / 3;
  const own = part.slice();
  const margin = new Float64Array(regions);
  const footprints = footprintsOf(cover, kernel, width, height, fixed);

  // What is left of the key when everything is laid out as it is thought to be.
  const residual = [0, 1, 2].map((channel) => {
    const image = new Float64Array(width * height);
    layOut(
      cover,
      Float64Array.from(own, (one) => rgb[one * 3 + channel]!),
      image,
    );
    blur(image, new Float64Array(image.length), width, height, kernel);
    return image.map((v, p) => (key.rgb[p * 3 + channel]! - v) * cover.trust[p]!);
  });
  for (let round = 0; round < MOST_ROUNDS; round++) {
    let changed = false;
    for (let region = 0; region < regions; region++) {
      const footprint = footprints[region];
      if (footprint === undefined) continue;
      const { at, weight, norm } = footprint;
      const pull = residual.map((image) => {
        let sum = 0;
        for (let k = 0; k < at.length; k++) sum += weight[k]! * image[at[k]!]!;
        return sum;
      });
      // Error with another colour: less by twice the pull along the change, more by its square.
      const now = own[region]!;
      let [best, least, second] = [now, Infinity, Infinity];
      for (let p = 0; p < parts; p++) {
        let error = 0;
        for (let c = 0; c < 3; c++) {
          const d = rgb[p * 3 + c]! - rgb[now * 3 + c]!;
          error += d * d * norm - 2 * d * pull[c]!;
        }
        if (error < least) [best, least, second] = [p, error, least];
        else if (error < second) second = error;
      }
      margin[region] = second - least;
      if (best === now) continue;
      changed = true;
      own[region] = best;
      for (let c = 0; c < 3; c++) {
        const d = rgb[best * 3 + c]! - rgb[now * 3 + c]!;
        const image = residual[c]!;
        for (let k = 0; k < at.length; k++) image[at[k]!] = image[at[k]!]! - d * weight[k]!;
      }
    }
    if (!changed) break;
  }
  return { part: own, margin };
}

interface Footprint {
  readonly at: Int32Array;
  readonly weight: Float64Array;
  /** Sum of the squared weights. */
  readonly norm: number;
}

/** How much of each px of the blurred key a region is; only for regions that are not known. */
function footprintsOf(
  { row, region, share, trust }: UnmixedKey['cover'],
  kernel: Float64Array,
  width: number,
  height: number,
  fixed: Uint8Array,
): (Footprint | undefined)[] {
  const maps: (Map<number, number> | undefined)[] = Array.from(fixed, (known) =>
    known === 1 ? undefined : new Map<number, number>(),
  );
  const half = kernel.length - 1;
  for (let p = 0; p < width * height; p++) {
    const x = p % width;
    const y = (p - x) / width;
    for (let k = row[p]!; k < row[p + 1]!; k++) {
      const map = maps[region[k]!];
      if (map === undefined) continue;
      for (let dy = -half; dy <= half; dy++) {
        for (let dx = -half; dx <= half; dx++) {
          const [px, py] = [x + dx, y + dy];
          if (px < 0 || py < 0 || px >= width || py >= height) continue;
          const at = py * width + px;
          map.set(at, (map.get(at) ?? 0) + share[k]! * kernel[abs(dx)]! * kernel[abs(dy)]! * trust[at]!);
        }
      }
    }
  }
  return maps.map((map) => {
    if (map === undefined || map.size === 0) return undefined;
    const weight = Float64Array.from(map.values());
    return { at: Int32Array.from(map.keys()), weight, norm: weight.reduce((sum, w) => sum + w * w, 0) };
  });
}
