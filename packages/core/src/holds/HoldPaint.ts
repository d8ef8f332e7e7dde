import { TILE_AREA, TILE_PX } from '../model/CorrectionTile.ts';
import type { TileRaster } from '../corrections/Corrections.ts';
import type { LinePieces } from './LinePieces.ts';

/** What colour every line has, as the compositor reads it. */
export interface HoldPaint {
  readonly ofPixel: LinePieces['ofPixel'];
  /** RGBA word of each piece, 0 where it is black; one more at the front, for pixels of none. */
  readonly words: Uint32Array;
  /** RGBA words of single pixels, where colours vary along a line; 0 elsewhere. */
  readonly varying: TileRaster | null;
}

/** The RGBA word of a pixel's ink, 0 for black. */
export function holdWordAt({ ofPixel, words, varying }: HoldPaint, width: number, x: number, y: number): number {
  if (varying !== null) {
    const tile = varying.tiles.get(Math.floor(y / TILE_PX) * varying.tilesPerRow + Math.floor(x / TILE_PX));
    const word = tile?.[(y % TILE_PX) * TILE_PX + (x % TILE_PX)] ?? 0;
    if (word !== 0) return word;
  }
  return words[ofPixel[y * width + x]!]!;
}

/** Writes single pixels into squares that are made as they are needed. */
export class VaryingPixels {
  private readonly tiles = new Map<number, Uint32Array>();
  private readonly tilesPerRow: number;
  /** The square that was written last: most pixels lie in it too. */
  private last = -1;
  private square: Uint32Array | undefined;

  constructor(width: number) {
    this.tilesPerRow = Math.ceil(width / TILE_PX);
  }

  /** @returns the number of the square. */
  set(x: number, y: number, word: number): number {
    const number = Math.floor(y / TILE_PX) * this.tilesPerRow + Math.floor(x / TILE_PX);
    if (number !== this.last) {
      this.square = this.tiles.get(number);
      if (this.square === undefined) this.tiles.set(number, (this.square = new Uint32Array(TILE_AREA)));
      this.last = number;
    }
    this.square![(y % TILE_PX) * TILE_PX + (x % TILE_PX)] = word;
    return number;
  }

  get raster(): TileRaster | null {
    return this.tiles.size === 0 ? null : { tilesPerRow: this.tilesPerRow, tiles: this.tiles };
  }
}
