import { log } from '../exact/exactMath.ts';
import type { RegionsAround } from './regionsAround.ts';
import type { KeyRaster } from './registerKey.ts';
import { restOf, type Footprint, type UnmixedKey } from './unmixKey.ts';

/** Which part a region is, and how much worse the key would come out with the next best. */
export interface SettledParts {
  /** Number of the part of each region. */
  readonly part: Int32Array;
  /** By how much the next best part is less likely, in nats. */
  readonly margin: Float64Array;
}

/** What lies around each region that is to be settled, and which parts belong together. */
export interface Surroundings {
  /** Number of each part's group. */
  readonly groupOf: Int32Array;
  readonly around: readonly (RegionsAround | undefined)[];
}

/**
 * How far a px of the key is off what its regions' parts would give, in RGB, before it says little, and what it says at most:
 * what lies under lines, or in a shape that has no region of its own, may be anything (Geman and McClure 1985).
 */
const NOISE = 6;
const MOST_SAID = 2.5;
/** What differs much says more at first, by factors of both, so that the first guesses fall into place (Blake and Zisserman 1987). */
const COARSER = [4, 2, 1];
/** A px says most of a region that is so much of it and more. */
const SLIGHT = 0.1;
/** How much what lies around a region counts beside what the key shows. */
const CONTEXT = 2;
/** A part of the same group says so much of what the part itself says. */
const SAME_GROUP = 0.1;
/** What a part is worth that nothing around has. */
const UNHEARD = 0.02;
/** Rounds over all regions, at most. */
const MOST_ROUNDS = 8;

/**
 * Regions too small or thin for the key to show by themselves: for each of them, in turn, the part with
 * which the page's regions, laid out and blurred, give the key best, until nothing changes (iterated
 * conditional modes, Besag 1986). That a part can only have its own colour says more than the mixture;
 * what little a small region shows is weighed against what the regions around it are.
 *
 * @param rgb of each part as the key has it, `parts * 3`. @param part where to start, by region.
 */
export function settleParts(
  key: KeyRaster,
  { cover, kernel, footprints }: Pick<UnmixedKey, 'cover' | 'kernel' | 'footprints'>,
  rgb: Float64Array,
  part: Int32Array,
  { groupOf, around }: Surroundings,
): SettledParts {
  const regions = part.length;
  const parts = rgb.length / 3;
  const own = part.slice();
  const margin = new Float64Array(regions);
  const heard = new Float64Array(parts);
  const heardOfGroup = new Float64Array(groupOf.reduce((most, group) => Math.max(most, group + 1), 0));

  // What is left of the key when everything is laid out as it is thought to be.
  const residual = [0, 1, 2].map((channel) =>
    restOf(key, cover, kernel, (region) => rgb[own[region]! * 3 + channel]!, channel),
  );
  /** Each region in turn; whether any changed. */
  const goRound = (noise: number, mostSaid: number): boolean => {
    let changed = false;
    for (let region = 0; region < regions; region++) {
      const footprint = footprints[region];
      if (footprint === undefined) continue;
      const now = own[region]!;
      let [best, least, second] = [now, Infinity, Infinity];
      heard.fill(0);
      heardOfGroup.fill(0);
      const near = around[region];
      for (let k = 0; near !== undefined && k < near.regions.length; k++) {
        const p = own[near.regions[k]!]!;
        heard[p] = heard[p]! + near.likeness[k]!;
        heardOfGroup[groupOf[p]!] = heardOfGroup[groupOf[p]!]! + near.presence[k]!;
      }
      for (let p = 0; p < parts; p++) {
        const likely = UNHEARD + heard[p]! + SAME_GROUP * heardOfGroup[groupOf[p]!]!;
        const heardSays = CONTEXT * log(likely);
        const most = (second + heardSays) / mostSaid;
        const error = mostSaid * errorWith(footprint, residual, rgb, now, p, noise, most) - heardSays;
        if (error < least) [best, least, second] = [p, error, least];
        else if (error < second) second = error;
      }
      margin[region] = second - least;
      if (best === now) continue;
      changed = true;
      own[region] = best;
      const { at, weight } = footprint;
      for (let c = 0; c < 3; c++) {
        const d = rgb[best * 3 + c]! - rgb[now * 3 + c]!;
        const image = residual[c]!;
        for (let k = 0; k < at.length; k++) image[at[k]!] = image[at[k]!]! - d * weight[k]!;
      }
    }
    return changed;
  };
  for (const coarser of COARSER) {
    for (let round = 0; round < MOST_ROUNDS; round++) if (!goRound(coarser * NOISE, coarser * MOST_SAID)) break;
  }
  return { part: own, margin };
}

/**
 * How far the key is off around a region with another part instead of the one it has, in px that say so.
 *
 * @param most more than this need not be told exactly.
 */
function errorWith(
  { at, weight }: Footprint,
  [red, green, blue]: readonly Float64Array[],
  rgb: Float64Array,
  now: number,
  other: number,
  noise: number,
  most: number,
): number {
  const dr = rgb[other * 3]! - rgb[now * 3]!;
  const dg = rgb[other * 3 + 1]! - rgb[now * 3 + 1]!;
  const db = rgb[other * 3 + 2]! - rgb[now * 3 + 2]!;
  let error = 0;
  for (let k = 0; k < at.length && error < most; k++) {
    const px = at[k]!;
    const share = weight[k]!;
    const r = red![px]! - dr * share;
    const g = green![px]! - dg * share;
    const b = blue![px]! - db * share;
    const squares = r * r + g * g + b * b;
    error += ((share / (share + SLIGHT)) * squares) / (noise * noise + squares);
  }
  return error;
}
