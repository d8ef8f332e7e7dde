import type { BenchState } from '../state/benchState.ts';

type Box = readonly [x0: number, y0: number, x1: number, y1: number];

/** Where the page is cut, and as far as its art has to reach, in the middle of the file, in px; null where nobody said. */
export function trimBoxes({
  trim,
  page,
}: Pick<BenchState, 'trim' | 'page'>): { readonly cut: Box; readonly bleed: Box } | null {
  if (trim === null || page === null || page.dpi === null) return null;
  const { width, height, dpi } = page;
  const px = (mm: number): number => (mm / 25.4) * dpi;
  const around = (extraMm: number): Box => {
    const [w, h] = [px(trim.widthMm + 2 * extraMm), px(trim.heightMm + 2 * extraMm)];
    const [x, y] = [(width - w) / 2, (height - h) / 2];
    return [x, y, x + w, y + h];
  };
  return { cut: around(0), bleed: around(trim.bleedMm) };
}
