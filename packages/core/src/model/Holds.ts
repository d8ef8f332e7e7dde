import type { Point } from './Point.ts';

/** Which lines a rule of colour holds takes. Solid blacks and lettering are taken by `at` and `within` alone. */
export type LineSelect =
  | { readonly all: true }
  /** The part lies on both sides. */
  | { readonly inside: string }
  /** One part lies on each side. */
  | { readonly between: readonly [string, string] }
  /** The part lies on exactly one side. */
  | { readonly contour: string }
  /** One side is of this group of the cast, the other is not. */
  | { readonly contourOf: string }
  /** All lines but those between a character or prop and what is neither. */
  | { readonly but: 'contours' }
  | { readonly thinnerThanPx: number }
  | { readonly widerThanPx: number }
  /** The pieces nearest to these points. */
  | { readonly at: readonly Point[] }
  /** Pieces with most of their ink inside the outline. */
  | { readonly within: readonly Point[] };

/** What colour a line takes. */
export type HoldColour =
  | string
  /** The part's colour, its OKLab lightness times one less this. */
  | { readonly darken: number }
  /** The mean of the coloured flats within a radius, darkened. */
  | { readonly around: { readonly radiusPx: number; readonly darken: number } }
  /** From one colour at a point of the page to another at another, in OKLab. */
  | { readonly gradient: readonly [readonly [string, Point], readonly [string, Point]] }
  /** From one end of each piece to the other along its way, in OKLab; the first colour is at its left or upper end. */
  | { readonly along: readonly [string, string] }
  /** Hue in degrees, saturation and lightness 0..1. */
  | { readonly hsl: readonly [number, number, number] };

/** A rule of colour holds on a page; later ones count more. */
export interface HoldRule {
  readonly lines: LineSelect;
  readonly colour: HoldColour;
  /** Other colours in other scenes, by the scene's id. @default the same in all */
  readonly inScene?: Readonly<Record<string, HoldColour>>;
  readonly order: number;
  readonly off?: boolean;
}

/** A stroke of the hard brush on lines: it colours ink, and nothing else. */
export interface LineStroke {
  /** `#rrggbb`; null is what rules make of the lines there. */
  readonly colour: string | null;
  readonly sizePx: number;
  /** `[x, y]` in px, at least one. */
  readonly points: readonly Point[];
  /** Later strokes lie over earlier ones. */
  readonly stamp: number;
}

/** How near the colours of a line and of what lies beside it may come. */
export interface HoldLimits {
  /** Least CIEDE2000 to both sides. */
  readonly difference: number;
  /** Whether contours have to stay darker than inner lines. */
  readonly darkContours: boolean;
}

export const DEFAULT_HOLD_LIMITS: HoldLimits = { difference: 18, darkContours: false };

/** Where lines are cut or joined by hand. */
export interface LineEdits {
  /** Points on ink: the line is in two pieces there. */
  readonly cuts: readonly Point[];
  /** Two points on ink: their pieces are one. */
  readonly joins: readonly (readonly [Point, Point])[];
}

export const NO_LINE_EDITS: LineEdits = { cuts: [], joins: [] };

/** Most points on lines, or corners, that one rule may hold. */
export const MOST_LINE_POINTS = 5000;

/** Largest radius of the blurred surroundings, in px. */
export const MAX_AROUND_PX = 400;
