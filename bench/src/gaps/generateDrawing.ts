import type { GreyRaster } from '@jumble/core';
import { balloon, curve, Drawing, ellipse, letter, line, makeRandom, rectangle, type Point } from '@jumble/demo';
import sharp from 'sharp';
import { distanceTo, grazes, NEAR_PENS } from './grazes.ts';

export type Style =
  | 'bold'
  | 'thin'
  | 'brushed'
  | 'textured'
  | 'hatched'
  | 'feathered'
  | 'framed'
  | 'edge'
  | 'round'
  | 'detailed'
  | 'lettered';
export const STYLES: readonly Style[] = [
  'bold',
  'thin',
  'brushed',
  'textured',
  'hatched',
  'feathered',
  'framed',
  'edge',
  'round',
  'detailed',
  'lettered',
];

/** A made-up drawing whose intended regions are known. */
export interface GeneratedDrawing {
  readonly style: Style;
  /** With its gaps cut. */
  readonly ink: GreyRaster;
  /** Its outlines alone, drawn shut: hatching, feathering and letters part nothing. */
  readonly shut: GreyRaster;
  readonly gaps: readonly { readonly at: Point; readonly widthPx: number }[];
  /** How many times as large as by default. */
  readonly scale: number;
}

export interface DrawingOptions {
  /** Width of the cut gaps in line widths; 0 cuts none. */
  readonly gapWidths: number;
  /** Share of the outlines that are cut. */
  readonly gapShare: number;
  /** Hatching and feathering are so many times as thick as by default, .55 to .7 of the lines. @default 1 */
  readonly textureWidth?: number;
  /** Lines may also graze each other, as nobody draws them on purpose. @default false */
  readonly grazing?: boolean;
  /** Folds and feathers may also run on under what lies over them, which can shut them off. @default false */
  readonly covering?: boolean;
  /** Lines are so many px wide, and everything else as much larger or smaller. @default as wide as the style has them */
  readonly linePx?: number;
}

/** Places tried for a shape, and for the folds in one. */
const PLACE_TRIES = 24;
const FOLD_TRIES = 12;

const WIDTH = 640;
const HEIGHT = 760;

/** The same seed gives the same drawing. */
export async function generateDrawing(seed: number, style: Style, options: DrawingOptions): Promise<GeneratedDrawing> {
  // Drawn twice: only then is it known what comes to lie over a stroke.
  const covers = options.covering === true ? [] : compose(seed, style, options, true, []).laid;
  const open = compose(seed, style, options, false, covers).drawing;
  const shut = compose(seed, style, options, true, covers).drawing;
  const scale = options.linePx === undefined ? 1 : options.linePx / open.pen;
  return {
    style,
    ink: await renderDrawing(open, scale),
    shut: await renderDrawing(shut, scale),
    gaps: open.gaps,
    scale,
  };
}

/**
 * @param covers all shapes in the order they are laid, the frame last: folds and feathers that reach under a later
 * one are left out.
 */
