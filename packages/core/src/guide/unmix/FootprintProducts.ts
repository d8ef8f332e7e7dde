/** How much of each px of the blurred key a region is, the most first. */
export interface Footprint {
  readonly at: Int32Array;
  readonly weight: Float64Array;
}

/** Which footprints share px with one, the own one too, and the sum of the products of both. */
export interface SharedWith {
  readonly regions: Int32Array;
  readonly products: Float64Array;
}

/** The normal equations of footprints, row by row, each once it is asked for. */
export class FootprintProducts {
  private readonly rows: (SharedWith | undefined)[];
  /** Which footprints cover each px, and how much: entries of px p are `start[p] .. start[p + 1] - 1`. */
  private readonly start: Int32Array;
  private readonly region: Int32Array;
  private readonly weight: Float64Array;
  /** Sums by region, 0 but while a row is made; and the regions that have one. */
  private readonly sums: Float64Array;
  private readonly summed: Int32Array;

  /** @param pixels of the key. */
  constructor(
    private readonly footprints: readonly (Footprint | undefined)[],
    pixels: number,
  ) {
    this.rows = Array.from({ length: footprints.length });
    this.sums = new Float64Array(footprints.length);
    this.summed = new Int32Array(footprints.length);
    const start = new Int32Array(pixels + 1);
    for (const one of footprints) if (one !== undefined) for (const px of one.at) start[px + 1] = start[px + 1]! + 1;
    for (let px = 0; px < pixels; px++) start[px + 1] = start[px + 1]! + start[px]!;
    const next = start.slice();
    this.region = new Int32Array(start[pixels]!);
    this.weight = new Float64Array(start[pixels]!);
    footprints.forEach((one, region) => {
      if (one !== undefined) this.enter(one, region, next);
    });
    this.start = start;
  }

  private enter({ at, weight }: Footprint, region: number, next: Int32Array): void {
    for (let k = 0; k < at.length; k++) {
      const entry = next[at[k]!]!;
      next[at[k]!] = entry + 1;
      this.region[entry] = region;
      this.weight[entry] = weight[k]!;
    }
  }

  /** Those that share px with a region that has a footprint. */
  of(region: number): SharedWith {
    return (this.rows[region] ??= this.multiplied(this.footprints[region]!));
  }

  private multiplied({ at, weight }: Footprint): SharedWith {
    const { start, region, sums, summed } = this;
    let count = 0;
    for (let k = 0; k < at.length; k++) {
      const own = weight[k]!;
      const end = start[at[k]! + 1]!;
      for (let entry = start[at[k]!]!; entry < end; entry++) {
        const other = region[entry]!;
        // Weights are above 0.
        if (sums[other] === 0) summed[count++] = other;
        sums[other] = sums[other]! + own * this.weight[entry]!;
      }
    }
    const regions = summed.slice(0, count);
    const products = new Float64Array(count);
    for (let k = 0; k < count; k++) {
      products[k] = sums[regions[k]!]!;
      sums[regions[k]!] = 0;
    }
    return { regions, products };
  }
}
