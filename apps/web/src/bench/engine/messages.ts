import type {
  GroupOfLines,
  GuideMatch,
  GuideReadingSoFar,
  GuideSplit,
  HoldLimits,
  HoldPaint,
  HoldRule,
  LineEdits,
  LineStroke,
  PageCheckInput,
  LowContrast,
  PixelBox,
  Prep,
  PyramidLevel,
  RegionTrap,
  Ruling,
  Flood,
  Survey,
  TileRaster,
  TrapInk,
  Viewport,
} from '@jumble/core';

/** What divides a page beyond its ink. */
export interface DivideBy {
  readonly maxGapPx: 'auto' | number;
  readonly rulings: ReadonlyMap<string, Ruling>;
  readonly drawn: readonly string[];
}

/** What a page is read from. */
export interface ReadFrom {
  /** Grey raster of the page's own file. */
  readonly url: string;
  readonly width: number;
  readonly height: number;
  readonly prep: Prep;
  readonly ownBounds: boolean;
  readonly others: readonly { readonly url: string; readonly bounds: boolean }[];
  readonly solids: readonly (readonly [number, number])[];
}

/** A survey as the page has it: what divides it stays in the computing worker, for it is larger than all the rest. */
export type ShownSurvey = Omit<Survey, 'graph'>;

/** What is known of a key that lies on the page. */
export interface GuideSeen {
  readonly match: GuideMatch;
  readonly reading: GuideReadingSoFar;
}

/** A key that was read to its end. */
export interface GuideRead extends GuideSeen {
  readonly splits: readonly GuideSplit[];
}

/** What the lines of a page are coloured by. */
export interface HoldsBy {
  readonly lineEdits: LineEdits;
  readonly strokes: readonly LineStroke[];
  readonly groups: readonly GroupOfLines[];
  readonly partOfRegion: readonly (string | null)[];
  readonly scenes: { readonly ids: readonly (string | null)[]; readonly ofRegion: Int32Array };
  readonly rules: readonly HoldRule[];
  readonly limits: HoldLimits;
  readonly trap: RegionTrap;
  readonly trapInk: TrapInk;
}

/** What a page is checked by: all but what the computing worker has itself. */
export type CheckBy = Omit<PageCheckInput, 'survey' | 'neighbours'>;

/** The lines of a page, and what its rules make of them. */
export interface ShownHolds {
  readonly paint: HoldPaint;
  readonly count: number;
  readonly at: Int32Array;
  readonly box: Int32Array;
  readonly lengthPx: Float64Array;
  readonly widthPx: Float64Array;
  readonly isSolid: Uint8Array;
  readonly isLettering: Uint8Array;
  /** Numbers of the parts on both sides, in the order of the groups; -1 for none. */
  readonly one: Int32Array;
  readonly two: Int32Array;
  /** Number of the rule each piece has its colour from, -1 for black. */
  readonly ruleOf: Int32Array;
  readonly counts: readonly number[];
  readonly rgb: Int32Array;
  /** Pieces that stand apart by too little, the worst first. */
  readonly low: readonly LowContrast[];
  /** Least CIEDE2000 of each held piece to its sides; Infinity for black. */
  readonly contrast: Float64Array;
}

export interface ViewOptions {
  readonly markMissing: boolean;
  readonly showInk: boolean;
  readonly showFlats: boolean;
  /** RGBA word of bare paper. */
  readonly paper: number;
  /** The map of trap, in tones so many page px wide. @default the page as it is */
  readonly trapMapPx?: number;
  /** Lines that are chosen, by piece from the second place on. @default none */
  readonly chosenLines?: Uint8Array;
}

/** What a small picture shows: a region, outlined, or a place, `span` page px wide. */
export type CropOf = { readonly region: number } | { readonly x: number; readonly y: number; readonly span: number };

/** How a closure is drawn: bounds regions, is proposed but open, was ruled open, was drawn by hand. */
/** How many numbers a closure takes in an overlay. */
export const CLOSURE_NUMBERS = 9;
export const STROKE = { closed: 0, proposed: 1, ruledOpen: 2, hand: 3 } as const;

/** How an outline is drawn. */
export type ShapeLook = 'panel' | 'chosen' | 'balloon' | 'solid' | 'change' | 'trim' | 'bleed' | 'area' | 'fault';

/** An outline over the page with a word to it. */
export interface OverlayShape {
  readonly points: readonly (readonly [number, number])[];
  readonly look: ShapeLook;
  readonly label?: string;
  /** Squares at the corners, to be dragged. */
  readonly handles?: boolean;
}

/** A mark as it is drawn; a hollow one says "leave empty". */
export interface OverlayMark {
  readonly points: readonly (readonly [number, number])[];
  readonly colour: string;
  readonly empty: boolean;
}

/** A loop that is being drawn, closed by itself, the way of a cut, or a gradient from end to end. */
export interface OverlayWay {
  readonly points: readonly (readonly [number, number])[];
  readonly closed: boolean;
  /** Whether its points can be taken hold of. */
  readonly handles?: boolean;
}

