import type { Drawing } from '../Drawing.ts';
import { between, curve, line, makeRandom, type Point } from '../geometry.ts';

export interface TunnelOptions {
  /** Where all lines run to. */
  readonly eye: Point;
  /** Half width and height of the opening nearest to us. */
  readonly reach: readonly [number, number];
  readonly rings: number;
  readonly seed: number;
}

/** The tunnel: arches of root one behind the other, the depth black, rails running into it. */
export function tunnel(d: Drawing, { eye, reach, rings, seed }: TunnelOptions): void {
  const random = makeRandom(seed);
  const arch = (scale: number, rough: number, turn: number): Point[] => {
    const points: Point[] = [];
    for (let k = 0; k <= 14; k++) {
      const a = Math.PI * (1.16 - (1.32 * k) / 14) * -1;
      const r = 1 + rough * Math.sin(k * 1.9 + turn);
      points.push([eye[0] + Math.cos(a) * reach[0] * scale * r, eye[1] + Math.sin(a) * reach[1] * scale * r]);
    }
    return points;
  };
  const far = d.pen;
  for (let k = 0; k < rings; k++) {
    const outer = 1.5 * 0.66 ** k;
    const inner = outer * 0.78;
    d.pen = Math.max(3.2, far * (1 - 0.1 * k));
    const part = k < 2 ? 'root' : 'root-far';
    const outside = curve(arch(outer, 0.03, seed + k), false, 9);
    const inside = curve(arch(inner, 0.05, seed + 2 * k), false, 9);
    d.shape(part, [...outside, ...inside.slice().reverse()], { width: d.pen * 1.15 });
    // Strands within the arch, and light hatching towards the inside.
    for (let j = 1; j < 3; j++) {
      const strand = curve(arch(outer - ((outer - inner) * j) / 3.6, 0.035, seed + k), false, 9);
      const from = Math.floor(random() * strand.length * 0.25);
      d.stroke(strand.slice(from, strand.length - Math.floor(random() * strand.length * 0.25)), { width: d.pen * 0.7, taper: [0.25, 0.3] });
    }
    for (let j = 3; j < inside.length - 3; j += 3) {
      d.stroke([inside[j]!, between(inside[j]!, outside[Math.min(outside.length - 1, Math.round((j / inside.length) * outside.length))]!, 0.12 + 0.12 * random())], { width: d.pen * 0.5, taper: [0, 0.8], weight: 0 });
    }
    const hole = curve(arch(inner, 0.05, seed + 2 * k), false, 9);
    if (k < rings - 1) d.shape(k % 2 === 0 ? 'earth' : 'depth', hole, { width: d.pen * 0.9 });
    else d.black(hole, 'depth');
    if (k < rings - 1) {
      // Spotted black under the crown of the next arch.
      const crown = hole.slice(Math.floor(hole.length * 0.22), Math.floor(hole.length * 0.78));
      const dip = crown.map((p, j): Point => between(p, eye, (0.03 + 0.13 * (0.6 + 0.4 * Math.sin(j * 0.23 + k * 2))) * Math.sin((j / (crown.length - 1)) * Math.PI)));
      d.black([...crown, ...dip.reverse()]);
    }
  }
  d.pen = far;
}

/** Track from the near edge to a point far off: bed, sleepers, two rails. */
export function track(d: Drawing, near: readonly [Point, Point], far: readonly [Point, Point], sleepers: number): void {
  d.shape('earth', line([near[0], near[1], far[1], far[0]], 10, true), { width: d.pen });
  for (let k = sleepers; k >= 0; k--) {
    // Perspective: steps shrink towards the far end.
    const depth = (z: number): number => 1 - 1 / (1 + z * 0.55);
    const [t0, t1] = [depth(k), depth(k + 0.5)];
    const [a, b] = [between(near[0], far[0], t0), between(near[1], far[1], t0)];
    const [c, e] = [between(near[1], far[1], t1), between(near[0], far[0], t1)];
    d.shape('wood', line([between(a, b, 0.04), between(a, b, 0.96), between(e, c, 0.96), between(e, c, 0.04)], 8, true), { width: d.pen * 0.8 });
    if (k < 4) d.stroke(line([between(between(a, b, 0.1), between(e, c, 0.1), 0.5), between(between(a, b, 0.4), between(e, c, 0.4), 0.5)], 6), { width: d.pen * 0.45, taper: [0.3, 0.6] });
  }
  for (const [u, v] of [[0.2, 0.25], [0.75, 0.8]] as const) {
    d.shape('rail', line([between(near[0], near[1], u), between(near[0], near[1], v), between(far[0], far[1], v), between(far[0], far[1], u)], 10, true), { width: d.pen * 0.85 });
  }
}

/** A wall of fitted stones over a rectangle. */
export function stoneWall(d: Drawing, x: number, y: number, width: number, height: number, rows: number, seed: number): void {
  const random = makeRandom(seed);
  const high = height / rows;
  for (let r = 0; r < rows; r++) {
    let px = x - random() * high;
    while (px < x + width) {
      const wide = high * (1.5 + random() * 1.6);
      // Stones overlap a little: each draws the joint over the one before.
      const inset = -3;
      const j = (): number => (random() - 0.5) * high * 0.03;
      const stone: Point[] = [[px + inset + j(), y + r * high + inset + j()], [px + wide - inset + j(), y + r * high + inset + j()], [px + wide - inset + j(), y + (r + 1) * high - inset + j()], [px + inset + j(), y + (r + 1) * high - inset + j()]];
      d.shape(random() < 0.3 ? 'stone-dark' : 'stone', line(stone, 7, true), { width: d.pen * 0.8 });
      if (random() < 0.22) d.hatch([stone[3]!, stone[2]!], [between(stone[3]!, stone[0]!, 0.5), between(stone[2]!, stone[1]!, 0.5)], Math.round(wide / 14), d.pen * 0.45, Math.round(seed + px));
      else if (random() < 0.3) d.stipple([px + wide / 2, y + (r + 0.5) * high], wide * 0.3, high * 0.25, 9, Math.round(seed + px));
      px += wide;
    }
  }
}

/** Paving in perspective, from the near edge to a horizon. */
export function paving(d: Drawing, near: readonly [Point, Point], far: readonly [Point, Point], rows: number, columns: number): void {
  for (let r = rows - 1; r >= 0; r--) {
    const depth = (z: number): number => 1 - 1 / (1 + z * 0.5);
    const full = depth(rows);
    const [t0, t1] = [depth(r) / full, depth(r + 1) / full];
    for (let c = 0; c < columns; c++) {
      const [u0, u1] = [c / columns, (c + 1) / columns];
      const at = (u: number, t: number): Point => between(between(near[0], near[1], u), between(far[0], far[1], u), t);
      d.shape((r + c) % 2 === 0 ? 'stone' : 'stone-dark', line([at(u0, t0), at(u1, t0), at(u1, t1), at(u0, t1)], 10, true), { width: d.pen * 0.8 });
    }
  }
}
