import type { TrapDepth } from '../model/Trap.ts';

const MM_PER_INCH = 25.4;

/** A depth in px of the page; null for one in mm where the page states no resolution. */
export function depthInPx(depth: TrapDepth, dpi: number | null): number | null {
  if ('depthPx' in depth) return depth.depthPx;
  return dpi === null ? null : (depth.depthMm * dpi) / MM_PER_INCH;
}
