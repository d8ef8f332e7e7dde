/** What a package must hold: the page as it was rendered, not as it was written. */
export interface ExpectedPage {
  readonly width: number;
  readonly height: number;
  /** Part number + 1 of each pixel, 0 for none. */
  readonly parts: Uint16Array;
  /** 0xRRGGBB by part number. */
  readonly rgbOfPart: readonly number[];
  readonly inkAlpha: Uint8Array;
  /** Line art of 1 bit at its own size; null where it has 8. */
  readonly hardInk: { readonly width: number; readonly height: number; readonly data: Uint8Array } | null;
  /** RGBA words of coloured lines, 0 for black ones; null where all are black. */
  readonly holds: Uint32Array | null;
  /** RGBA words of closures; null where they are left out. */
  readonly closures: Uint32Array | null;
  readonly inkName: string;
  /** Names of the layers that may be there, in their order. */
  readonly layers: readonly LayerName[];
}

export interface LayerName {
  readonly group: string | null;
  readonly name: string;
}

/** What was read again. */
export interface ReadBackReport {
  readonly pictures: number;
  readonly pixels: number;
}

/** A package does not hold what it should. */
export class ReadBackError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'ReadBackError';
  }
}
