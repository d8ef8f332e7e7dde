import { brushStroke, dryStreaks, type BrushOptions } from './brush.ts';
import { makeRandom, pathData, type Point } from './geometry.ts';

/** An opening left in an outline on purpose. */
export interface DeliberateGap {
  /** Where it is, in px at 300 dpi. */
  readonly at: Point;
  readonly widthPx: number;
}

export interface ShapeOptions extends Partial<BrushOptions> {
  /** No outline: the shape's border is drawn by others or not at all. */
  readonly outline?: false;
  /** Leave an opening of so many px at this share of the outline. */
  readonly gap?: { readonly at: number; readonly widthPx: number };
}

/** What a page is inked with; the shares are of what each line asks for. */
export interface Inking {
  /** How heavy the hand is. */
  readonly nib: number;
  /** How much lines swell with the light and with the hand. */
  readonly weight: number;
  readonly wobble: number;
  /** Whether the brush runs dry: rough edges, and paper between the bristles. */
  readonly dry: boolean;
}
const PEN: Inking = { nib: 1.18, weight: 1, wobble: 1, dry: false };
/** How rough the edges of a dry brush are, as a share of the width. */
const RAGGED = 0.16;

/**
 * A page as it is drawn, back to front: every shape covers what is behind it, in the ink and in the
 * intended flats alike, so that the truth about every pixel is known.
 */
export class Drawing {
  private readonly ink: string[] = [];
  private readonly flats: string[] = [];
  private clips = 0;
  readonly gaps: DeliberateGap[] = [];
  /** Heavier for figures close by, lighter far off. */
  pen = 6;

  constructor(
    readonly width: number,
    readonly height: number,
    private readonly partNumber: (part: string) => number,
    /** Draws outlines whole where they were left open on purpose. */
    private readonly closeGaps = false,
    private readonly inking: Inking = PEN,
  ) {}

  /** A closed shape of one part, with its outline. */
  shape(part: string, points: readonly Point[], options: ShapeOptions = {}): void {
    const data = pathData(points, true);
    this.ink.push(`<path d="${data}" fill="#fff"/>`);
    this.flats.push(`<path d="${data}" fill="${this.codeOf(part)}"/>`);
    if (options.outline === false) return;
    const { gap } = options;
    const loop = [...points, points[0]!, points[1]!];
    if (gap === undefined) this.stroke(loop, options);
    else this.stroke(this.openLoop(points, gap), options);
  }

  /** Ink along an open line. */
  stroke(points: readonly Point[], options: Partial<BrushOptions> = {}): void {
    const { nib, weight, wobble, dry } = this.inking;
    const width = (options.width ?? this.pen) * nib;
    const brush: BrushOptions = {
      ...options,
      width,
      weight: (options.weight ?? 0.35) * weight,
      wobble: (options.wobble ?? 0.08) * wobble,
      ...(dry ? { ragged: RAGGED } : {}),
    };
    this.ink.push(`<path d="${brushStroke(points, brush)}"/>`);
    if (!dry) return;
    const seed = options.seed ?? Math.round(points[0]![0] * 13 + points[0]![1] * 7);
    for (const streak of dryStreaks(points, width, seed)) this.ink.push(`<path d="${streak}" fill="#fff"/>`);
  }

  /** A shape whose outline runs out into the paper: it is drawn from its first point to its last, and not between them. */
  openShape(part: string, points: readonly Point[], options: Partial<BrushOptions> = {}): void {
    this.shape(part, points, { outline: false });
    this.stroke(this.closeGaps ? [...points, points[0]!, points[1]!] : points, options);
  }

  /** A spotted black: ink, whatever part it will belong to. */
  black(points: readonly Point[], part?: string): void {
    const data = pathData(points, true);
    this.ink.push(`<path d="${data}"/>`);
    if (part !== undefined) this.flats.push(`<path d="${data}" fill="${this.codeOf(part)}"/>`);
  }

  /** White out of black: a light on hair or boots. */
  white(points: readonly Point[]): void {
    this.ink.push(`<path d="${pathData(points, true)}" fill="#fff"/>`);
  }

