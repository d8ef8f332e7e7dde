import type { Survey } from '../model/Survey.ts';

/** The page at half size, quarter size and so on: ink averaged, cells sampled. */
export interface PyramidLevel {
  readonly width: number;
  readonly height: number;
  readonly inkAlpha: Uint8Array;
  /** Like the survey's field: a cell, or `~index` of a paper pixel of the full-size page. */
  readonly field: Int32Array;
}

/** Level 0 is the survey itself; each further level halves it, down to about `smallestPx`. */
export function buildPyramid(
  survey: Pick<Survey, 'width' | 'height' | 'inkAlpha' | 'field'>,
  allocate: (bytes: number) => ArrayBufferLike = (bytes) => new ArrayBuffer(bytes),
  smallestPx = 200,
): PyramidLevel[] {
  const levels: PyramidLevel[] = [survey];
  for (;;) {
    const from = levels.at(-1)!;
    if (Math.max(from.width, from.height) < smallestPx * 2) return levels;
    const width = (from.width + 1) >> 1;
    const height = (from.height + 1) >> 1;
    const level: PyramidLevel = {
      width,
      height,
      inkAlpha: new Uint8Array(allocate(width * height)),
      field: new Int32Array(allocate(width * height * 4)),
    };
    for (let y = 0; y < height; y++) halveRow(from, level, y);
    levels.push(level);
  }
}

/**
 * Samples the cells of all levels anew, in place, after those of the first one changed.
 *
 * @param box `[x0, y0, x1, y1]` of what changed, in px of the first level, the last two exclusive. @default all
 */
export function refreshPyramid(
  levels: readonly PyramidLevel[],
  box: readonly [number, number, number, number] = [0, 0, levels[0]!.width, levels[0]!.height],
): void {
  let [left, top, right, bottom] = box;
  for (let k = 1; k < levels.length; k++) {
    [left, top, right, bottom] = [left >> 1, top >> 1, (right + 1) >> 1, (bottom + 1) >> 1];
    for (let y = top; y < bottom; y++) sampleCells(levels[k - 1]!, levels[k]!, y, left, right);
  }
}

function halveRow(from: PyramidLevel, to: PyramidLevel, y: number): void {
  const { width, inkAlpha: ink } = from;
  const top = 2 * y * width;
  const bottom = Math.min(2 * y + 1, from.height - 1) * width;
  const out = y * to.width;
  for (let x = 0; x < to.width; x++) {
    const left = 2 * x;
    const right = left + 1 < width ? left + 1 : left;
    to.inkAlpha[out + x] = (ink[top + left]! + ink[top + right]! + ink[bottom + left]! + ink[bottom + right]! + 2) >> 2;
  }
  sampleCells(from, to, y, 0, to.width);
}

function sampleCells(
  { width, height, field }: PyramidLevel,
  to: PyramidLevel,
  y: number,
  from: number,
  end: number,
): void {
  const top = 2 * y * width;
  const bottom = Math.min(2 * y + 1, height - 1) * width;
  const out = y * to.width;
  for (let x = from; x < end; x++) {
    const left = 2 * x;
    const right = left + 1 < width ? left + 1 : left;
    // Paper speaks before ink: under ink the colour does not show.
    let value = field[top + left]!;
    if (value < 0) value = field[top + right]! >= 0 ? field[top + right]! : value;
    if (value < 0) value = field[bottom + left]! >= 0 ? field[bottom + left]! : value;
    if (value < 0) value = field[bottom + right]! >= 0 ? field[bottom + right]! : value;
    to.field[out + x] = value;
  }
}
