import type { GreyRaster } from '@jumble/core';
import { balloon, curve, Drawing, ellipse, line, makeRandom, rectangle, type Point } from '@jumble/demo';
import sharp from 'sharp';

export type LayoutKind = 'grid' | 'slanted' | 'crossed' | 'bleed' | 'inset' | 'corner';
export const LAYOUT_KINDS: readonly LayoutKind[] = ['grid', 'slanted', 'crossed', 'bleed', 'inset', 'corner'];

/** A made-up page whose panels are known. */
export interface GeneratedLayout {
  readonly ink: GreyRaster;
  /** Corners of each panel in reading order, insets after the panel they stand in. */
  readonly panels: readonly (readonly Point[])[];
}

const WIDTH = 1240;
const HEIGHT = 1754;

/** The same seed gives the same page. */
export async function generateLayout(seed: number, kind: LayoutKind): Promise<GeneratedLayout> {
  const random = makeRandom(seed * 613 + LAYOUT_KINDS.indexOf(kind) * 41 + 7);
  const between = (a: number, b: number): number => a + (b - a) * random();
  const d = new Drawing(WIDTH, HEIGHT, () => 0);
  const margin = between(50, 110);
  // Between the middles of the frames: at least 1.5 mm stay blank on a page of 297 mm.
  const gutter = between(18, 40);
  const lean = kind === 'slanted' ? 0.12 : 0;
  const panels: Point[][] = [];
  const rows = Math.round(between(2, 4));
  const heights = shares(random, rows);
  let top = margin;
  let topLean = 0;
  heights.forEach((share, row) => {
    const last = row === rows - 1;
    const height = (HEIGHT - 2 * margin - (rows - 1) * gutter) * share;
    const bottom = top + height;
    const bottomLean = last ? 0 : (random() - 0.5) * 2 * lean;
    const columns = Math.round(between(1, 3));
    const widths = shares(random, columns);
    let left = margin;
    let leftLean = 0;
    widths.forEach((part, column) => {
      const lastColumn = column === columns - 1;
      const width = (WIDTH - 2 * margin - (columns - 1) * gutter) * part;
      const right = left + width;
      const rightLean = lastColumn ? 0 : (random() - 0.5) * 2 * lean;
      const corner = (x: number, xLean: number, y: number, yLean: number): Point => {
        const py = y + yLean * (x - WIDTH / 2);
        return [x + xLean * (py - (top + height / 2)), py];
      };
      const points: Point[] = [
        corner(left, leftLean, top, topLean),
        corner(right, rightLean, top, topLean),
        corner(right, rightLean, bottom, bottomLean),
        corner(left, leftLean, bottom, bottomLean),
      ];
      panels.push(kind === 'bleed' ? points.map((point) => outwards(point, margin)) : points);
      left = right + gutter;
      leftLean = rightLean;
    });
    top = bottom + gutter;
    topLean = bottomLean;
  });

  const truth: Point[][] = [];
  panels.forEach((points, k) => {
    // Many points on each side: a brush bends at corners it has to itself.
    d.panel(line(points, 8, true), 'part', () => scenery(d, random, points));
    truth.push(points.map(([x, y]): Point => [clamp(x, WIDTH), clamp(y, HEIGHT)]));
    const [x0, y0, x1, y1] = box(points);
    if (kind === 'inset' && k % 3 === 1) {
      const inset = rectangle(x0 + 0.08 * (x1 - x0), y0 + 0.1 * (y1 - y0), 0.4 * (x1 - x0), 0.42 * (y1 - y0));
      blankRing(d, inset, gutter * 0.8);
      d.panel(inset, 'part', () => scenery(d, random, inset));
      truth.push([...inset]);
    }
  });
  if (kind === 'corner') {
    const k = Math.floor(random() * panels.length);
    const [x0, y0, x1, y1] = box(panels[k]!);
    const [w, h] = [0.42 * (x1 - x0), 0.44 * (y1 - y0)];
    const small = rectangle(x1 - w, y1 - h, w, h);
    d.white([...rectangle(x1 - w - gutter, y1 - h - gutter, w + gutter + 30, h + gutter + 30)]);
    // The larger one keeps its own frame round the corner.
    d.stroke(
      [
        [x1, y1 - h - gutter],
        [x1 - w - gutter, y1 - h - gutter],
        [x1 - w - gutter, y1],
      ] as Point[],
      { width: 8, weight: 0, wobble: 0.02 },
    );
    d.panel(small, 'part', () => scenery(d, random, small));
    truth[k] = [
      [x0, y0],
      [x1, y0],
      [x1, y1 - h - gutter],
      [x1 - w - gutter, y1 - h - gutter],
      [x1 - w - gutter, y1],
      [x0, y1],
    ];
    truth.splice(k + 1, 0, [...small]);
  }
  if (kind === 'crossed') {
    for (let k = 0; k + 1 < panels.length; k++) {
      const [, , x1, y1] = box(panels[k]!);
      const [x0, y0] = box(panels[k]!);
      if (y1 < HEIGHT - margin - 10 && random() < 0.5)
        balloon(
          d,
          (x0 + x1) / 2,
          y1 + gutter / 2,
          between(60, 90),
          between(34, 50),
          [x0 + 40, y1 - 90],
          ['OVER THE', 'LINE'],
        );
      if (x1 < WIDTH - margin - 10 && random() < 0.4) {
        const r = between(40, 80);
        d.shape('part', ellipse(x1 + gutter / 2, y0 + 0.6 * (y1 - y0), r, r * 1.2), { width: 5 });
        d.stroke(
          curve([
            [x1 - 20, y0 + 0.55 * (y1 - y0)],
            [x1 + 10, y0 + 0.6 * (y1 - y0)],
            [x1 + 30, y0 + 0.55 * (y1 - y0)],
          ]),
          { width: 3 },
        );
      }
    }
  }
  return { ink: await render(d), panels: truth };
}

