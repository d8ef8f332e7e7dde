/** Taken out: looked up a million times. */
const { floor, max, min, sqrt } = Math;

/** The regions around one, with how much each says of what it is, 0..1. */
export interface RegionsAround {
  readonly regions: Int32Array;
  /** More for near ones and for those that are known. */
  readonly presence: Float64Array;
  /** More for those of about its size as well. */
  readonly likeness: Float64Array;
}

/** Where regions lie and how large they are. */
export interface RegionPlaces {
  /** `[x, y, x, y, ...]` of some points of each, in px of the page. */
  readonly points: readonly (readonly number[])[];
  readonly areaPx: ArrayLike<number>;
  /** 1 for regions whose part is known. */
  readonly known: Uint8Array;
}

/** What is only supposed to have a part says less than what is known to. */
const SUPPOSED = 0.7;
/** So many of the nearest regions say what one is. */
const MOST_AROUND = 32;
/** Rings of buckets that are looked through, from the inside out. */
const RINGS = 4;

/**
 * The regions within a reach of some: buttons lie near buttons, a stripe beside stripes of its size.
 *
 * @param reach in px. @param wanted for which regions it is asked. Cost: by pairs within the reach.
 */
export function regionsAround(
  { points, areaPx, known }: RegionPlaces,
  reach: number,
  wanted: (region: number) => boolean,
): (RegionsAround | undefined)[] {
  const side = reach / RINGS;
  const buckets = new Map<number, { region: number; x: number; y: number }[]>();
  const bucketOf = (bx: number, by: number): number => by * 65_536 + bx;
  points.forEach((list, region) => {
    for (let k = 0; k < list.length; k += 2) {
      const [x, y] = [list[k]!, list[k + 1]!];
      const key = bucketOf(floor(x / side), floor(y / side));
      const bucket = buckets.get(key);
      if (bucket === undefined) buckets.set(key, [{ region, x, y }]);
      else bucket.push({ region, x, y });
    }
  });
  /** Of the region looked at: how near each of the others comes. */
  const nearest = new Float64Array(points.length);
  return points.map((list, region) => {
    if (!wanted(region) || list.length === 0) return undefined;
    const [x, y] = middleOf(list);
    const [bx, by] = [floor(x / side), floor(y / side)];
    const found: number[] = [];
    const look = (bucket: number): void => {
      for (const other of buckets.get(bucket) ?? []) {
        if (other.region === region) continue;
        const [ox, oy] = [other.x - x, other.y - y];
        const near = 1 - sqrt(ox * ox + oy * oy) / reach;
        if (near <= 0) continue;
        if (nearest[other.region] === 0) found.push(other.region);
        nearest[other.region] = max(nearest[other.region]!, near);
      }
    };
    for (let ring = 0; ring <= RINGS; ring++) {
      for (let dy = -ring; dy <= ring; dy++) {
        const step = dy === -ring || dy === ring ? 1 : 2 * ring;
        for (let dx = -ring; dx <= ring; dx += max(1, step)) look(bucketOf(bx + dx, by + dy));
      }
      // What lies in a farther ring is no nearer than this.
      const least = 1 - ring / RINGS;
      if (found.reduce((count, other) => count + (nearest[other]! >= least ? 1 : 0), 0) >= MOST_AROUND) break;
    }
    const closest = [...found].sort((a, b) => nearest[b]! - nearest[a]! || a - b).slice(0, MOST_AROUND);
    const presence = Float64Array.from(closest, (other) => nearest[other]! ** 2 * (known[other] === 1 ? 1 : SUPPOSED));
    const likeness = Float64Array.from(closest, (other, k) => {
      const [small, large] = [min(areaPx[other]!, areaPx[region]!), max(areaPx[other]!, areaPx[region]!)];
      return presence[k]! * sqrt(small / large);
    });
    for (const other of found) nearest[other] = 0;
    return { regions: Int32Array.from(closest), presence, likeness };
  });
}

function middleOf(list: readonly number[]): readonly [number, number] {
  let [x, y] = [0, 0];
  for (let k = 0; k < list.length; k += 2) {
    x += list[k]!;
    y += list[k + 1]!;
  }
  return [(2 * x) / list.length, (2 * y) / list.length];
}
