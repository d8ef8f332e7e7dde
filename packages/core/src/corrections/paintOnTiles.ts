import { packTile, TILE_AREA, TILE_PX, unpackTile, type CorrectionTile } from '../model/CorrectionTile.ts';
import type { Json, RecordEdit } from '../model/records.ts';
import { tilesPerRow } from './Corrections.ts';

/**
 * The edits that paint pixels of a page with parts, over what was painted before.
 *
 * @param partAt part of a pixel; null leaves it as it is. @param tiles of the page, by `tx,ty`.
 */
export function paintOnTiles(
  width: number,
  height: number,
  partAt: (x: number, y: number) => string | null,
  tiles: ReadonlyMap<string, CorrectionTile>,
): RecordEdit[] {
  const parts: string[] = [];
  const places = new Map<string, number>();
  const placeOf = (part: string): number => {
    let place = places.get(part);
    if (place === undefined) places.set(part, (place = parts.push(part)));
    return place;
  };
  const edits: RecordEdit[] = [];
  const values = new Uint16Array(TILE_AREA);
  for (let ty = 0; ty < Math.ceil(height / TILE_PX); ty++) {
    for (let tx = 0; tx < tilesPerRow(width); tx++) {
      const key = `${tx},${ty}`;
      const before = tiles.get(key);
      if (before === undefined) values.fill(0);
      else unpackTile(before, placeOf, values);
      let isChanged = false;
      for (let y = ty * TILE_PX; y < Math.min(height, (ty + 1) * TILE_PX); y++) {
        for (let x = tx * TILE_PX; x < Math.min(width, (tx + 1) * TILE_PX); x++) {
          const part = partAt(x, y);
          if (part === null) continue;
          values[(y % TILE_PX) * TILE_PX + (x % TILE_PX)] = placeOf(part);
          isChanged = true;
        }
      }
      if (!isChanged) continue;
      const tile = packTile(values, (value) => parts[value - 1]!);
      edits.push({ key: `tile/${key}`, value: tile as unknown as Json });
    }
  }
  return edits;
}
