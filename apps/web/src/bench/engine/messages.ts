import type { LeakTrace, Prep, PyramidLevel, Ruling, Survey, Viewport } from '@jumble/core';

/** What divides a page beyond its ink. */
export interface DivideBy {
  readonly maxGapPx: 'auto' | number;
  readonly rulings: ReadonlyMap<string, Ruling>;
  readonly drawn: readonly string[];
}

/** To the computing worker. */
export type SurveyRequest =
  | {
      readonly kind: 'survey';
      readonly id: number;
      readonly url: string;
      readonly width: number;
      readonly height: number;
      readonly prep: Prep;
      readonly by: DivideBy;
    }
  | { readonly kind: 'divide'; readonly id: number; readonly by: DivideBy }
  | {
      readonly kind: 'trace';
      readonly id: number;
      readonly from: readonly [number, number];
      readonly to: readonly [number, number];
    }
  | { readonly kind: 'touching'; readonly id: number };

/** From the computing worker; `id` is the request's. */
export type SurveyAnswer =
  | { readonly kind: 'step'; readonly id: number; readonly text: string; readonly share: number }
  | {
      readonly kind: 'surveyed';
      readonly id: number;
      readonly survey: Survey;
      readonly levels: readonly PyramidLevel[];
    }
  | { readonly kind: 'divided'; readonly id: number; readonly survey: Survey }
  | { readonly kind: 'traced'; readonly id: number; readonly trace: LeakTrace | null }
  | { readonly kind: 'touching'; readonly id: number; readonly pairs: Int32Array }
  | { readonly kind: 'failed'; readonly id: number; readonly message: string };

export interface ViewOptions {
  readonly markMissing: boolean;
  readonly showInk: boolean;
  readonly showFlats: boolean;
}

/** What a small picture shows: a region, outlined, or a place, `span` page px wide. */
export type CropOf = { readonly region: number } | { readonly x: number; readonly y: number; readonly span: number };

/** How a closure is drawn: bounds regions, is proposed but open, was ruled open, was drawn by hand. */
export const STROKE = { closed: 0, proposed: 1, ruledOpen: 2, hand: 3 } as const;

/** Marks over the page that are no ink: closures, a closure being drawn, a leak. */
export interface Overlay {
  /** `[x0, y0, x1, y1, stroke]` each, in page px. */
  readonly closures: Float32Array;
  /** Number of the closure the worklist stands at, -1 for none. */
  readonly current: number;
  readonly draft: readonly [number, number, number, number] | null;
  /** Page points of a leak's way. */
  readonly leak: Int32Array | null;
  readonly narrowest: readonly [number, number] | null;
}

/** To the drawing worker. Every message that changes the picture carries a sequence number. */
export type DrawRequest =
  | { readonly kind: 'canvas'; readonly canvas: OffscreenCanvas; readonly loupe: OffscreenCanvas }
  | { readonly kind: 'page'; readonly seq: number; readonly survey: Survey; readonly levels: readonly PyramidLevel[] }
  /** Other regions on the same page. */
  | { readonly kind: 'division'; readonly seq: number; readonly survey: Survey }
  | { readonly kind: 'overlay'; readonly seq: number; readonly overlay: Overlay | null }
  | { readonly kind: 'paint'; readonly seq: number; readonly colours: Uint32Array; readonly trapDepth2: number }
  /** Colours of single regions: RGBA words, {@link OPEN} for a region without a part. */
  | { readonly kind: 'patch'; readonly seq: number; readonly regions: Int32Array; readonly colours: Uint32Array }
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
  | { readonly kind: 'presented'; readonly seq: number; readonly composeMs: number }
  | {
      readonly kind: 'crop';
      readonly pixels: ArrayBuffer;
      readonly width: number;
      readonly height: number;
    };

/** In place of a colour: no part yet. Part colours are opaque, "leave empty" is 0. */
export const OPEN = 0x00000001;