function compose(
  seed: number,
  style: Style,
  options: DrawingOptions,
  closeGaps: boolean,
  covers: readonly Cover[],
): { readonly drawing: Drawing; readonly laid: Cover[] } {
  const random = makeRandom(seed * 977 + STYLES.indexOf(style) * 31);
  const d = new Drawing(WIDTH, HEIGHT, () => 0, closeGaps);
  const between = (a: number, b: number): number => a + (b - a) * random();
  const pen = style === 'thin' ? between(2.2, 3.2) : style === 'bold' ? between(6, 9) : between(3.4, 6.5);
  d.pen = pen;
  const thick = options.textureWidth ?? 1;
  // What parts nothing is drawn aside, so that both drawings take the same random numbers.
  const marks = closeGaps ? new Drawing(WIDTH, HEIGHT, () => 0) : d;
  const laid: Cover[] = [];
  const isOpen = (stroke: readonly Point[]): boolean =>
    !covers.slice(laid.length).some((cover) => reachesUnder(stroke, cover, pen));
  const shapes = Math.round(between(7, 13));
  const page: Point[] = [...rectangle(0, 0, WIDTH, HEIGHT), [0, 0]];
  /** All that no other line may graze. */
  const lines: Point[][] = [page];
  const isFree = (points: readonly Point[]): boolean =>
    options.grazing === true || !grazes([...points, points[0]!], lines, pen);
  let draw = (): void => {
    for (let k = 0; k < shapes; k++) {
      const size = between(60, 190) * (1 - (0.45 * k) / shapes);
      const { cx, cy, points } = place(() => {
        const [x, y] = [between(0.1, 0.9) * WIDTH, between(0.1, 0.9) * HEIGHT];
        return { cx: x, cy: y, points: outline(random, style, x, y, size) };
      }, isFree);
      if (points === null) continue;
      const cut = random() < options.gapShare && options.gapWidths > 0;
      const at = between(0.05, 0.95);
      d.shape('part', points, {
        width: pen * between(0.85, 1.2),
        weight: style === 'brushed' ? 0.75 : 0.3,
        wobble: style === 'textured' ? 0.3 : 0.06,
        seed: seed + k,
        ...(cut ? { gap: { at, widthPx: options.gapWidths * pen * 1.18 } } : {}),
      });
      const own: Point[][] = [[...points, points[0]!]];
      if (random() < 0.5) {
        const way = across(random, points);
        const gapWidths = random() < options.gapShare ? options.gapWidths : 0;
        if (options.grazing === true || !grazes(way, [...lines, ...own], pen)) {
          own.push(way);
          divide(d, random, way, pen, closeGaps ? 0 : gapWidths, seed + k);
        }
      }
      lines.push(...own);
      laid.push({ outline: own[0]!, hides: 'inside' });
      if (style === 'detailed' || random() < 0.2) detail(marks, random, own, cx, cy, size, pen, isOpen, seed + k);
      if (style === 'hatched') hatch(marks, random, cx, cy, size, pen, pen * thick, seed + k);
      if (style === 'feathered') feather(marks, random, points, cx, cy, size, pen * thick, isOpen, seed + k);
      if (style === 'textured') marks.stipple([cx, cy], size * 0.4, size * 0.4, 14, seed + k);
    }
  };
  if (style === 'lettered') {
    const figures = draw;
    draw = () => (figures(), laid.push(...lettering(d, marks, between, isFree)));
  }
  const frame = rectangle(60, 60, WIDTH - 120, HEIGHT - 120);
  if (style === 'framed') {
    lines.push([...frame, frame[0]!]);
    d.panel(frame, 'part', draw);
  } else draw();
  laid.push({ outline: style === 'framed' ? [...frame, frame[0]!] : page, hides: 'outside' });
  return { drawing: d, laid };
}

/** What lies over strokes drawn before: a shape with its outline, or all that is beyond a frame. */
interface Cover {
  readonly outline: readonly Point[];
  readonly hides: 'inside' | 'outside';
}

function reachesUnder(stroke: readonly Point[], { outline, hides }: Cover, pen: number): boolean {
  return stroke.some(
    (point) => isInside(point, outline) === (hides === 'inside') || distanceTo(point, outline) < NEAR_PENS * pen,
  );
}

/** By the crossings of a ray. @param outline its first point again at the end. */
function isInside([x, y]: Point, outline: readonly Point[]): boolean {
  let inside = false;
  for (let k = 1; k < outline.length; k++) {
    const [[ax, ay], [bx, by]] = [outline[k - 1]!, outline[k]!];
    if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) inside = !inside;
  }
  return inside;
}

/** The first of some places whose line is free; none where too many are not. */
function place<T extends { readonly points: Point[] }>(
  choose: () => T,
  isFree: (points: readonly Point[]) => boolean,
): T | (Omit<T, 'points'> & { readonly points: null }) {
  for (let tries = 1; ; tries++) {
    const chosen = choose();
    if (isFree(chosen.points)) return chosen;
    if (tries === PLACE_TRIES) return { ...chosen, points: null };
  }
}

