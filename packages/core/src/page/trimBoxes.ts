type Box = readonly [x0: number, y0: number, x1: number, y1: number];

/** What is left of a page when it is cut, and how far the drawing goes on beyond that on every side, in mm. */
export interface TrimSize {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly bleedMm: number;
}

const MM_AN_INCH = 25.4;

/**
 * Where a page is cut, and as far as its art has to reach, in the middle of the file, in px; null where nobody said, or where
 * no resolution tells what a millimetre is.
 */
export function trimBoxes(
  trim: TrimSize | null,
  page: { readonly width: number; readonly height: number; readonly dpi: number | null } | null,
): { readonly cut: Box; readonly bleed: Box } | null {
  if (trim === null || page === null || page.dpi === null) return null;
  const { width, height, dpi } = page;
  const px = (mm: number): number => (mm / MM_AN_INCH) * dpi;
  const around = (extraMm: number): Box => {
    const [w, h] = [px(trim.widthMm + 2 * extraMm), px(trim.heightMm + 2 * extraMm)];
    const [x, y] = [(width - w) / 2, (height - h) / 2];
    return [x, y, x + w, y + h];
  };
  return { cut: around(0), bleed: around(trim.bleedMm) };
}
