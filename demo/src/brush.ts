import { makeRandom, pathData, type Point } from './geometry.ts';

export interface BrushOptions {
  /** Width in px at full pressure. */
  readonly width: number;
  /** Share of the stroke over which it swells from and thins to a point, at its start and end. @default [0, 0] */
  readonly taper?: readonly [number, number];
  /** How much heavier the side away from the light is, 0..1. @default 0.35 */
  readonly weight?: number;
  /** How unsteady the hand is, as a share of the width. @default 0.08 */
  readonly wobble?: number;
  /** How rough the edges are, as a share of the width. @default 0 */
  readonly ragged?: number;
  readonly seed?: number;
}

/** Light comes from the upper left: lines below and to the right are heavier. */
const LIGHT: Point = [0.55, 0.83];

/** A brush stroke along a dense polyline, as the outline of its ink. */
export function brushStroke(points: readonly Point[], options: BrushOptions): string {
  const { width, taper = [0, 0], weight = 0.35, wobble = 0.08, ragged = 0 } = options;
  const random = makeRandom(options.seed ?? Math.round(points[0]![0] * 31 + points[0]![1] * 17));
  const n = points.length;
  if (n < 2) return '';
  const lengths = [0];
  for (let k = 1; k < n; k++) {
    lengths.push(lengths[k - 1]! + Math.hypot(points[k]![0] - points[k - 1]![0], points[k]![1] - points[k - 1]![1]));
  }
  const total = lengths[n - 1]!;
  // A slow wave of pressure, as a wrist makes it.
  const waves = [random() * 6.28, random() * 6.28];
  const left: Point[] = [];
  const right: Point[] = [];
  for (let k = 0; k < n; k++) {
    const before = points[Math.max(0, k - 1)]!;
    const after = points[Math.min(n - 1, k + 1)]!;
    const length = Math.hypot(after[0] - before[0], after[1] - before[1]) || 1;
    const [nx, ny] = [-(after[1] - before[1]) / length, (after[0] - before[0]) / length];
    const t = total === 0 ? 0 : lengths[k]! / total;
    const side = Math.abs(nx * LIGHT[0] + ny * LIGHT[1]);
    const pressure =
      1 +
      weight * (side - 0.5) +
      wobble * (Math.sin(lengths[k]! / 47 + waves[0]!) + 0.6 * Math.sin(lengths[k]! / 19 + waves[1]!));
    const swell = taper[0] > 0 ? Math.min(1, t / taper[0]) : 1;
    const thin = taper[1] > 0 ? Math.min(1, (1 - t) / taper[1]) : 1;
    const half = Math.max(0.6, (width / 2) * pressure * Math.sqrt(swell) * Math.sqrt(thin));
    const [one, two] = ragged === 0 ? [half, half] : [half + rough(), half + rough()];
    left.push([points[k]![0] + nx * one, points[k]![1] + ny * one]);
    right.push([points[k]![0] - nx * two, points[k]![1] - ny * two]);
  }
  return pathData([...left, ...right.reverse()], true);

  /** Bristles at the edge of the stroke. */
  function rough(): number {
    return (random() - 0.5) * ragged * width;
  }
}

/** Share of a dry stroke from which on its bristles part, and how long the streaks between them are. */
const STREAKS_FROM = 0.35;
/** Shorter strokes, in widths, have ink enough. */
const DRY_LENGTH = 9;

/** The paper that shows between the bristles of a brush that runs dry, as thin shapes along the stroke. */
export function dryStreaks(points: readonly Point[], width: number, seed: number): string[] {
  const n = points.length;
  const length = points.reduce(
    (sum, [x, y], k) => (k === 0 ? 0 : sum + Math.hypot(x - points[k - 1]![0], y - points[k - 1]![1])),
    0,
  );
  if (length < DRY_LENGTH * width || n < 8) return [];
  const random = makeRandom(seed);
  return [-0.24, 0, 0.22].flatMap((across) => {
    const from = Math.floor((STREAKS_FROM + 0.4 * random()) * n);
    const to = Math.min(n - 2, from + Math.floor((0.12 + 0.3 * random()) * n));
    if (to - from < 3) return [];
    const middle = points.slice(from, to).map(([x, y], k): Point => {
      const [bx, by] = points[from + k + 1]!;
      const step = Math.hypot(bx - x, by - y) || 1;
      const side = (across + 0.06 * Math.sin(k * 0.7)) * width;
      return [x - ((by - y) / step) * side, y + ((bx - x) / step) * side];
    });
    return [brushStroke(middle, { width: Math.max(1.3, 0.13 * width), taper: [0.4, 0.4], weight: 0, seed })];
  });
}
