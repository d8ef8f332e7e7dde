import type { CheckedPage } from './checkFlats.ts';
import type { Finding } from '../model/Finding.ts';
import type { CheckedFlats } from './FlatsColours.ts';

/** Flats are looked for so far from where they lie, in px. */
const REACH_PX = 12;
/** So many places where two colours meet are looked at. */
const SAMPLES = 6000;
/** Ink counts by how deep it is, up to this many px. */
const DEEPEST_PX = 8;
/** So much better the borders must lie under the lines where they are shifted to, against here and the opposite side. */
const BETTER = 1.25;
const LEAST_SAMPLES = 200;

/**
 * Finds out whether flats and ink are shifted against each other: borders of two colours lie deep under the lines, unless they
 * are. Where colour stops short of the lines both edges of a line speak against each other, and nothing is said.
 */
export function findShift(page: CheckedPage, { data }: CheckedFlats): Finding | null {
  const { width, height } = page;
  const borders = bordersIn(data, width, height);
  if (borders.length < LEAST_SAMPLES) return null;
  const side = 2 * REACH_PX + 1;
  const scores = new Float64Array(side * side);
  for (let dy = -REACH_PX; dy <= REACH_PX; dy++) {
    for (let dx = -REACH_PX; dx <= REACH_PX; dx++) {
      let sum = 0;
      for (const at of borders) {
        const [x, y] = [(at % width) + dx, Math.floor(at / width) + dy];
        if (x >= 0 && y >= 0 && x < width && y < height) sum += depthAt(page, x, y);
      }
      scores[(dy + REACH_PX) * side + dx + REACH_PX] = sum;
    }
  }
  const best = scores.indexOf(Math.max(...scores));
  const here = scores[(side * side - 1) / 2]!;
  const opposite = scores[side * side - 1 - best]!;
  const [dx, dy] = [(best % side) - REACH_PX, Math.floor(best / side) - REACH_PX];
  if ((dx === 0 && dy === 0) || scores[best]! < BETTER * Math.max(here, opposite)) return null;
  const words = [
    dx === 0 ? '' : `${Math.abs(dx)} px to the ${dx > 0 ? 'right' : 'left'}`,
    dy === 0 ? '' : `${Math.abs(dy)} px ${dy > 0 ? 'down' : 'up'}`,
  ];
  return {
    kind: 'register',
    x: 0,
    y: 0,
    width,
    height,
    areaPx: width * height,
    at: [0, 0],
    message: `the flats lie beside the ink: move them ${words.filter(Boolean).join(' and ')}`,
    rgb: -1,
    expectedRgb: -1,
  };
}

/** Pixels where two colours meet, spread over the page. */
function bordersIn(data: Uint16Array, width: number, height: number): Int32Array {
  let count = 0;
  const isBorder = (at: number): boolean => data[at] !== data[at + 1] || data[at] !== data[at + width];
  const rows = height - 1;
  const step = Math.max(1, Math.floor(rows / 800));
  const found: number[] = [];
  for (let y = 0; y < rows; y += step) {
    for (let x = 0, at = y * width; x + 1 < width; x++, at++) if (isBorder(at)) found.push(at);
  }
  const every = Math.max(1, Math.floor(found.length / SAMPLES));
  const borders = new Int32Array(Math.ceil(found.length / every));
  for (let k = 0; k < found.length; k += every) borders[count++] = found[k]!;
  return borders;
}

/** How deep in the ink a pixel lies, in px; 0 on paper. */
function depthAt({ field, width }: CheckedPage, x: number, y: number): number {
  const value = field[y * width + x]!;
  if (value >= 0) return 0;
  const paper = ~value;
  if (paper >= field.length) return DEEPEST_PX;
  const [dx, dy] = [x - (paper % width), y - Math.floor(paper / width)];
  return Math.min(DEEPEST_PX, Math.sqrt(dx * dx + dy * dy));
}
