/** A picture in an OpenRaster stack. */
export interface OraLayer {
  readonly kind: 'layer';
  readonly name: string;
  /** PNG bytes. */
  readonly png: Uint8Array;
  /** Offset on the page, in px. */
  readonly x: number;
  readonly y: number;
  readonly compositeOp: 'svg:src-over' | 'svg:multiply' | 'svg:src-atop';
  readonly editLocked: boolean;
  readonly selected: boolean;
  /** 0..1. @default 1 */
  readonly opacity?: number;
  /** @default it shows */
  readonly hidden?: boolean;
}

/** A named group of layers. */
export interface OraStack {
  readonly kind: 'stack';
  readonly name: string;
  /** Topmost first. */
  readonly children: readonly OraNode[];
  /** @default 'svg:src-over' */
  readonly compositeOp?: OraLayer['compositeOp'];
  /** @default it shows */
  readonly hidden?: boolean;
}

export type OraNode = OraLayer | OraStack;

/** An OpenRaster picture. */
export interface OraImage {
  readonly width: number;
  readonly height: number;
  readonly dpi: number | null;
  /** Topmost first. */
  readonly children: readonly OraNode[];
  /** PNG of everything merged, full size; empty where a file that was read has none. */
  readonly merged: Uint8Array;
  /** PNG of at most 256 px a side; empty where a file that was read has none. */
  readonly thumbnail: Uint8Array;
}
