import { parseColour, rgbaWord } from '../colour/hex.ts';
import { darkenOklab, mixOklab, oklabOf, rgbOfHsl, rgbOfOklab, type Oklab } from '../colour/oklab.ts';
import type { HoldColour, HoldRule, LineStroke } from '../model/Holds.ts';
import { AlongLines } from './AlongLines.ts';
import { meanAround, type FlatsAround } from './meanAround.ts';
import { VaryingPixels, type HoldPaint } from './HoldPaint.ts';
import { touchUp } from './LineBrush.ts';
import type { LinePieces } from './LinePieces.ts';
import { selectLines, type PartsOfLines, type PieceParts } from './selectLines.ts';

export interface HoldInput {
  readonly pieces: LinePieces;
  /** The parts on both sides of each piece. */
  readonly sides: PieceParts;
  readonly parts: PartsOfLines;
  /** Colour of a part where a piece lies, 0xRRGGBB; null where it prints nothing. */
  readonly rgbOf: (part: number, piece: number) => number | null;
  /** The id of the scene a piece lies in. @default one scene */
  readonly sceneOf?: (piece: number) => string | null;
  /** The flats as they are coloured, for colours of the surroundings. */
  readonly flats: () => FlatsAround;
}

/** What rules come to. */
export interface PaintedHolds {
  readonly paint: HoldPaint;
  /** Number of the rule each piece has its colour from, -1 for black. */
  readonly ruleOf: Int32Array;
  /** How many pieces each rule takes, whether or not a later one takes them again. */
  readonly counts: readonly number[];
  /** One colour for each held piece, 0xRRGGBB: its own, or the mean where it varies. -1 for black. */
  readonly rgb: Int32Array;
}

/** Ways to colour a piece: one colour, or one for each of its pixels. */
type PieceColour = number | ((x: number, y: number) => number) | null;

/**
 * Colours the lines of a page by its rules; later ones win, and strokes lie over them. Colours that vary are computed
 * for each pixel.
 *
 * Cost: by pieces; colours that vary by the pixels of their pieces.
 */
export function paintHolds(
  input: HoldInput,
  rules: readonly Pick<HoldRule, 'lines' | 'colour' | 'inScene' | 'off'>[],
  strokes: readonly LineStroke[] = [],
): PaintedHolds {
  const { pieces, sides, parts } = input;
  const ruleOf = new Int32Array(pieces.count).fill(-1);
  const counts = rules.map(({ lines, off }, number) => {
    if (off === true) return 0;
    const taken = selectLines(pieces, sides, parts, lines);
    for (const piece of taken) ruleOf[piece] = number;
    return taken.length;
  });
  const words = new Uint32Array(pieces.count + 1);
  const rgb = new Int32Array(pieces.count).fill(-1);
  const shades: (((x: number, y: number) => number) | undefined)[] = [];
  const colourings = rules.map((rule) => new Colouring(input, rule));
  for (let piece = 0; piece < pieces.count; piece++) {
    if (ruleOf[piece]! < 0) continue;
    const colour = colourings[ruleOf[piece]!]!.of(piece);
    if (typeof colour === 'function') shades[piece] = colour;
    else if (colour === null) ruleOf[piece] = -1;
    else rgb[piece] = colour;
  }
  const varying = shades.length === 0 ? null : paintPixels(pieces, shades, rgb);
  for (let piece = 0; piece < pieces.count; piece++) if (rgb[piece]! >= 0) words[piece + 1] = rgbaWord(rgb[piece]!);
  const paint = touchUp(pieces, { ofPixel: pieces.ofPixel, words, varying }, strokes, rgb);
  return { paint, ruleOf, counts, rgb };
}

/** Colours every pixel of pieces whose colour varies, those past their edge too, and puts their means into `rgb`. */
function paintPixels(
  { ofPixel, width, height, count }: LinePieces,
  shades: readonly (((x: number, y: number) => number) | undefined)[],
  rgb: Int32Array,
): HoldPaint['varying'] {
  const varying = new VaryingPixels(width);
  const sums = new Float64Array(count * 4);
  for (let y = 0, at = 0; y < height; y++) {
    for (let x = 0; x < width; x++, at++) {
      if (ofPixel[at] === 0) continue;
      const piece = ofPixel[at]! - 1;
      const shade = shades[piece];
      if (shade === undefined) continue;
      const colour = shade(x, y);
      // Opaque, with its bytes in the order of RGBA.
      varying.set(x, y, 0xff000000 | ((colour & 255) << 16) | (colour & 0xff00) | (colour >>> 16));
      const k = piece * 4;
      sums[k] = sums[k]! + (colour >>> 16);
      sums[k + 1] = sums[k + 1]! + ((colour >>> 8) & 255);
      sums[k + 2] = sums[k + 2]! + (colour & 255);
      sums[k + 3] = sums[k + 3]! + 1;
    }
  }
  for (let piece = 0; piece < count; piece++) {
    const [r, g, b, all] = sums.subarray(piece * 4, piece * 4 + 4) as unknown as [number, number, number, number];
    if (all > 0) rgb[piece] = (Math.round(r / all) << 16) | (Math.round(g / all) << 8) | Math.round(b / all);
  }
  return varying.raster;
}

