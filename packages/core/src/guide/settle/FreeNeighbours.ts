import { FootprintProducts, type Footprint, type SharedWith } from '../unmix/FootprintProducts.ts';
import { solvePositive } from '../unmix/NormalEquations.ts';

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
  /** Made when a region is first asked for: not every settling does. */
  private made: FootprintProducts | undefined;

  /** @param rest RGB of what is left of each px of the key, as it is whenever a region is asked for. */
  constructor(
    private readonly footprints: readonly (Footprint | undefined)[],
    private readonly rest: Float64Array,
  ) {}

  private get products(): FootprintProducts {
    return (this.made ??= new FootprintProducts(this.footprints, this.rest.length / 3));
  }

  /** The colour a region would have; null where it is not seen apart from its neighbours. */
  colourOf(region: number): FreeColour | null {
    const own = this.products.of(region);
    // What lies under solid black shows nowhere.
    const all = productWith(own, region);
    if (all < LEAST_SEEN) return null;
    const free: (readonly [number, number])[] = [];
    own.regions.forEach((other, k) => {
      if (other !== region && own.products[k]! > LEAST_SHARED * all) free.push([other, own.products[k]!]);
    });
    free.sort(([a, v], [b, w]) => w - v || a - b).splice(MOST_FREE);
    const size = free.length;
    const matrix = new Float64Array(size * size);
    free.forEach(([a], i) => {
      const shared = this.products.of(a);
      free.forEach(([b], j) => {
        matrix[i * size + j] = productWith(shared, b) + (i === j ? STIFF : 0);
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
}

function productWith({ regions, products }: SharedWith, other: number): number {
  const k = regions.indexOf(other);
  return k < 0 ? 0 : products[k]!;
}
