/** The part that most of a region's border has; null for none. @param neighbours `[a, b, px]` for each pair that touches. */
export function partAround(
  neighbours: Int32Array,
  partOfRegion: readonly (string | null)[],
  region: number,
): string | null {
  const lengths = new Map<string, number>();
  for (let k = 0; k < neighbours.length; k += 3) {
    const [a, b, px] = [neighbours[k]!, neighbours[k + 1]!, neighbours[k + 2]!];
    if (a !== region && b !== region) continue;
    const part = partOfRegion[a === region ? b : a] ?? null;
    if (part !== null) lengths.set(part, (lengths.get(part) ?? 0) + px);
  }
  let [most, found]: [number, string | null] = [0, null];
  for (const [part, px] of lengths) if (px > most) [most, found] = [px, part];
  return found;
}
