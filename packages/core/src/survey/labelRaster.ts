import type { Survey } from '../model/Survey.ts';

/**
 * Regions before trap as a picture: region number + 1 on paper, 0 on ink.
 *
 * @returns `width * height * 3` bytes: the low, middle and high byte of the number as R, G and B.
 */
export function labelRaster(survey: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>): Uint8Array {
  const { field, regions } = survey;
  const out = new Uint8Array(field.length * 3);
  for (let i = 0, j = 0; i < field.length; i++, j += 3) {
    const cell = field[i]!;
    if (cell < 0) continue;
    const id = regions.ofCell[cell]! + 1;
    out[j] = id & 255;
    out[j + 1] = (id >>> 8) & 255;
    out[j + 2] = id >>> 16;
  }
  return out;
}
