import { formatColour } from '../colour/hex.ts';
import type { Finding } from '../model/Finding.ts';
import { HALF, type CheckedFlats } from './FlatsColours.ts';

/**
 * Colours that take more ink than may be printed, one finding each.
 *
 * @param inkPercent all four inks together for each of the flats' colours, in percent.
 */
export function findInkLimit(
  { width, data, rgb }: CheckedFlats,
  inkPercent: readonly number[],
  most: number,
): Finding[] {
  const boxes = new Map<number, { x0: number; y0: number; x1: number; y1: number; areaPx: number; first: number }>();
  const isOver = inkPercent.map((sum) => sum > most);
  data.forEach((value, at) => {
    if (value === 0 || value === HALF || isOver[value - 1] !== true) return;
    const [x, y] = [at % width, Math.floor(at / width)];
    const box = boxes.get(value);
    if (box === undefined) boxes.set(value, { x0: x, y0: y, x1: x + 1, y1: y + 1, areaPx: 1, first: at });
    else {
      box.x0 = Math.min(box.x0, x);
      box.x1 = Math.max(box.x1, x + 1);
      box.y1 = y + 1;
      box.areaPx++;
    }
  });
  return [...boxes].map(([value, { x0, y0, x1, y1, areaPx, first }]) => ({
    kind: 'ink-limit',
    ...{ x: x0, y: y0, width: x1 - x0, height: y1 - y0, areaPx },
    at: [first % width, Math.floor(first / width)],
    message: `${formatColour(rgb[value - 1]!)} takes ${Math.round(inkPercent[value - 1]!)} % ink; at most ${most} % are asked for`,
    rgb: rgb[value - 1]!,
    expectedRgb: -1,
  }));
}