/** Balloons and captions over the drawing: what letterers leave on a page. @returns what they cover. */
function lettering(
  d: Drawing,
  marks: Drawing,
  between: (a: number, b: number) => number,
  isFree: (points: readonly Point[]) => boolean,
): Cover[] {
  const laid: Cover[] = [];
  const said = place(() => {
    const [x, y] = [between(0.25, 0.75) * WIDTH, between(0.12, 0.4) * HEIGHT];
    return { x, y, tail: between(-60, 60), points: ellipse(x, y, 165, 72, 0) };
  }, isFree);
  if (said.points !== null) {
    balloon(d, said.x, said.y, 165, 72, [said.x + said.tail, said.y + 135], []);
    letter(marks, said.x, said.y, ['ROOTS UP', 'THE LINE?'], 26);
    laid.push({ outline: [...said.points, said.points[0]!], hides: 'inside' });
  }
  const told = place(() => {
    const [x, y] = [between(0.3, 0.7) * WIDTH, between(0.6, 0.9) * HEIGHT];
    return { x, y, points: line(rectangle(x - 130, y - 40, 260, 80), 6, true) };
  }, isFree);
  if (told.points === null) return laid;
  d.shape('part', told.points, { width: 4, weight: 0, wobble: 0.02 });
  letter(marks, told.x, told.y, ['MEANWHILE,', 'BELOW'], 24);
  laid.push({ outline: [...told.points, told.points[0]!], hides: 'inside' });
  return laid;
}

function outline(random: () => number, style: Style, cx: number, cy: number, size: number): Point[] {
  if (style === 'round') return ellipse(cx, cy, size, size * (0.6 + 0.4 * random()), random() * 3);
  const edge = style === 'edge' ? 1.5 : 1;
  const corners = Math.round(5 + random() * 5);
  const turn = random() * 6.28;
  const ring = Array.from({ length: corners }, (_, k): Point => {
    const a = turn + (k / corners) * 6.283;
    const r = size * edge * (0.6 + 0.5 * random());
    return [cx + Math.cos(a) * r, cy + Math.sin(a) * r];
  });
  return random() < 0.35 ? line(ring, 6, true) : curve(ring, true, 5);
}

/** A line across a shape, from outline to outline. */
function across(random: () => number, points: readonly Point[]): Point[] {
  const n = points.length;
  const start = Math.floor(random() * n);
  const a = points[start]!;
  const b = points[(start + Math.floor(n * (0.35 + 0.3 * random()))) % n]!;
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
  const bow = (random() - 0.5) * 0.3 * length;
  const middle: Point = [
    (a[0] + b[0]) / 2 - ((b[1] - a[1]) / length) * bow,
    (a[1] + b[1]) / 2 + ((b[0] - a[0]) / length) * bow,
  ];
  return curve([a, middle, b], false, 4);
}

/** Draws a line across a shape; with a gap it stops short of the far side. */
function divide(
  d: Drawing,
  random: () => number,
  way: readonly Point[],
  pen: number,
  gapWidths: number,
  seed: number,
): void {
  const taper: [number, number] = [0, random() < 0.5 ? 0.12 : 0];
  if (gapWidths === 0) {
    d.stroke(way, { width: pen, taper: [0, 0], weight: 0.2, seed });
    return;
  }
  // Half of the outline's own width lies beyond its middle line.
  let short = gapWidths * pen * 1.18 + pen * 0.6;
  const kept = [...way];
  while (kept.length > 4 && short > 0) {
    const last = kept.pop()!;
    const before = kept.at(-1)!;
    short -= Math.hypot(last[0] - before[0], last[1] - before[1]);
  }
  d.stroke(kept, { width: pen, taper, weight: 0.2, seed });
}

/**
 * Folds, cracks, bark: thinner strokes inside a shape that end in a point and part nothing.
 *
 * @param lines that they do not cross: those of the shape, to which they are added.
 * @param isOpen whether nothing comes to lie over a stroke; others are not drawn.
 */
