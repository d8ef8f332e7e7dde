import { restOf, type UnmixedKey } from './unmixKey.ts';
import type { KeyRaster } from './registerKey.ts';

/** Which part a region is, and how much worse the key would come out with the next best. */
export interface SettledParts {
  /** Number of the part of each region. */
  readonly part: Int32Array;
  /** Rise of the squared error with the next best part. */
  readonly margin: Float64Array;
}

/** How far from a region each group of parts is at home, 0..1. */
export interface Farness {
  /** By part. */
  readonly groupOf: Int32Array;
  /** By group. */
  ofRegion(region: number): Float64Array;
}

/** A part that is at home elsewhere has to fit better by so much, as a squared difference of colours. */
const FAR = 1000;
/** Rounds over all regions, at most. */
const MOST_ROUNDS = 8;

/**
 * Regions too small or thin for the key to show by themselves: for each of them, in turn, the part with
 * which the page's regions, laid out and blurred, give the key best, until nothing changes (iterated
 * conditional modes, Besag 1986). That a part can only have its own colour says more than the mixture.
 *
 * @param rgb of each part as the key has it, `parts * 3`. @param part where to start, by region.
 * @param farness how far from regions parts are at home.
 */
export function settleParts(
  key: KeyRaster,
  { cover, kernel, footprints }: Pick<UnmixedKey, 'cover' | 'kernel' | 'footprints'>,
  rgb: Float64Array,
  part: Int32Array,
  farness: Farness,
): SettledParts {
  const regions = part.length;
  const parts = rgb.length / 3;
  const own = part.slice();
  const margin = new Float64Array(regions);
  const farOf = footprints.map((one, region) => (one === undefined ? null : farness.ofRegion(region)));

  // What is left of the key when everything is laid out as it is thought to be.
  const residual = [0, 1, 2].map((channel) =>
    restOf(key, cover, kernel, (region) => rgb[own[region]! * 3 + channel]!, channel),
  );
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
      const far = farOf[region]!;
      for (let p = 0; p < parts; p++) {
        let error = far[farness.groupOf[p]!]! * FAR * norm;
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
