/** Corrections are kept in squares of this side, in px. */
export const TILE_PX = 64;
export const TILE_AREA = TILE_PX * TILE_PX;

/** Sizes of a pen, in px. */
export const LEAST_PEN_PX = 1;
export const MOST_PEN_PX = 400;

/** Pixels of one square that were painted, whatever their regions have: `tile/tx,ty` in the page's document. */
export interface CorrectionTile {
  /** The parts that occur. */
  readonly parts: readonly string[];
  /**
   * `[value, length, value, length, ...]` over the square's pixels, row by row; a value is 0 where nothing was
   * painted, else 1 + the place in `parts`. Lengths add up to {@link TILE_AREA}.
   */
  readonly runs: readonly number[];
}

/** Reads a tile into numbers of the caller's. @param numberOf of each part. @param out `TILE_AREA` values; 0 where nothing was painted. */
export function unpackTile(
  { parts, runs }: CorrectionTile,
  numberOf: (part: string) => number,
  out: Uint16Array | Uint32Array,
): void {
  const numbers = [0, ...parts.map(numberOf)];
  let at = 0;
  for (let k = 0; k + 1 < runs.length; k += 2) {
    const end = Math.min(TILE_AREA, at + runs[k + 1]!);
    out.fill(numbers[runs[k]!] ?? 0, at, end);
    at = end;
  }
  out.fill(0, at);
}

/** Packs a tile. @param partOf each value above 0. @returns null where nothing is painted. */
export function packTile(values: Uint16Array, partOf: (value: number) => string): CorrectionTile | null {
  const parts: string[] = [];
  const places = new Map<number, number>([[0, 0]]);
  const runs: number[] = [];
  let at = 0;
  while (at < TILE_AREA) {
    const value = values[at]!;
    const from = at++;
    while (at < TILE_AREA && values[at] === value) at++;
    let place = places.get(value);
    if (place === undefined) {
      const part = partOf(value);
      // Two values may stand for one part.
      place = parts.indexOf(part) + 1 || parts.push(part);
      places.set(value, place);
    }
    if (runs.at(-2) === place) runs[runs.length - 1] = runs.at(-1)! + at - from;
    else runs.push(place, at - from);
  }
  return parts.length === 0 ? null : { parts, runs };
}
