import { solvePositive } from './NormalEquations.ts';
import type { Footprint } from './unmixKey.ts';

/** What a region's colour would become by least squares, and how surely. */
export interface FreeColour {
  /** By how much red, green and blue would change. */
  readonly change: readonly [number, number, number];
  /** By how much the squares of what is left grow with each square of a difference to that. */
  readonly squares: number;
}

/** Regions that may take any colour beside one: those that share most of its px, from this share on. */
const MOST_FREE = 10;
const LEAST_SHARED = 0.05;
/** What it costs a neighbour to change its colour, beside what its px say. */
const STIFF = 0.02;
/** Less than this of a region is seen apart from its neighbours: nothing is said of it. */
const LEAST_SEEN = 1e-6;

/**
 * What regions would be if those around them could have any colour: two that stand together for what they are not
 * hold each other fast only as long as each must fit the other as it is (Schur complement of the normal equations).
 */
export class FreeNeighbours {
  /** For each region those whose footprints share px with its own, with the sum of the products of both; once asked for. */
  private readonly products: (ReadonlyMap<number, number> | undefined)[];
  private overlaps: Overlaps | undefined;

  /** @param rest RGB of what is left of each px of the key, as it is whenever a region is asked for. */
  constructor(
    private readonly footprints: readonly (Footprint | undefined)[],
    private readonly rest: Float64Array,
  ) {
    this.products = Array.from({ length: footprints.length });
  }

  /** The colour a region would have; null where it is not seen apart from its neighbours. */
  colourOf(region: number): FreeColour | null {
    const own = this.productsOf(region);
    // What lies under solid black shows nowhere.
    const all = own.get(region) ?? 0;
    if (all < LEAST_SEEN) return null;
    const free = [...own].filter(([other, shared]) => other !== region && shared > LEAST_SHARED * all);
    free.sort(([a, v], [b, w]) => w - v || a - b).splice(MOST_FREE);
    const size = free.length;
    const matrix = new Float64Array(size * size);
    free.forEach(([a], i) => {
      const shared = this.productsOf(a);
      free.forEach(([b], j) => {
        matrix[i * size + j] = (shared.get(b) ?? 0) + (i === j ? STIFF : 0);
      });
    });
    const follows =
      size === 0
        ? new Float64Array(0)
        : solvePositive(
            matrix,
            Float64Array.from(free, ([, v]) => v),
          );
    if (follows === null) return null;
    const squares = free.reduce((sum, [, shared], i) => sum - follows[i]! * shared, all);
    if (squares < LEAST_SEEN) return null;
    const changeOf = (channel: number): number =>
      free.reduce((sum, [other], i) => sum - follows[i]! * this.along(other, channel), this.along(region, channel)) /
      squares;
    return { change: [changeOf(0), changeOf(1), changeOf(2)], squares };
  }

  private along(region: number, channel: number): number {
    const { at, weight } = this.footprints[region]!;
    let sum = 0;
    for (let k = 0; k < at.length; k++) sum += weight[k]! * this.rest[3 * at[k]! + channel]!;
    return sum;
  }

  private productsOf(region: number): ReadonlyMap<number, number> {
    return (this.products[region] ??= this.multiplied(region));
  }

  private multiplied(region: number): ReadonlyMap<number, number> {
    const { at, weight } = this.footprints[region]!;
    const { row, regions, weights } = (this.overlaps ??= overlapsOf(this.footprints, this.rest.length / 3));
    const products = new Map<number, number>();
    for (let k = 0; k < at.length; k++) {
      const px = at[k]!;
      for (let entry = row[px]!; entry < row[px + 1]!; entry++) {
        const other = regions[entry]!;
        products.set(other, (products.get(other) ?? 0) + weight[k]! * weights[entry]!);
      }
    }
    return products;
  }
}

/** Which footprints cover each px, and how much: entries of px p are `row[p] .. row[p + 1] - 1`. */
interface Overlaps {
  readonly row: Int32Array;
  readonly regions: Int32Array;
  readonly weights: Float64Array;
}

function overlapsOf(footprints: readonly (Footprint | undefined)[], pixels: number): Overlaps {
  const row = new Int32Array(pixels + 1);
  for (const one of footprints) if (one !== undefined) for (const px of one.at) row[px + 1] = row[px + 1]! + 1;
  for (let px = 0; px < pixels; px++) row[px + 1] = row[px + 1]! + row[px]!;
  const next = row.slice();
  const regions = new Int32Array(row[pixels]!);
  const weights = new Float64Array(row[pixels]!);
  footprints.forEach((one, region) => {
    one?.at.forEach((px, k) => {
      const entry = next[px]!;
      next[px] = entry + 1;
      regions[entry] = region;
      weights[entry] = one.weight[k]!;
    });
  });
  return { row, regions, weights };
}
