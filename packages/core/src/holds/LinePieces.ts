/** The ink of a page divided into line pieces, from junction to junction or end. */
export interface LinePieces {
  readonly count: number;
  readonly width: number;
  readonly height: number;
  /** As the survey has it: below 0 on ink. */
  readonly field: Int32Array;
  /** One more than the number of each pixel's piece, 0 where none is near; goes {@link PAST_EDGE_PX} past the ink. */
  readonly ofPixel: Uint16Array | Uint32Array;
  /** Ink pixels of each piece. */
  readonly areaPx: Uint32Array;
  /** Length of its middle line, in px. */
  readonly lengthPx: Float64Array;
  /** Mean width along it, in px. */
  readonly widthPx: Float64Array;
  /** `[x0, y0, x1, y1]` of its ink, the last two exclusive. */
  readonly box: Int32Array;
  /** A pixel on its middle line: what a choice by hand is kept under. */
  readonly at: Int32Array;
  readonly isSolid: Uint8Array;
  readonly isLettering: Uint8Array;
}

/** Colours of lines go so far past the ink, so that no soft pixel keeps another one. */
export const PAST_EDGE_PX = 2;
