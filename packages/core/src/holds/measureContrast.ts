import { ciede2000 } from '../colour/ciede2000.ts';
import { labOf } from '../colour/lab.ts';
import { atLightness, oklabOf } from '../colour/oklab.ts';
import type { HoldLimits } from '../model/Holds.ts';
import type { LinePieces } from './LinePieces.ts';
import type { PaintedHolds } from './paintHolds.ts';
import { kindOfPiece, type PartsOfLines, type PieceParts } from './selectLines.ts';

/** How far a held piece stands apart from what lies on both its sides. */
export interface Contrast {
  readonly piece: number;
  /** CIEDE2000 to the colour on either side; the paper is white. */
  readonly difference: readonly [number, number];
  /** Difference of lightness L* to either side. */
  readonly lightness: readonly [number, number];
}

export interface LowContrast extends Contrast {
  /** A colour of the same hue that passes, 0xRRGGBB; null where no lightness does. */
  readonly proposed: number | null;
}

const WHITE = 0xffffff;

/** Measures every held piece. @param rgbOf as for painting: the colour of a part where the piece lies, null for none. */
export function measureContrast(
  { count }: Pick<LinePieces, 'count'>,
  { one, two }: PieceParts,
  { rgb }: Pick<PaintedHolds, 'rgb'>,
  rgbOf: (part: number, piece: number) => number | null,
): Contrast[] {
  const found: Contrast[] = [];
  for (let piece = 0; piece < count; piece++) {
    if (rgb[piece]! < 0) continue;
    const line = labOf(rgb[piece]!);
    const [a, b] = [one[piece]!, two[piece]!].map((part) => labOf((part < 0 ? null : rgbOf(part, piece)) ?? WHITE));
    found.push({
      piece,
      difference: [ciede2000(line, a!), ciede2000(line, b!)],
      lightness: [Math.abs(line.l - a!.l), Math.abs(line.l - b!.l)],
    });
  }
  return found;
}

/** Steps of lightness that are tried, from the line's own outwards. */
const STEPS = 50;

/** Pieces that stand apart by less than the limit, the worst first, each with a lightness that passes. */
export function findLowContrast(
  pieces: LinePieces,
  sides: PieceParts,
  parts: PartsOfLines,
  painted: Pick<PaintedHolds, 'rgb'>,
  rgbOf: (part: number, piece: number) => number | null,
  { difference: least, darkContours }: HoldLimits,
): LowContrast[] {
  const all = measureContrast(pieces, sides, painted, rgbOf);
  const worst = ({ difference: [a, b] }: Contrast): number => Math.min(a, b);
  const innerMost = darkContours ? darkestInner(all, sides, parts, painted) : Infinity;
  const known = new Map<string, number | null>();
  return all
    .filter(
      (one) =>
        worst(one) < least ||
        (kindOfPiece(sides, parts, one.piece) === 'contour' && labOf(painted.rgb[one.piece]!).l > innerMost),
    )
    .sort((a, b) => worst(a) - worst(b) || pieces.areaPx[b.piece]! - pieces.areaPx[a.piece]! || a.piece - b.piece)
    .map((one) => {
      const { piece } = one;
      const colours = [sides.one[piece]!, sides.two[piece]!].map(
        (part) => (part < 0 ? null : rgbOf(part, piece)) ?? WHITE,
      );
      const most = kindOfPiece(sides, parts, piece) === 'contour' ? innerMost : Infinity;
      const key = `${painted.rgb[piece]!} ${colours.join(' ')} ${most}`;
      let proposed = known.get(key);
      if (proposed === undefined)
        known.set(key, (proposed = passingLightness(painted.rgb[piece]!, colours, least, most)));
      return { ...one, proposed };
    });
}

/** L* of the darkest inner line that has a colour. */
function darkestInner(
  all: readonly Contrast[],
  sides: PieceParts,
  parts: PartsOfLines,
  { rgb }: Pick<PaintedHolds, 'rgb'>,
): number {
  const inner = all.filter(({ piece }) => kindOfPiece(sides, parts, piece) === 'inner');
  return Math.min(Infinity, ...inner.map(({ piece }) => labOf(rgb[piece]!).l));
}

/** The nearest lightness at which a colour stands apart from all others; darker ones first. @param most L* it may have. */
function passingLightness(rgb: number, others: readonly number[], least: number, most: number): number | null {
  const lab = oklabOf(rgb);
  const labs = others.map(labOf);
  for (let step = 0; step <= STEPS; step++) {
    for (const way of [-1, 1]) {
      const l = lab.l + (way * step) / STEPS;
      if (l < 0 || l > 1) continue;
      const shade = atLightness(lab, l);
      const tried = labOf(shade);
      if (tried.l <= most && labs.every((other) => ciede2000(tried, other) >= least)) return shade;
    }
  }
  return null;
}
