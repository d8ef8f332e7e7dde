/** A point on the page, in px at 300 dpi. */
export type Point = readonly [number, number];

/** Numbers that look random and are the same every time (mulberry32). */
export function makeRandom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A smooth curve through points (Catmull-Rom), as a dense polyline. */
export function curve(points: readonly Point[], closed = false, stepPx = 5): Point[] {
  const n = points.length;
  if (n < 3) return line(points, stepPx);
  const out: Point[] = [];
  const at = (k: number): Point => (closed ? points[(k + n) % n]! : points[Math.min(n - 1, Math.max(0, k))]!);
  for (let k = 0; k < (closed ? n : n - 1); k++) {
    const [p0, p1, p2, p3] = [at(k - 1), at(k), at(k + 1), at(k + 2)];
    const steps = Math.max(2, Math.ceil(Math.hypot(p2[0] - p1[0], p2[1] - p1[1]) / stepPx));
    for (let s = 0; s < steps; s++) {
      const t = s / steps;
      const mix = (a: number, b: number, c: number, d: number): number =>
        0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t * t + (3 * b - a - 3 * c + d) * t * t * t);
      out.push([mix(p0[0], p1[0], p2[0], p3[0]), mix(p0[1], p1[1], p2[1], p3[1])]);
    }
  }
  if (!closed) out.push(points[n - 1]!);
  return out;
}

/** Straight pieces between points, as a dense polyline. */
export function line(points: readonly Point[], stepPx = 8, closed = false): Point[] {
  const out: Point[] = [];
  const n = points.length;
  for (let k = 0; k < (closed ? n : n - 1); k++) {
    const [a, b] = [points[k]!, points[(k + 1) % n]!];
    const steps = Math.max(1, Math.ceil(Math.hypot(b[0] - a[0], b[1] - a[1]) / stepPx));
    for (let s = 0; s < steps; s++) out.push([a[0] + ((b[0] - a[0]) * s) / steps, a[1] + ((b[1] - a[1]) * s) / steps]);
  }
  if (!closed) out.push(points[n - 1]!);
  return out;
}

export function ellipse(cx: number, cy: number, rx: number, ry: number, turn = 0): Point[] {
  const count = Math.max(14, Math.ceil((rx + ry) / 2.5));
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  return Array.from({ length: count }, (_, k): Point => {
    const a = (k / count) * 2 * Math.PI;
    const [x, y] = [rx * Math.cos(a), ry * Math.sin(a)];
    return [cx + x * c - y * s, cy + x * s + y * c];
  });
}

export function rectangle(x: number, y: number, width: number, height: number): Point[] {
  return [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ];
}

/** Moves, turns, scales and mirrors points drawn around the origin. */
export interface Frame {
  readonly x: number;
  readonly y: number;
  readonly scale: number;
  readonly turn?: number;
  readonly mirror?: boolean;
}

export function place(frame: Frame, points: readonly Point[]): Point[] {
  const [c, s] = [Math.cos(frame.turn ?? 0), Math.sin(frame.turn ?? 0)];
  return points.map(([px, py]) => {
    const x = (frame.mirror === true ? -px : px) * frame.scale;
    const y = py * frame.scale;
    return [frame.x + x * c - y * s, frame.y + x * s + y * c];
  });
}

/** A place between two points. */
export function between(a: Point, b: Point, t: number): Point {
  return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t];
}

/** SVG path data of a polyline. */
export function pathData(points: readonly Point[], closed: boolean): string {
  return `M${points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}${closed ? 'Z' : ''}`;
}
