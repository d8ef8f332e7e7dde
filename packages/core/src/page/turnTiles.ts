import { packTile, TILE_AREA, TILE_PX, unpackTile, type CorrectionTile } from '../model/CorrectionTile.ts';
import type { Point } from '../model/Point.ts';

/**
 * Moves painted pixels along with a page that is turned: each pixel of the result takes what was painted
 * where it came from.
 *
 * @param forth where a pixel goes. @param back where one comes from.
 */
export function turnTiles(
  tiles: ReadonlyMap<string, CorrectionTile>,
  forth: (point: Point) => Point,
  back: (point: Point) => Point,
): Map<string, CorrectionTile> {
  const parts: string[] = [];
  const numberOf = (part: string): number => parts.indexOf(part) + 1 || parts.push(part);
  const before = new Map<string, Uint16Array>();
  const wanted = new Set<string>();
  for (const [key, tile] of tiles) {
    const values = new Uint16Array(TILE_AREA);
    unpackTile(tile, numberOf, values);
    before.set(key, values);
    const [tx, ty] = key.split(',').map(Number) as [number, number];
    // A square turned a little reaches into those around the places its corners go to.
    for (const [x, y] of [
      [0, 0],
      [TILE_PX - 1, 0],
      [0, TILE_PX - 1],
      [TILE_PX - 1, TILE_PX - 1],
    ] as const) {
      wanted.add(tileOf(forth([tx * TILE_PX + x, ty * TILE_PX + y])));
    }
  }
  const turned = new Map<string, CorrectionTile>();
  for (const key of wanted) {
    const [tx, ty] = key.split(',').map(Number) as [number, number];
    const values = new Uint16Array(TILE_AREA);
    for (let k = 0; k < TILE_AREA; k++) {
      const [x, y] = back([tx * TILE_PX + (k % TILE_PX), ty * TILE_PX + Math.floor(k / TILE_PX)]);
      const from = before.get(tileOf([x, y]));
      if (from !== undefined) values[k] = from[(y % TILE_PX) * TILE_PX + (x % TILE_PX)]!;
    }
    const packed = packTile(values, (value) => parts[value - 1]!);
    if (packed !== null) turned.set(key, packed);
  }
  return turned;
}

function tileOf([x, y]: Point): string {
  return `${Math.floor(x / TILE_PX)},${Math.floor(y / TILE_PX)}`;
}