/** Marks over the page that are no ink: closures, a closure being drawn, a leak, panels, specks. */
export interface Overlay {
  /** Eight numbers of a cubic in page px and the stroke, each. */
  readonly closures: Float32Array;
  /** Number of the closure the worklist stands at, -1 for none. */
  readonly current: number;
  readonly draft: readonly [number, number, number, number] | null;
  /** How long the closure being drawn is, in words. */
  readonly draftLabel?: string;
  /** Page points of a leak's way. */
  readonly leak: Int32Array | null;
  readonly narrowest: readonly [number, number] | null;
  readonly shapes: readonly OverlayShape[];
  /** Loose strokes in the colours of their parts. */
  readonly marks?: readonly OverlayMark[];
  /** `[x, y, radius]` of each speck that would go, in page px. */
  readonly specks: Float32Array;
}

/** Nothing over the page: what a stage draws over it is added. */
export const EMPTY_OVERLAY: Overlay = {
  closures: new Float32Array(0),
  current: -1,
  draft: null,
  leak: null,
  narrowest: null,
  shapes: [],
  specks: new Float32Array(0),
};

/** What is drawn of a page; closures and what they are rated by would take longer to hand over than to draw. */
export type DrawnSurvey = Pick<ShownSurvey, 'width' | 'height' | 'cellCount' | 'regions' | 'lineWidthPx'>;

/** Cells that are shown as given before a gesture is finished. */
export interface ShownCells {
  readonly cells: Int32Array;
  /** RGBA word of each. */
  readonly colours: Uint32Array;
  /** What they lie in. */
  readonly box: PixelBox;
}

/** To the drawing worker. Every message that changes the picture carries a sequence number. */
export type DrawRequest =
  | { readonly kind: 'canvas'; readonly canvas: OffscreenCanvas; readonly loupe: OffscreenCanvas }
  | {
      readonly kind: 'page';
      readonly seq: number;
      readonly survey: DrawnSurvey;
      readonly levels: readonly PyramidLevel[];
      readonly original: Uint8Array;
    }
  /** A second canvas that shows the file as it came, at the same place; null takes it away. */
  | { readonly kind: 'compare'; readonly canvas: OffscreenCanvas | null }
  /** Other regions on the same page; their colours follow. */
  | {
      readonly kind: 'division';
      readonly seq: number;
      readonly survey: DrawnSurvey;
      /** The paper that has other cells than what is shown; null for none. */
      readonly changed: PixelBox | null;
    }
  | { readonly kind: 'overlay'; readonly seq: number; readonly overlay: Overlay | null }
  /** The mark being drawn: it grows at its end, and only that is drawn anew. */
  | { readonly kind: 'markDraft'; readonly seq: number; readonly mark: OverlayMark | null }
  /** The loop or cut being drawn: it grows at its end as well. */
  | { readonly kind: 'wayDraft'; readonly seq: number; readonly way: OverlayWay | null }
  /** Colour runs over the page from now on; null wipes it away. */
  | { readonly kind: 'flood'; readonly seq: number; readonly flood: Flood | null }
  /** What is painted over the regions: all of it, or squares that changed. */
  | { readonly kind: 'corrections'; readonly seq: number; readonly raster: TileRaster | null }
  | { readonly kind: 'patchCorrections'; readonly seq: number; readonly raster: TileRaster }
  | { readonly kind: 'paint'; readonly seq: number; readonly colours: Uint32Array; readonly trap: RegionTrap }
  /** What trap needs to know of the ink; it comes once that is found. */
  | { readonly kind: 'trapInk'; readonly seq: number; readonly ink: TrapInk }
  /** The colours of lines; null for black. */
  | { readonly kind: 'holds'; readonly seq: number; readonly paint: HoldPaint | null }
  /** Squares of lines under a brush. */
  | { readonly kind: 'patchHolds'; readonly seq: number; readonly raster: TileRaster }
  /** The trap that the loupe shows beside the page's, with what it is called; null for none. */
  | { readonly kind: 'compareTrap'; readonly compared: { readonly trap: RegionTrap; readonly words: string } | null }
  /** Colours of single regions: RGBA words, {@link OPEN} for a region without a part. */
  | { readonly kind: 'patch'; readonly seq: number; readonly regions: Int32Array; readonly colours: Uint32Array }
  /** Cells that show another colour than their region, in place of those before; none with none. */
  | { readonly kind: 'cells'; readonly seq: number; readonly cells: ShownCells | null }
  | { readonly kind: 'view'; readonly seq: number; readonly viewport: Viewport; readonly options: ViewOptions }
  /** Region under the pointer with the colour a click would give it, or null; the region the worklist stands at. */
  | {
      readonly kind: 'point';
      readonly seq: number;
      readonly hovered: number;
      readonly preview: number | null;
      readonly current: number;
    }
  /** Where the loupe is; whether it shows another trap beside the page's. */
  | { readonly kind: 'loupe'; readonly at: readonly [number, number] | null; readonly compares: boolean }
  | {
      readonly kind: 'crop';
      readonly of: CropOf;
      readonly width: number;
      readonly height: number;
    };

/** From the drawing worker. */
export type DrawAnswer =
  /** Everything up to message `seq` was handed to the screen before the frame that began `at` (ms since 1970). */
  | { readonly kind: 'presented'; readonly seq: number; readonly at: number }
  | {
      readonly kind: 'crop';
      readonly pixels: ArrayBuffer;
      readonly width: number;
      readonly height: number;
    };

/** In place of a colour: no part yet. Part colours are opaque, "leave empty" is 0. */
export const OPEN = 0x00000001;
