import type { Survey } from '../model/Survey.ts';

/**
 * The pairs of regions that touch once colour has run to the middle of the lines.
 *
 * @returns `[a0, b0, a1, b1, ...]` with a < b, sorted. Cost: one read of the field, more on ink.
 */
export function findTouching(survey: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>): Int32Array {
  const { width, height, field, regions } = survey;
  const { ofCell, count } = regions;
  const regionOf = (at: number): number => {
    let value = field[at]!;
    if (value < 0) value = field[~value] ?? -1;
    return value < 0 ? -1 : ofCell[value]!;
  };
  const pairs = new Set<number>();
  let last = -1;
  const note = (a: number, b: number): void => {
    if (a === b || a < 0 || b < 0) return;
    const key = a < b ? a * count + b : b * count + a;
    if (key === last) return;
    last = key;
    pairs.add(key);
  };
  for (let y = 0; y < height; y++) {
    const base = y * width;
    for (let x = 0; x < width; x++) {
      const at = base + x;
      // Two regions only ever meet under ink.
      if (field[at]! >= 0) continue;
      const here = regionOf(at);
      if (x + 1 < width) note(here, regionOf(at + 1));
      if (y + 1 < height) note(here, regionOf(at + width));
      if (x > 0 && field[at - 1]! >= 0) note(here, regionOf(at - 1));
      if (y > 0 && field[at - width]! >= 0) note(here, regionOf(at - width));
    }
  }
  const keys = Float64Array.from(pairs).sort();
  const touching = new Int32Array(keys.length * 2);
  keys.forEach((key, k) => {
    touching[2 * k] = Math.floor(key / count);
    touching[2 * k + 1] = key % count;
  });
  return touching;
}

/** The pairs of parts that touch, from the pairs of regions. Regions with a negative part do not count. */
export function touchingParts(touching: Int32Array, partOfRegion: Int32Array): Int32Array {
  const seen = new Set<string>();
  const pairs: number[] = [];
  for (let k = 0; k < touching.length; k += 2) {
    const a = partOfRegion[touching[k]!]!;
    const b = partOfRegion[touching[k + 1]!]!;
    if (a < 0 || b < 0 || a === b) continue;
    const key = `${Math.min(a, b)},${Math.max(a, b)}`;
    if (seen.has(key)) continue;
    seen.add(key);
    pairs.push(Math.min(a, b), Math.max(a, b));
  }
  return Int32Array.from(pairs);
}
