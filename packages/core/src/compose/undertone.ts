/**
 * The tone of a region without a part, one word for each of 64 places in a repeating 8 x 8 tile:
 * paper with thin grey strokes, so that it reads as "open" by its pattern, not by a colour.
 */
export const UNDERTONE: Uint32Array = makeUndertone();

function makeUndertone(): Uint32Array {
  const tile = new Uint32Array(64).fill(0xffffffff);
  for (let diagonal = 0; diagonal < 8; diagonal++) {
    for (const along of [0, 1]) tile[diagonal * 8 + along] = 0xffd4d4d4;
  }
  return tile;
}
