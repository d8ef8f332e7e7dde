import type { Survey } from '../model/Survey.ts';
import { type CorrectionTile, TILE_AREA, TILE_PX, unpackTile } from '../model/CorrectionTile.ts';

/** Numbers on some squares of a page: 0 where the page itself speaks. */
export interface TileRaster {
  readonly tilesPerRow: number;
  /** `TILE_AREA` numbers each, by `ty * tilesPerRow + tx`. */
  readonly tiles: ReadonlyMap<number, Uint32Array>;
}

/** What was painted over the regions of a page. */
export interface Corrections {
  readonly tilesPerRow: number;
  /** The parts that occur. */
  readonly parts: readonly string[];
  /** 1 + place in `parts`, by `ty * tilesPerRow + tx`; 0 where nothing was painted. */
  readonly tiles: ReadonlyMap<number, Uint16Array>;
}

export function tilesPerRow(width: number): number {
  return Math.ceil(width / TILE_PX);
}

/** Reads the tiles of a page. What was painted with a part that `partOf` does not know counts as not painted. */
export function readCorrections(
  width: number,
  tiles: ReadonlyMap<string, CorrectionTile>,
  partOf: (part: string) => string | null,
): Corrections {
  const parts: string[] = [];
  const places = new Map<string, number>();
  const numberOf = (id: string): number => {
    const part = partOf(id);
    if (part === null) return 0;
    let place = places.get(part);
    if (place === undefined) places.set(part, (place = parts.push(part)));
    return place;
  };
  const perRow = tilesPerRow(width);
  const read = new Map<number, Uint16Array>();
  for (const [key, tile] of tiles) {
    const [tx, ty] = key.split(',').map(Number) as [number, number];
    if (tx >= perRow) continue;
    const values = new Uint16Array(TILE_AREA);
    unpackTile(tile, numberOf, values);
    read.set(ty * perRow + tx, values);
  }
  return { tilesPerRow: perRow, parts, tiles: read };
}

/** The part painted on a pixel, null where nothing was. */
export function correctionAt({ tilesPerRow: perRow, tiles, parts }: Corrections, x: number, y: number): string | null {
  const tile = tiles.get(Math.floor(y / TILE_PX) * perRow + Math.floor(x / TILE_PX));
  const value = tile?.[(y % TILE_PX) * TILE_PX + (x % TILE_PX)] ?? 0;
  return value === 0 ? null : parts[value - 1]!;
}

type Field = Pick<Survey, 'width' | 'height' | 'field' | 'regions'>;

/** The region a pixel belongs to, ink by the paper nearest to it; -1 where there is none. */
export function regionUnder({ field, regions }: Field, at: number): number {
  const value = field[at]!;
  const cell = value >= 0 ? value : (field[~value] ?? -1);
  return cell < 0 ? -1 : (regions.ofCell[cell] ?? -1);
}

/** Gives each painted pixel a number, by its part and the region it lies in. @param numberOf 0 leaves the page as it is. */
export function paintTiles(
  survey: Field,
  { tilesPerRow: perRow, tiles, parts }: Corrections,
  numberOf: (part: string, region: number) => number,
): TileRaster {
  const painted = new Map<number, Uint32Array>();
  for (const [tile, values] of tiles) {
    const numbers = new Uint32Array(TILE_AREA);
    eachPixel(survey, perRow, tile, (at, inTile) => {
      const value = values[inTile]!;
      if (value > 0) numbers[inTile] = numberOf(parts[value - 1]!, regionUnder(survey, at));
    });
    painted.set(tile, numbers);
  }
  return { tilesPerRow: perRow, tiles: painted };
}

/**
 * The part of each region whose paper is painted all over, with most of the pixels; others are absent.
 * Such a region is done, whatever fills say.
 */
export function coveredRegions(survey: Field, corrections: Corrections): ReadonlyMap<number, string> {
  const { tilesPerRow: perRow, tiles, parts } = corrections;
  const shares = new Map<number, Uint32Array>();
  for (const [tile, values] of tiles) {
    eachPixel(survey, perRow, tile, (at, inTile) => {
      const value = values[inTile]!;
      const cell = survey.field[at]!;
      if (value === 0 || cell < 0) return;
      const region = survey.regions.ofCell[cell]!;
      let share = shares.get(region);
      if (share === undefined) shares.set(region, (share = new Uint32Array(parts.length)));
      share[value - 1] = share[value - 1]! + 1;
    });
  }
  const covered = new Map<number, string>();
  for (const [region, share] of shares) {
    const sum = share.reduce((a, b) => a + b, 0);
    if (sum < survey.regions.areaPx[region]!) continue;
    covered.set(region, parts[share.indexOf(Math.max(...share))]!);
  }
  return covered;
}

function eachPixel(
  { width, height }: Field,
  perRow: number,
  tile: number,
  visit: (at: number, inTile: number) => void,
): void {
  const left = (tile % perRow) * TILE_PX;
  const top = Math.floor(tile / perRow) * TILE_PX;
  const [columns, rows] = [Math.min(TILE_PX, width - left), Math.min(TILE_PX, height - top)];
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < columns; x++) visit((top + y) * width + left + x, y * TILE_PX + x);
  }
}
