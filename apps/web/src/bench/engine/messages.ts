import type { Prep, PyramidLevel, Survey, Viewport } from '@jumble/core';

/** To the computing worker. */
export type SurveyRequest =
  | {
      readonly kind: 'survey';
      readonly id: number;
      readonly url: string;
      readonly width: number;
      readonly height: number;
      readonly prep: Prep;
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
  | { readonly kind: 'touching'; readonly id: number; readonly pairs: Int32Array }
  | { readonly kind: 'failed'; readonly id: number; readonly message: string };

export interface ViewOptions {
  readonly markMissing: boolean;
  readonly showInk: boolean;
  readonly showFlats: boolean;
}

/** To the drawing worker. Every message that changes the picture carries a sequence number. */
export type DrawRequest =
  | { readonly kind: 'canvas'; readonly canvas: OffscreenCanvas; readonly loupe: OffscreenCanvas }
  | { readonly kind: 'page'; readonly seq: number; readonly survey: Survey; readonly levels: readonly PyramidLevel[] }
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
      readonly region: number;
      readonly width: number;
      readonly height: number;
    };

/** From the drawing worker. */
export type DrawAnswer =
  | { readonly kind: 'presented'; readonly seq: number; readonly composeMs: number }
  | {
      readonly kind: 'crop';
      readonly region: number;
      readonly pixels: ArrayBuffer;
      readonly width: number;
      readonly height: number;
    };

/** In place of a colour: no part yet. Part colours are opaque, "leave empty" is 0. */
export const OPEN = 0x00000001;
