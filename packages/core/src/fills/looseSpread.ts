import type { Survey } from '../model/Survey.ts';

/**
 * What was spread loosely over a place: the region there and those one gets to from it through closures
 * alone, never across a line, as long as they have the same part. So a part that was given too widely is
 * taken away up to the outline.
 *
 * @returns region numbers, rising.
 */
export function looseSpread(
  { closures }: Pick<Survey, 'closures'>,
  partOfRegion: readonly (string | null)[],
  region: number,
): number[] {
  const part = partOfRegion[region];
  const beside = new Map<number, number[]>();
  for (const { regions, accepted } of closures) {
    const [a, b] = regions;
    if (!accepted || a < 0 || b < 0) continue;
    beside.set(a, [...(beside.get(a) ?? []), b]);
    beside.set(b, [...(beside.get(b) ?? []), a]);
  }
  const found = new Set([region]);
  const left = [region];
  for (let at = left.pop(); at !== undefined; at = left.pop()) {
    for (const other of beside.get(at) ?? []) {
      if (found.has(other) || partOfRegion[other] !== part) continue;
      found.add(other);
      left.push(other);
    }
  }
  return [...found].sort((a, b) => a - b);
}
