/**
 * Squared distance in px² from a pixel to the nearest paper pixel; 0 on paper, Infinity where there is none.
 *
 * @param field `~index` of the nearest paper on ink.
 */
export function depth2At(field: Int32Array, width: number, at: number): number {
  const value = field[at]!;
  if (value >= 0) return 0;
  const source = ~value;
  if (source >= field.length) return Infinity;
  const x = at % width;
  const sx = source % width;
  const dx = x - sx;
  const dy = (at - x - (source - sx)) / width;
  return dx * dx + dy * dy;
}
