import type { Survey } from '../model/Survey.ts';

/** Areas of like shapes differ by at most this factor, sides of their boxes by this one. */
const AREA_ALIKE = 1.6;
const SIDE_ALIKE = 1.35;
/** How much of its box a region fills differs by at most this factor. */
const FULLNESS_ALIKE = 1.3;

/** The regions of about the same size and shape as one, itself included; upright or lying. */
export function regionsLike({ regions }: Pick<Survey, 'regions'>, region: number): number[] {
  const own = shapeOf(region);
  const found: number[] = [];
  for (let r = 0; r < regions.count; r++) {
    const other = shapeOf(r);
    if (
      r === region ||
      (alike(own.area, other.area, AREA_ALIKE) &&
        alike(own.longer, other.longer, SIDE_ALIKE) &&
        alike(own.shorter, other.shorter, SIDE_ALIKE) &&
        alike(own.fullness, other.fullness, FULLNESS_ALIKE))
    )
      found.push(r);
  }
  return found;

  function shapeOf(r: number): { area: number; longer: number; shorter: number; fullness: number } {
    const b = r * 4;
    const [w, h] = [regions.box[b + 2]! - regions.box[b]!, regions.box[b + 3]! - regions.box[b + 1]!];
    const area = regions.areaPx[r]!;
    return { area, longer: Math.max(w, h), shorter: Math.min(w, h), fullness: area / (w * h) };
  }
}

function alike(a: number, b: number, factor: number): boolean {
  return a <= b * factor && b <= a * factor;
}