  /** Parallel strokes from one edge to another, tapered: shadow. */
  hatch(from: readonly [Point, Point], to: readonly [Point, Point], count: number, width = 3.4, seed = 5): void {
    const random = makeRandom(seed);
    for (let k = 0; k < count; k++) {
      const t = (k + 0.5) / count;
      const mix = (a: Point, b: Point): Point => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t];
      const [a, b] = [mix(from[0], from[1]), mix(to[0], to[1])];
      const reach = 0.72 + 0.28 * random();
      const end: Point = [a[0] + (b[0] - a[0]) * reach, a[1] + (b[1] - a[1]) * reach];
      const middle: Point = [(a[0] + end[0]) / 2 + (random() - 0.5) * 5, (a[1] + end[1]) / 2 + (random() - 0.5) * 5];
      this.stroke([a, middle, end], { width, taper: [0.1, 0.7], weight: 0, seed: seed + k });
    }
  }

  /** Two families of parallel strokes across each other: deep shadow. */
  crossHatch(from: readonly [Point, Point], to: readonly [Point, Point], count: number, width = 3.4, seed = 5): void {
    this.hatch(from, to, count, width, seed);
    this.hatch([from[0], to[0]], [from[1], to[1]], count, width, seed + 17);
  }

  /** Dry dots over an area: grain of stone or bark. */
  stipple(centre: Point, rx: number, ry: number, count: number, seed: number): void {
    const random = makeRandom(seed);
    for (let k = 0; k < count; k++) {
      const a = random() * 6.283;
      const r = Math.sqrt(random());
      const [x, y] = [centre[0] + Math.cos(a) * r * rx, centre[1] + Math.sin(a) * r * ry];
      this.ink.push(`<circle cx="${x.toFixed(1)}" cy="${y.toFixed(1)}" r="${(1.2 + random() * 1.8).toFixed(1)}"/>`);
    }
  }

  /** Draws inside a panel: nothing crosses its frame. */
  panel(outline: readonly Point[], background: string, draw: () => void): void {
    const id = `p${this.clips++}`;
    const open = `<clipPath id="${id}"><path d="${pathData(outline, true)}"/></clipPath><g clip-path="url(#${id})">`;
    this.ink.push(open);
    this.flats.push(open);
    this.shape(background, outline, { outline: false });
    draw();
    this.ink.push('</g>');
    this.flats.push('</g>');
    this.stroke([...outline, outline[0]!, outline[1]!], { width: 8, weight: 0, wobble: 0.02 });
  }

  /** The ink as SVG; `scale` 1 is 300 dpi. */
  inkSvg(scale: number): string {
    return this.svg(scale, '#fff', `<g fill="#000">${this.ink.join('')}</g>`, '');
  }

  /** The intended flats as SVG, each part in its code colour, hard-edged. */
  flatsSvg(scale: number, ground: string): string {
    return this.svg(scale, this.codeOf(ground), this.flats.join(''), ' shape-rendering="crispEdges"');
  }

  private svg(scale: number, ground: string, body: string, attributes: string): string {
    const [w, h] = [Math.round(this.width * scale), Math.round(this.height * scale)];
    return `<svg xmlns="http://www.w3.org/2000/svg" width="${w}" height="${h}" viewBox="0 0 ${this.width} ${this.height}" preserveAspectRatio="none"${attributes}><rect width="100%" height="100%" fill="${ground}"/>${body}</svg>`;
  }

  /** The colour a part has in the truth picture: its number, spread over the channels. */
  private codeOf(part: string): string {
    const code = this.partNumber(part) + 1;
    return `#${(code * 3).toString(16).padStart(2, '0')}${(255 - code).toString(16).padStart(2, '0')}80`;
  }

  private openLoop(points: readonly Point[], gap: { at: number; widthPx: number }): Point[] {
    const n = points.length;
    const start = Math.floor(gap.at * n) % n;
    const around = Array.from({ length: n + 1 }, (_, k) => points[(start + k) % n]!);
    const cut = trim(trim(around, gap.widthPx / 2).reverse(), gap.widthPx / 2);
    this.gaps.push({ at: points[start]!, widthPx: gap.widthPx });
    return this.closeGaps ? [...around, around[1]!] : cut;
  }
}

/** Takes a length off the beginning of a polyline. */
function trim(points: readonly Point[], length: number): Point[] {
  let rest = length;
  for (let k = 1; k < points.length; k++) {
    const [a, b] = [points[k - 1]!, points[k]!];
    const span = Math.hypot(b[0] - a[0], b[1] - a[1]);
    if (span >= rest) {
      const t = span === 0 ? 0 : rest / span;
      return [[a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t], ...points.slice(k)];
    }
    rest -= span;
  }
  return [...points];
}
