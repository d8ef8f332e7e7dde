import type { Drawing } from '../Drawing.ts';
import { curve, ellipse, makeRandom, type Point } from '../geometry.ts';

/** A fern frond from its foot along a bent stem, with leaves that close. */
export function fern(d: Drawing, foot: Point, tip: Point, bend: number, leaves: number, seed: number): void {
  const random = makeRandom(seed);
  const middle: Point = [(foot[0] + tip[0]) / 2 + bend, (foot[1] + tip[1]) / 2 - Math.abs(bend) * 0.3];
  const stem = curve([foot, middle, tip], false, 6);
  const size = Math.hypot(tip[0] - foot[0], tip[1] - foot[1]);
  for (let k = leaves - 1; k >= 0; k--) {
    const at = Math.floor(((k + 1) / (leaves + 1)) * (stem.length - 1));
    const [x, y] = stem[at]!;
    const ahead = stem[Math.min(stem.length - 1, at + 3)]!;
    const direction = Math.atan2(ahead[1] - y, ahead[0] - x);
    const reach = size * 0.24 * Math.sin((0.25 + (0.75 * (k + 1)) / (leaves + 1)) * Math.PI) + size * 0.05;
    for (const side of [-1, 1]) {
      const a = direction + side * (0.95 + random() * 0.2);
      const end: Point = [x + Math.cos(a) * reach, y + Math.sin(a) * reach];
      const wide = reach * 0.2;
      const [nx, ny] = [-Math.sin(a) * wide, Math.cos(a) * wide];
      d.shape('fern', curve([[x, y], [x + (end[0] - x) * 0.45 + nx, y + (end[1] - y) * 0.45 + ny], end, [x + (end[0] - x) * 0.45 - nx, y + (end[1] - y) * 0.45 - ny]], true, 4), { width: d.pen * 0.75 });
      d.stroke([0.34, 0.55, 0.74].map((t): Point => [x + (end[0] - x) * t, y + (end[1] - y) * t]), { width: d.pen * 0.4, taper: [0.2, 0.6] });
    }
  }
  d.stroke(stem, { width: d.pen * 1.1, taper: [0, 0.5] });
}

/** A mushroom standing on its foot. */
export function mushroom(d: Drawing, x: number, y: number, size: number, seed: number): void {
  const random = makeRandom(seed);
  const w = d.pen;
  d.shape('stalk', curve([[x - size * 0.14, y - size * 0.7], [x + size * 0.14, y - size * 0.7], [x + size * 0.17, y], [x - size * 0.18, y + 2]], true, 4), { width: w * 0.9 });
  d.hatch([[x + size * 0.13, y - size * 0.62], [x + size * 0.15, y - size * 0.08]], [[x, y - size * 0.6], [x + size * 0.02, y - size * 0.1]], 6, w * 0.45, seed);
  d.shape('stalk', curve([[x - size * 0.5, y - size * 0.66], [x, y - size * 0.56], [x + size * 0.5, y - size * 0.66], [x, y - size * 0.76]], true, 4), { width: w * 0.7 });
  for (let k = -3; k <= 3; k++) d.stroke([[x + k * size * 0.05, y - size * 0.72], [x + k * size * 0.09, y - size * 0.65], [x + k * size * 0.12, y - size * 0.61]], { width: w * 0.4, taper: [0, 0.5] });
  d.shape('mushroom', curve([[x - size * 0.54, y - size * 0.64], [x - size * 0.42, y - size * 1.02], [x, y - size * 1.22], [x + size * 0.42, y - size * 1.02], [x + size * 0.54, y - size * 0.64], [x, y - size * 0.74]], true, 4), { width: w * 1.1 });
  for (let k = 0; k < 5; k++) {
    const a = -2.5 + k * 0.5;
    const r = size * (0.22 + 0.1 * (k % 2));
    d.shape('mushroom-dot', ellipse(x + Math.cos(a) * r * 1.4, y - size * 0.86 + Math.sin(a) * r * 0.75, size * (0.05 + random() * 0.03), size * (0.04 + random() * 0.02)), { width: w * 0.6 });
  }
}

/** A root as a tube along points, thick at its beginning, with bark. */
export function root(d: Drawing, part: string, points: readonly Point[], thick: readonly [number, number], seed: number, gap?: { at: number; widthPx: number }): void {
  const spine = curve(points, false, 12);
  const random = makeRandom(seed);
  const left: Point[] = [];
  const right: Point[] = [];
  spine.forEach(([x, y], k) => {
    const [a, b] = [spine[Math.max(0, k - 1)]!, spine[Math.min(spine.length - 1, k + 1)]!];
    const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
    const t = k / (spine.length - 1);
    const half = (thick[0] + (thick[1] - thick[0]) * t) / 2 + Math.sin(k * 0.9 + seed) * thick[0] * 0.03;
    left.push([x - ((b[1] - a[1]) / length) * half, y + ((b[0] - a[0]) / length) * half]);
    right.push([x + ((b[1] - a[1]) / length) * half, y - ((b[0] - a[0]) / length) * half]);
  });
  d.shape(part, [...left, ...right.slice().reverse()], { width: d.pen * 1.1, ...(gap === undefined ? {} : { gap }) });
  // Bark: strokes along the tube, and a shadow on the side away from the light.
  const mix = (p: Point, q: Point, t: number): Point => [p[0] + (q[0] - p[0]) * t, p[1] + (q[1] - p[1]) * t];
  for (let k = 0; k < spine.length / 10; k++) {
    const from = Math.floor(random() * (spine.length - 6));
    // Each stroke keeps to a lane of its own, clear of the shaded edge.
    const across = 0.3 + 0.6 * ((k * 0.618) % 1);
    const span = 4 + Math.floor(random() * 10);
    const stroke = spine.slice(from, from + span).map((_, j) => mix(left[from + j]!, right[from + j]!, across));
    if (stroke.length > 2) d.stroke(stroke, { width: d.pen * 0.55, taper: [0.4, 0.5] });
  }
  for (let k = 2; k < spine.length - 2; k += 2) {
    const low = left[k]![1] > right[k]![1] ? left : right;
    const high = low === left ? right : left;
    d.stroke([mix(low[k]!, high[k]!, 0.02), mix(low[k]!, high[k]!, 0.1), mix(low[k + 1]!, high[k + 1]!, 0.17 + 0.08 * random())], { width: d.pen * 0.5, taper: [0, 0.7], weight: 0 });
  }
}
