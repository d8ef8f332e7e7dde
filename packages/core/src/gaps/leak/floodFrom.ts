import type { Survey } from '../../model/Survey.ts';
import type { InkGrid } from '../../skeleton/InkGrid.ts';

/** Where colour gets to from one place, on the grid the distances are measured on. */
export interface Flood {
  /** Steps from the place, one a px of the grid, capped at 65,534; {@link UNREACHED} where colour does not get. */
  readonly steps: Uint16Array;
  readonly width: number;
  readonly height: number;
  /** Page px per px of the grid. */
  readonly factor: number;
  readonly mostSteps: number;
  /** Area of what is reached, in page px. */
  readonly areaPx: number;
}

export const UNREACHED = 65_535;

/**
 * The leak test: lets colour spread from a place through everything that is open to it, as regions are
 * divided now.
 *
 * @param paper grid of the paper at `factor` page px per px.
 * @returns null on ink. Cost: the px of the grid that are reached.
 */
export function floodFrom(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
  paper: Pick<InkGrid, 'width' | 'height'>,
  factor: number,
  at: readonly [number, number],
): Flood | null {
  const { width, height, field, regions } = survey;
  const cell = field[at[1] * width + at[0]]!;
  if (cell < 0) return null;
  const region = regions.ofCell[cell]!;
  const inRegion = (x: number, y: number): boolean => {
    const px = Math.min(width - 1, x * factor + (factor >> 1));
    const py = Math.min(height - 1, y * factor + (factor >> 1));
    const one = field[py * width + px]!;
    return one >= 0 && regions.ofCell[one] === region;
  };
  const steps = new Uint16Array(paper.width * paper.height).fill(UNREACHED);
  const start =
    Math.min(paper.height - 1, Math.floor(at[1] / factor)) * paper.width +
    Math.min(paper.width - 1, Math.floor(at[0] / factor));
  let front = [start];
  let mostSteps = 0;
  steps[start] = 0;
  for (let step = 1; front.length > 0; step++) {
    const next: number[] = [];
    for (const one of front) {
      const x = one % paper.width;
      const y = (one - x) / paper.width;
      for (let dy = -1; dy <= 1; dy++) {
        for (let dx = -1; dx <= 1; dx++) {
          const [px, py] = [x + dx, y + dy];
          if (px < 0 || py < 0 || px >= paper.width || py >= paper.height) continue;
          const there = py * paper.width + px;
          if (steps[there] !== UNREACHED || !inRegion(px, py)) continue;
          steps[there] = Math.min(step, UNREACHED - 1);
          next.push(there);
        }
      }
    }
    if (next.length > 0) mostSteps = step;
    front = next;
  }
  return { steps, width: paper.width, height: paper.height, factor, mostSteps, areaPx: regions.areaPx[region]! };
}
