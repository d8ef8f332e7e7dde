import type {
  CellGroups,
  Change,
  ExamplePage,
  ExampleProposal,
  LeakTrace,
  KeyMatch,
  KeyPart,
  KeyPlace,
  KeyRaster,
  KeyReadingSoFar,
  KeySplit,
  LineArtFacts,
  MeasuringStep,
  PageDocument,
  PagePanel,
  PixelBox,
  Prep,
  PyramidLevel,
  RecordEdit,
  Ruling,
  Silhouette,
  Skew,
  Spread,
  SpreadOptions,
  Survey,
  TileRaster,
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

/** To the computing worker. */
export type SurveyRequest =
  | {
      readonly kind: 'survey';
      readonly id: number;
      readonly from: ReadFrom;
      readonly by: DivideBy;
      /** Gaps that were found before by this very reading. */
      readonly cutsUrl: string | null;
    }
  /** Facts about the line art; panels as the flatter has them, or null to find them. */
  | {
      readonly kind: 'stopDescribing';
      readonly id: number;
    }
  | {
      readonly kind: 'describe';
      readonly id: number;
      readonly panels: readonly PagePanel[] | null;
      readonly ruledSolids: readonly (readonly [number, number])[];
    }
  /** Grey of the page at a point, as the ink is read from it. */
  | { readonly kind: 'grey'; readonly id: number; readonly x: number; readonly y: number }
  /** What differs from the raster before a revision. */
  | { readonly kind: 'changes'; readonly id: number; readonly url: string }
  | { readonly kind: 'divide'; readonly id: number; readonly by: DivideBy }
  | {
      readonly kind: 'trace';
      readonly id: number;
      readonly from: readonly [number, number];
      readonly to: readonly [number, number];
    }
  /** Where colour gets to from a place. */
  | { readonly kind: 'spread'; readonly id: number; readonly at: readonly [number, number] }
  /** What marks come to, as the edits that turn them into fills. */
  | {
      readonly kind: 'marks';
      readonly id: number;
      /** The page stays divided as it is: what would come of the marks is shown, not done. */
      readonly preview: boolean;
      readonly document: Pick<PageDocument, 'marks' | 'fills' | 'rulings' | 'drawn'>;
      readonly options: SpreadOptions;
      /** Corners of the panel it keeps to; null for the whole page. */
      readonly panel: readonly (readonly [number, number])[] | null;
    }
  /** What hangs together when openings hold from a confidence on. */
  | { readonly kind: 'contours'; readonly id: number; readonly holdFrom: number }
  /** What stands inside the outer contour of what a loop goes round. */
  | {
      readonly kind: 'silhouette';
      readonly id: number;
      readonly loop: readonly (readonly [number, number])[];
      readonly share: number;
      readonly holdFrom: number;
      /** 1 for regions that may be taken; null for all. */
      readonly mayTake: Uint8Array | null;
    }
  /** Reads a colour key that is laid over the page; where it lies is found unless it is said. */
  | {
      readonly kind: 'key';
      readonly id: number;
      readonly key: KeyRaster;
      readonly place: KeyPlace | null;
      readonly parts: readonly KeyPart[];
      /** One word that is no longer 0 when the answer is no longer wanted. */
      readonly stop: SharedArrayBuffer;
    }
  /** How long regions touch: `[a, b, px]` of each pair. */
  | { readonly kind: 'neighbours'; readonly id: number }
  | {
      readonly kind: 'examples';
      readonly id: number;
      /** As the flatter has them, or null to find them. */
      readonly panels: readonly PagePanel[] | null;
      readonly wanted: readonly number[];
      readonly examples: readonly ExamplePage[];
      /** Parts of this page's own regions that are examples too; null for none. */
      readonly own: readonly (string | null)[] | null;
    }
  | { readonly kind: 'touching'; readonly id: number };

/** A survey as the page has it: what divides it stays in the computing worker, for it is larger than all the rest. */
export type ShownSurvey = Omit<Survey, 'graph'>;

/** From the computing worker; `id` is the request's. */
export type SurveyAnswer =
  | { readonly kind: 'step'; readonly id: number; readonly text: string; readonly share: number }
  | {
      readonly kind: 'surveyed';
      readonly id: number;
      readonly survey: ShownSurvey;
      readonly levels: readonly PyramidLevel[];
      /** The page's own file as it came, one byte a pixel. */
      readonly original: Uint8Array;
    }
  | ({ readonly kind: 'measuring'; readonly id: number } & MeasuringStep)
  /** What was asked for was stopped, or has to begin anew. */
  | { readonly kind: 'dropped'; readonly id: number }
  | { readonly kind: 'described'; readonly id: number; readonly facts: LineArtFacts; readonly skew: Skew | null }
  | { readonly kind: 'greyFound'; readonly id: number; readonly grey: number }
  | { readonly kind: 'changed'; readonly id: number; readonly changes: readonly Change[] }
  | {
      readonly kind: 'divided';
      readonly id: number;
      readonly survey: ShownSurvey;
      /** The paper that has other cells than when this was last answered; null for none. */
      readonly changed: PixelBox | null;
    }
  | { readonly kind: 'traced'; readonly id: number; readonly trace: LeakTrace | null }
  | { readonly kind: 'spread'; readonly id: number; readonly spread: Spread | null }
  | {
      readonly kind: 'marked';
      readonly id: number;
      readonly edits: readonly RecordEdit[];
      readonly drawn: readonly string[];
    }
  | { readonly kind: 'contoured'; readonly id: number; readonly groups: CellGroups }
  | ({ readonly kind: 'silhouetted'; readonly id: number } & Silhouette)
  | {
      /** What of a key is known before all is. */
      readonly kind: 'keySeen';
      readonly id: number;
      readonly match: KeyMatch;
      readonly reading: KeyReadingSoFar;
    }
  | {
      readonly kind: 'keyRead';
      readonly id: number;
      readonly match: KeyMatch;
      readonly reading: KeyReadingSoFar;
      readonly splits: readonly KeySplit[];
    }
  | { readonly kind: 'neighbours'; readonly id: number; readonly pairs: Int32Array }
  | { readonly kind: 'exampled'; readonly id: number; readonly proposals: readonly ExampleProposal[] }
  | { readonly kind: 'touching'; readonly id: number; readonly pairs: Int32Array }
  | { readonly kind: 'failed'; readonly id: number; readonly message: string };

export interface ViewOptions {
  readonly markMissing: boolean;
  readonly showInk: boolean;
  readonly showFlats: boolean;
  /** RGBA word of bare paper. */
  readonly paper: number;
}

/** What a small picture shows: a region, outlined, or a place, `span` page px wide. */
export type CropOf = { readonly region: number } | { readonly x: number; readonly y: number; readonly span: number };

/** How a closure is drawn: bounds regions, is proposed but open, was ruled open, was drawn by hand. */
/** How many numbers a closure takes in an overlay. */
export const CLOSURE_NUMBERS = 9;
export const STROKE = { closed: 0, proposed: 1, ruledOpen: 2, hand: 3 } as const;

/** How an outline is drawn. */
export type ShapeLook = 'panel' | 'chosen' | 'balloon' | 'solid' | 'change' | 'trim' | 'bleed';

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

/** A loop that is being drawn, closed by itself, or the way of a cut. */
export interface OverlayWay {
  readonly points: readonly (readonly [number, number])[];
  readonly closed: boolean;
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
  | { readonly kind: 'spread'; readonly seq: number; readonly spread: Spread | null }
  /** What is painted over the regions: all of it, or squares that changed. */
  | { readonly kind: 'corrections'; readonly seq: number; readonly raster: TileRaster | null }
  | { readonly kind: 'patchCorrections'; readonly seq: number; readonly raster: TileRaster }
  | { readonly kind: 'paint'; readonly seq: number; readonly colours: Uint32Array; readonly trapDepth2: number }
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
  | { readonly kind: 'loupe'; readonly at: readonly [number, number] | null }
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
