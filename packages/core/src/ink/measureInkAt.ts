import { depth2At } from '../raster/depth2At.ts';
import type { Survey } from '../model/Survey.ts';

/**
 * The width of the line at an ink pixel, in px: uphill from there to the middle of the line, twice
 * the distance to paper, less one. Null on paper.
 */
export function lineWidthAt(survey: Pick<Survey, 'width' | 'height' | 'field'>, x: number, y: number): number | null {
  const { width, height } = survey;
  if (x < 0 || y < 0 || x >= width || y >= height) return null;
  let px = x;
  let py = y;
  let reach2 = paperDistance2(survey, px, py);
  if (reach2 === 0 || reach2 === Infinity) return null;
  for (let climbed = true; climbed;) {
    climbed = false;
    for (const [dx, dy] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ] as const) {
      if (px + dx < 0 || py + dy < 0 || px + dx >= width || py + dy >= height) continue;
      const next = paperDistance2(survey, px + dx, py + dy);
      if (next > reach2) {
        reach2 = next;
        px += dx;
        py += dy;
        climbed = true;
        break;
      }
    }
  }
  return 2 * Math.sqrt(reach2) - 1;
}

/** Squared distance in px² from a pixel to the nearest paper pixel; 0 on paper, Infinity where there is none. */
export function paperDistance2(survey: Pick<Survey, 'width' | 'field'>, x: number, y: number): number {
  return depth2At(survey.field, survey.width, y * survey.width + x);
}
