import { parseColour, rgbaWord } from '../colour/hex.ts';
import type { TileRaster } from '../corrections/Corrections.ts';
import { visitStroke } from '../corrections/visitStroke.ts';
import { TILE_AREA, TILE_PX } from '../model/CorrectionTile.ts';
import type { LineStroke } from '../model/Holds.ts';
import { VaryingPixels, type HoldPaint } from './HoldPaint.ts';
import type { LinePieces } from './LinePieces.ts';

/** A hard brush that colours lines, and what is two px past their edge; paper stays as it is. */
export class LineBrush {
  private readonly pixels: VaryingPixels;

  constructor(
    private readonly page: Pick<LinePieces, 'width' | 'height'>,
    private readonly ofPixel: HoldPaint['ofPixel'],
  ) {
    this.pixels = new VaryingPixels(page.width);
  }

  /** Colours of single pixels as RGBA words, 0 where nothing was painted; null where no line was met. */
  get raster(): TileRaster | null {
    return this.pixels.raster;
  }

  /** @returns the numbers of the squares that it came to. */
  paint({ colour, sizePx, points }: Omit<LineStroke, 'stamp'>): Set<number> {
    const { width, height } = this.page;
    const word = colour === null ? 0 : rgbaWord(parseColour(colour));
    const squares = new Set<number>();
    points.forEach((point, k) =>
      visitStroke(points[k - 1] ?? point, point, sizePx, width, height, (x, y) => {
        if (this.ofPixel[y * width + x] !== 0) squares.add(this.pixels.set(x, y, word));
      }),
    );
    return squares;
  }
}

/**
 * What strokes painted lies over what rules made of the lines. Pieces that were painted on take the mean of what they show
 * into `rgb`, so that they are measured with it.
 */
export function touchUp(
  pieces: LinePieces,
  paint: HoldPaint,
  strokes: readonly LineStroke[],
  rgb: Int32Array,
): HoldPaint {
  const brush = new LineBrush(pieces, pieces.ofPixel);
  for (const stroke of [...strokes].sort((a, b) => a.stamp - b.stamp)) brush.paint(stroke);
  const { raster } = brush;
  if (raster === null) return paint;
  const tiles = new Map(paint.varying?.tiles);
  /** By piece: red, green and blue more than before, in all its ink. */
  const more = new Map<number, [number, number, number]>();
  for (const [number, words] of raster.tiles) {
    const merged = tiles.get(number)?.slice() ?? new Uint32Array(TILE_AREA);
    tiles.set(number, merged);
    const [left, top] = [(number % raster.tilesPerRow) * TILE_PX, Math.floor(number / raster.tilesPerRow) * TILE_PX];
    words.forEach((word, inTile) => {
      if (word === 0) return;
      const at = (top + Math.floor(inTile / TILE_PX)) * pieces.width + left + (inTile % TILE_PX);
      const piece = pieces.ofPixel[at]! - 1;
      const before = merged[inTile]! || paint.words[piece + 1]!;
      merged[inTile] = word;
      if (pieces.field[at]! >= 0) return;
      let sums = more.get(piece);
      if (sums === undefined) more.set(piece, (sums = [0, 0, 0]));
      for (let k = 0; k < 3; k++) sums[k] = sums[k]! + ((word >>> (8 * k)) & 255) - ((before >>> (8 * k)) & 255);
    });
  }
  for (const [piece, sums] of more) {
    const before = Math.max(0, rgb[piece]!);
    const channel = (k: number): number =>
      Math.min(255, Math.max(0, Math.round(((before >>> (16 - 8 * k)) & 255) + sums[k]! / pieces.areaPx[piece]!)));
    rgb[piece] = (channel(0) << 16) | (channel(1) << 8) | channel(2);
  }
  return { ...paint, varying: { tilesPerRow: raster.tilesPerRow, tiles } };
}
