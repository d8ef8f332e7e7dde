/**
 * The first index at which two arrays of numbers differ, or null. Jest compares long arrays entry by entry through its
 * reports, which takes seconds a raster. For tests.
 */
export function firstDifference(one: ArrayLike<number>, other: ArrayLike<number>): number | null {
  if (one.length !== other.length) return Math.min(one.length, other.length);
  for (let k = 0; k < one.length; k++) if (one[k] !== other[k]) return k;
  return null;
}