/** Shapes, strokes, hatching, blacks, and level lines as horizons have them. */
function scenery(d: Drawing, random: () => number, points: readonly Point[]): void {
  const [x0, y0, x1, y1] = box(points);
  const [w, h] = [x1 - x0, y1 - y0];
  const at = (fx: number, fy: number): Point => [x0 + fx * w, y0 + fy * h];
  d.pen = 4;
  if (random() < 0.6)
    d.stroke([at(-0.1, 0.4 + 0.2 * random()), at(0.5, 0.5), at(1.1, 0.4 + 0.2 * random())], { width: 4 });
  if (random() < 0.4)
    for (const f of [0.7, 0.74, 0.8]) d.stroke([at(-0.1, f), at(0.5, f), at(1.1, f)], { width: 3, weight: 0 });
  const count = 2 + Math.floor(random() * 5);
  for (let k = 0; k < count; k++) {
    const [cx, cy] = at(random(), random());
    const r = Math.min(w, h) * (0.08 + 0.22 * random());
    if (random() < 0.25) d.black(ellipse(cx, cy, r * 0.7, r));
    else d.shape('part', ellipse(cx, cy, r, r * (0.6 + 0.6 * random()), random() * 3), { width: 3 + 3 * random() });
    if (random() < 0.4)
      d.hatch(
        [
          [cx - r, cy - r],
          [cx + r, cy - r],
        ],
        [
          [cx - r * 0.7, cy + r],
          [cx + r * 0.7, cy + r],
        ],
        14,
        2.5,
        k + 3,
      );
  }
  if (random() < 0.4)
    for (const f of [0.3, 0.36]) d.stroke([at(f, -0.1), at(f, 0.5), at(f, 1.1)], { width: 4, weight: 0 });
}

function blankRing(d: Drawing, inset: readonly Point[], ring: number): void {
  const [x0, y0, x1, y1] = box(inset);
  d.white([...rectangle(x0 - ring, y0 - ring, x1 - x0 + 2 * ring, y1 - y0 + 2 * ring)]);
  d.stroke([...rectangle(x0 - ring, y0 - ring, x1 - x0 + 2 * ring, y1 - y0 + 2 * ring), [x0 - ring, y0 - ring]], {
    width: 4,
    weight: 0,
  });
}

function shares(random: () => number, count: number): number[] {
  const raw = Array.from({ length: count }, () => 0.7 + random() * 0.8);
  const sum = raw.reduce((a, b) => a + b, 0);
  return raw.map((one) => one / sum);
}

function outwards([x, y]: Point, margin: number): Point {
  return [
    x < margin + 20 ? -20 : x > WIDTH - margin - 20 ? WIDTH + 20 : x,
    y < margin + 20 ? -20 : y > HEIGHT - margin - 20 ? HEIGHT + 20 : y,
  ];
}

const clamp = (value: number, most: number): number => Math.min(most, Math.max(0, value));

function box(points: readonly Point[]): readonly [number, number, number, number] {
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

async function render(drawing: Drawing): Promise<GreyRaster> {
  const { data, info } = await sharp(Buffer.from(drawing.inkSvg(1)))
    .removeAlpha()
    .toColourspace('b-w')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
}
