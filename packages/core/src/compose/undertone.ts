/**
 * The tone of a region without a part: paper with thin grey diagonals, one word for each of eight
 * places across them, so that it reads as "open" by its pattern, not by a colour.
 */
export const UNDERTONE: Int32Array = Int32Array.of(
  0xffc4c4c4,
  0xffdcdcdc,
  0xffffffff,
  0xffffffff,
  0xffffffff,
  0xffffffff,
  0xffffffff,
  0xffdcdcdc,
);