function detail(
  d: Drawing,
  random: () => number,
  lines: Point[][],
  cx: number,
  cy: number,
  size: number,
  pen: number,
  isOpen: (stroke: readonly Point[]) => boolean,
  seed: number,
): void {
  const count = 2 + Math.floor(random() * 4);
  for (let k = 0, tries = 0; tries < FOLD_TRIES && k < count; tries++) {
    const a = random() * 6.28;
    const reach = size * (0.12 + 0.3 * random());
    const [x, y] = [cx + (random() - 0.5) * size * 0.6, cy + (random() - 0.5) * size * 0.6];
    const bend = (random() - 0.5) * reach;
    const points: Point[] = [
      [x - Math.cos(a) * reach, y - Math.sin(a) * reach],
      [x - Math.sin(a) * bend, y + Math.cos(a) * bend],
      [x + Math.cos(a) * reach, y + Math.sin(a) * reach],
    ];
    const width = pen * (0.4 + 0.35 * random());
    const fold = curve(points, false, 4);
    if (lines.some((other) => areNear(fold, other, NEAR_PENS * pen))) continue;
    lines.push(fold);
    if (isOpen(fold)) d.stroke(fold, { width, taper: [0.3, 0.5], weight: 0.1, seed: seed + k });
    k++;
  }
}

/** Whether points of two lines come within a distance; where lines cross they do. */
function areNear(one: readonly Point[], two: readonly Point[], px: number): boolean {
  return one.some(([x, y]) => two.some(([u, v]) => (x - u) * (x - u) + (y - v) * (y - v) < px * px));
}

function hatch(
  d: Drawing,
  random: () => number,
  cx: number,
  cy: number,
  size: number,
  pen: number,
  thick: number,
  seed: number,
): void {
  const a = random() * 3.14;
  const [ux, uy] = [Math.cos(a), Math.sin(a)];
  const half = size * 0.3;
  const from: [Point, Point] = [
    [cx - ux * half - uy * half * 0.6, cy - uy * half + ux * half * 0.6],
    [cx + ux * half - uy * half * 0.6, cy + uy * half + ux * half * 0.6],
  ];
  const to: [Point, Point] = [
    [cx - ux * half + uy * half * 0.6, cy - uy * half - ux * half * 0.6],
    [cx + ux * half + uy * half * 0.6, cy + uy * half - ux * half * 0.6],
  ];
  const count = Math.max(4, Math.round((2 * half) / (pen * 2.4)));
  d.hatch(from, to, count, thick * 0.6, seed);
  if (random() < 0.3) d.hatch([from[0], to[0]], [from[1], to[1]], count, thick * 0.55, seed + 9);
}

/** Strokes from the outline inwards, thinning out. @param isOpen as in `detail`. */
function feather(
  d: Drawing,
  random: () => number,
  points: readonly Point[],
  cx: number,
  cy: number,
  size: number,
  pen: number,
  isOpen: (stroke: readonly Point[]) => boolean,
  seed: number,
): void {
  const start = Math.floor(random() * points.length);
  for (let k = 0; k < 12; k++) {
    const p = points[(start + k * 2) % points.length]!;
    const t = Math.min(0.5, (size * (0.15 + 0.2 * random())) / Math.max(1, Math.hypot(cx - p[0], cy - p[1])));
    const tip: Point = [p[0] + (cx - p[0]) * t, p[1] + (cy - p[1]) * t];
    const stroke: Point[] = [p, [(p[0] + tip[0]) / 2 + random() * 2, (p[1] + tip[1]) / 2], tip];
    if (!isOpen(curve(stroke))) continue;
    d.stroke(stroke, { width: pen * 0.7, taper: [0, 0.8], weight: 0, seed: seed + k });
  }
}

/** @param scale px per unit of the drawing. */
export async function renderDrawing(drawing: Drawing, scale = 1): Promise<GreyRaster> {
  const { data, info } = await sharp(Buffer.from(drawing.inkSvg(scale)))
    .removeAlpha()
    .toColourspace('b-w')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
}