/** One rule's colours, with what is worked out once for all its pieces. */
class Colouring {
  private around: ((x: number, y: number) => number) | null = null;
  private lines: { readonly along: AlongLines; readonly shade: (x: number, y: number) => number } | null = null;
  private readonly known = new Map<string, number | null>();

  constructor(
    private readonly input: HoldInput,
    private readonly rule: Pick<HoldRule, 'lines' | 'colour' | 'inScene'>,
  ) {}

  of(piece: number): PieceColour {
    const { rule, input } = this;
    const scene = input.sceneOf?.(piece) ?? null;
    const colour = (scene === null ? undefined : rule.inScene?.[scene]) ?? rule.colour;
    if (typeof colour === 'string') return parseColour(colour);
    if ('darken' in colour) return this.darkened(piece, colour.darken);
    if ('hsl' in colour) return rgbOfHsl(...colour.hsl);
    if ('around' in colour) return (this.around ??= this.surroundings(colour.around));
    return 'gradient' in colour ? acrossPage(colour.gradient) : this.alongPiece(piece, colour.along);
  }

  /** The part that the rule names, else the mean of the sides that have parts. */
  private darkened(piece: number, darken: number): number | null {
    const { sides, parts, rgbOf } = this.input;
    const { lines } = this.rule;
    const named = 'inside' in lines ? lines.inside : 'contour' in lines ? lines.contour : null;
    const own = named === null ? undefined : parts.numberOf(named);
    const meant = own === undefined ? [sides.one[piece]!, sides.two[piece]!] : [own];
    const colours = [...new Set(meant)].flatMap((part) => (part < 0 ? [] : (rgbOf(part, piece) ?? [])));
    if (colours.length === 0) return null;
    const key = `${colours.join()} ${darken}`;
    let rgb = this.known.get(key);
    if (rgb === undefined) this.known.set(key, (rgb = darkenOklab(meanOf(colours.map(oklabOf)), darken)));
    return rgb;
  }

  private surroundings({ radiusPx, darken }: { radiusPx: number; darken: number }): (x: number, y: number) => number {
    const mean = meanAround(this.input.flats(), radiusPx);
    // What was worked out is kept under the last bits of its colour, until another one takes the place.
    const colours = new Int32Array(KNOWN_COLOURS).fill(-1);
    const darkened = new Int32Array(KNOWN_COLOURS);
    return (x, y) => {
      const rgb = mean(x, y);
      // Nothing coloured is near: black.
      if (rgb < 0) return 0;
      const place = Math.imul(rgb, 0x9e3779b1) >>> PLACE_SHIFT;
      if (colours[place] !== rgb) {
        colours[place] = rgb;
        darkened[place] = darkenOklab(oklabOf(rgb), darken);
      }
      return darkened[place]!;
    };
  }

  /** From the left or upper end of each piece to the other one. */
  private alongPiece(piece: number, [from, to]: readonly [string, string]): (x: number, y: number) => number {
    if (this.lines === null) {
      const along = new AlongLines(this.input.pieces);
      const tone = gradientFrom(from, to);
      this.lines = { along, shade: (x, y) => tone(along.shareAt(x, y)) };
    }
    this.lines.along.add(piece);
    return this.lines.shade;
  }
}

function meanOf(colours: readonly Oklab[]): Oklab {
  const sum = colours.reduce((all, one) => ({ l: all.l + one.l, a: all.a + one.a, b: all.b + one.b }));
  return { l: sum.l / colours.length, a: sum.a / colours.length, b: sum.b / colours.length };
}

/** Colours that are kept darkened; a power of two. */
const KNOWN_COLOURS = 1 << 19;
const PLACE_SHIFT = 13;
/** Steps in which a gradient is worked out. */
const STEPS = 1024;

/** The colour at a share of the way from one to the other, in OKLab, each worked out once. */
function gradientFrom(from: string, to: string): (share: number) => number {
  const [one, two] = [oklabOf(parseColour(from)), oklabOf(parseColour(to))];
  const known = new Int32Array(STEPS + 1).fill(-1);
  return (share) => {
    const step = Math.round(share * STEPS);
    if (known[step]! < 0) known[step] = rgbOfOklab(mixOklab(one, two, step / STEPS));
    return known[step]!;
  };
}

function acrossPage([[from, [x0, y0]], [to, [x1, y1]]]: Extract<HoldColour, { gradient: unknown }>['gradient']): (
  x: number,
  y: number,
) => number {
  const tone = gradientFrom(from, to);
  const [dx, dy] = [x1 - x0, y1 - y0];
  const length2 = dx * dx + dy * dy;
  return (x, y) => {
    const share = length2 === 0 ? 0 : ((x - x0) * dx + (y - y0) * dy) / length2;
    return tone(Math.min(1, Math.max(0, share)));
  };
}
