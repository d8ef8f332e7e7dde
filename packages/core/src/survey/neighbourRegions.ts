import { bordersOf } from './bordersOf.ts';
import type { OpenSurvey } from './OpenSurvey.ts';

/**
 * How long regions touch under ink.
 *
 * @returns `[a, b, px]` of each pair with a < b, sorted.
 */
export function neighbourRegions(open: OpenSurvey): Int32Array {
  const { regions } = open.survey;
  const borders = bordersOf(open);
  const lengths = new Map<number, number>();
  for (let k = 0; k < borders.count; k++) {
    const [a, b] = [regions.ofCell[borders.a[k]!]!, regions.ofCell[borders.b[k]!]!];
    if (a === b) continue;
    const key = Math.min(a, b) * regions.count + Math.max(a, b);
    lengths.set(key, (lengths.get(key) ?? 0) + borders.px[k]!);
  }
  const keys = [...lengths.keys()].sort((one, two) => one - two);
  const pairs = new Int32Array(keys.length * 3);
  keys.forEach((key, k) => pairs.set([Math.floor(key / regions.count), key % regions.count, lengths.get(key)!], k * 3));
  return pairs;
}
