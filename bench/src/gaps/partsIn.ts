import type { Survey } from '@jumble/core';

/** Whether a cut lies on an outline of the drawing as it was meant. */
export function partsIn(
  truth: Survey,
  { from, to }: { from: readonly [number, number]; to: readonly [number, number] },
): boolean {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const norm = Math.hypot(dx, dy) || 1;
  const [mx, my] = [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2];
  const side = (sign: number): number => {
    for (let reach = truth.lineWidthPx.median * 0.5; reach < truth.lineWidthPx.median * 2; reach++) {
      const x = Math.round(mx - (dy / norm) * sign * reach);
      const y = Math.round(my + (dx / norm) * sign * reach);
      if (x < 0 || y < 0 || x >= truth.width || y >= truth.height) return -1;
      const cell = truth.field[y * truth.width + x]!;
      if (cell >= 0) return truth.regions.ofCell[cell]!;
    }
    return -1;
  };
  const [one, two] = [side(1), side(-1)];
  return one >= 0 && two >= 0 && one !== two;
}
