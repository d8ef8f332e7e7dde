import type { InkGrid } from './InkGrid.ts';
import type { Stroke } from './traceStrokes.ts';

/** Strokes that stand side by side: hatching, feathering, grain. */
export interface Texture {
  /** 1 for each loose end whose stroke belongs to it. */
  readonly inTexture: Uint8Array;
  /** On the grid's ink pixels that belong to it how wide the stroke is there, in px of the grid; else 0. */
  readonly mask: Uint8Array;
}

/** Rays across a stroke stand this many line widths apart. */
const RAY_EVERY = 1.5;
/** Neighbours run the same way: cosine of their directions. */
const SAME_WAY = 0.9;
/** So much of a stroke must have a neighbour beside it. */
const LEAST_OVERLAP = 0.3;
/** Neighbours are at most so many times longer. */
const MOST_RATIO = 4;
/** Neighbours stand at most this far apart, as a share of the shorter one ... */
const MOST_SPACING = 0.9;
/** ... and in line widths. */
const MOST_SPACING_WIDTHS = 8;
/** So many side by side make a family. */
const LEAST_FAMILY = 3;
/** Longer than so many line widths, a stroke may be an outline that runs beside others: more of them have to agree. */
const LONG_WIDTHS = 15;
const LEAST_LONG_FAMILY = 6;

/**
 * Finds families of parallel strokes among those with a loose end. A ray from each stroke to both
 * sides meets its neighbours; three in a row make a family.
 *
 * @param strokesOfEnds the stroke behind each loose end.
 */
export function findTexture(grid: InkGrid, strokesOfEnds: readonly Stroke[], lineWidth: number): Texture {
  // A stroke with two loose ends comes once from each: it is one stroke.
  const numbers = new Map<string, number>();
  const strokes: Stroke[] = [];
  const strokeOfEnd = strokesOfEnds.map((stroke) => {
    const last = stroke.x.length - 1;
    const tips = [`${stroke.x[0]},${stroke.y[0]}`, `${stroke.x[last]},${stroke.y[last]}`].sort().join(' ');
    let number = numbers.get(tips);
    if (number === undefined) {
      numbers.set(tips, (number = strokes.length));
      strokes.push(stroke);
    }
    return number;
  });
  const { width, height } = grid;
  const owner = new Int32Array(width * height);
  strokes.forEach((stroke, k) => paintStroke(owner, grid, stroke, k + 1));
  const links: Map<number, number>[] = strokes.map(() => new Map());
  const rays: number[] = strokes.map(() => 0);
  strokes.forEach((stroke, k) => {
    const { x, y, radius, length } = stroke;
    const every = Math.max(2, Math.round(RAY_EVERY * lineWidth));
    const reach = Math.min(MOST_SPACING * length, MOST_SPACING_WIDTHS * lineWidth);
    for (let p = Math.floor(every / 2); p < x.length; p += every) {
      const [dx, dy] = directionAt(stroke, p);
      rays[k]!++;
      for (const side of [1, -1]) {
        const beside = (other: number, distance: number, px: number, py: number): boolean => {
          const that = strokes[other]!;
          if (that.length > MOST_RATIO * length || length > MOST_RATIO * that.length) return false;
          if (distance > MOST_SPACING * Math.min(length, that.length)) return false;
          const [ox, oy] = directionNear(that, px, py);
          return Math.abs(dx * ox + dy * oy) >= SAME_WAY;
        };
        const ray = { x: x[p]!, y: y[p]!, dx: -dy * side, dy: dx * side, from: Math.ceil(radius[p]! + 1.5), to: reach };
        const met = meet(owner, width, height, ray, k + 1, beside);
        if (met >= 0) links[k]!.set(met, (links[k]!.get(met) ?? 0) + 1);
      }
    }
  });

  const parent = strokes.map((_, k) => k);
  const find = (k: number): number => {
    let node = k;
    while (parent[node] !== node) node = parent[node]!;
    return node;
  };
  links.forEach((neighbours, k) => {
    for (const [other, met] of neighbours) {
      if (met < LEAST_OVERLAP * rays[k]!) continue;
      const [a, b] = [find(k), find(other)];
      if (a !== b) parent[Math.max(a, b)] = Math.min(a, b);
    }
  });
  const size = new Int32Array(strokes.length);
  strokes.forEach((_, k) => size[find(k)]!++);
  const inTexture = Uint8Array.from(strokes, (_, k) =>
    size[find(k)]! >= (strokes[k]!.length > LONG_WIDTHS * lineWidth ? LEAST_LONG_FAMILY : LEAST_FAMILY) ? 1 : 0,
  );
  const mask = new Uint8Array(width * height);
  strokes.forEach((stroke, k) => {
    if (inTexture[k] === 1) paintStroke(mask, grid, stroke, Math.min(254, Math.ceil(2 * (stroke.radius[0] ?? 0))));
  });
  return { inTexture: Uint8Array.from(strokeOfEnd, (number) => inTexture[number]!), mask };
}

/** Marks a stroke's ink: a disc of its half width around every point of its middle line. */
function paintStroke(raster: Int32Array | Uint8Array, grid: InkGrid, stroke: Stroke, value: number): void {
  const { width, height, ink } = grid;
  for (let p = 0; p < stroke.x.length; p++) {
    // Where it crosses another the ink is the other's as well.
    if (stroke.radius[p] === 0) continue;
    const r = Math.ceil(stroke.radius[p]! + 1);
    const [cx, cy] = [stroke.x[p]!, stroke.y[p]!];
    for (let y = Math.max(0, cy - r); y <= Math.min(height - 1, cy + r); y++) {
      for (let x = Math.max(0, cx - r); x <= Math.min(width - 1, cx + r); x++) {
        if ((x - cx) * (x - cx) + (y - cy) * (y - cy) > r * r) continue;
        const at = y * width + x;
        if (ink[at]! >= 128) raster[at] = value;
      }
    }
  }
}

function directionAt({ x, y }: Stroke, p: number): [number, number] {
  const from = Math.max(0, p - 4);
  const to = Math.min(x.length - 1, p + 4);
  const [dx, dy] = [x[to]! - x[from]!, y[to]! - y[from]!];
  const norm = Math.sqrt(dx * dx + dy * dy) || 1;
  return [dx / norm, dy / norm];
}

function directionNear(stroke: Stroke, x: number, y: number): [number, number] {
  let best = Infinity;
  let near = 0;
  for (let p = 0; p < stroke.x.length; p += 2) {
    const d = (stroke.x[p]! - x) * (stroke.x[p]! - x) + (stroke.y[p]! - y) * (stroke.y[p]! - y);
    if (d < best) {
      best = d;
      near = p;
    }
  }
  return directionAt(stroke, near);
}

interface Ray {
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
  /** Where it begins and ends, in px. */
  readonly from: number;
  readonly to: number;
}

/** The first other stroke on a ray that runs beside; those that cross do not stand in its way. -1 for none. */
function meet(
  owner: Int32Array,
  width: number,
  height: number,
  ray: Ray,
  own: number,
  beside: (stroke: number, distance: number, x: number, y: number) => boolean,
): number {
  let last = own;
  for (let t = ray.from; t <= ray.to; t++) {
    const px = Math.round(ray.x + ray.dx * t);
    const py = Math.round(ray.y + ray.dy * t);
    if (px < 0 || py < 0 || px >= width || py >= height) return -1;
    const stroke = owner[py * width + px]!;
    if (stroke === 0 || stroke === own || stroke === last) continue;
    last = stroke;
    if (beside(stroke - 1, t, px, py)) return stroke - 1;
  }
  return -1;
}
