/** An island is at most so much of what it lies in. */
const MOST_SHARE = 0.05;

/**
 * Regions that lie in a part all around and have that part themselves, though a line parts them from it: an
 * eye in a face, a button on a coat, given with the rest. Probably they are something else.
 *
 * @param pairs `[a, b, px]` of every two regions that touch.
 * @returns region numbers, the largest first.
 */
export function findIslands(
  pairs: ArrayLike<number>,
  areaPx: ArrayLike<number>,
  partOfRegion: readonly (string | null)[],
  leastPx2: number,
): number[] {
  const around = partOfRegion.map(() => 0);
  const mixed = new Uint8Array(partOfRegion.length);
  for (let k = 0; k + 2 < pairs.length; k += 3) {
    const [a, b] = [pairs[k]!, pairs[k + 1]!];
    for (const [own, other] of [
      [a, b],
      [b, a],
    ] as const) {
      if (partOfRegion[own] !== partOfRegion[other]) mixed[own] = 1;
      else around[own] = Math.max(around[own]!, areaPx[other]!);
    }
  }
  return [...partOfRegion.keys()]
    .filter(
      (region) =>
        partOfRegion[region] !== null &&
        mixed[region] === 0 &&
        areaPx[region]! >= leastPx2 &&
        areaPx[region]! <= MOST_SHARE * around[region]!,
    )
    .sort((one, two) => areaPx[two]! - areaPx[one]! || one - two);
}
