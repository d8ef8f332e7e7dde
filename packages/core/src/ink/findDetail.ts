import type { DetailRule } from '../model/inkMeasures.ts';
import { depth2At } from '../raster/depth2At.ts';
import { Int32Stack } from '../raster/growable.ts';
import { eachRunOf, labelInk } from './labelInk.ts';

/**
 * Takes detail out of a copy of the ink: pieces that are short as a whole, and strokes thinner than
 * given wherever they hang. The tapered ends of thicker lines stay: what is thin for less than three
 * times the width is an end, not a stroke.
 *
 * @param bounds ink alpha; detail is set to 0 in it. @param field `~index` of the nearest paper on ink.
 */
export function leaveOutDetail(
  bounds: Uint8Array,
  field: Int32Array,
  width: number,
  height: number,
  { thinnerThanPx, shorterThanPx }: DetailRule,
): void {
  if (shorterThanPx > 0) {
    const pieces = labelInk(bounds, width, height);
    const isShort = (piece: number): boolean => {
      const [x0, y0, x1, y1] = pieces.box.subarray(piece * 4, piece * 4 + 4) as unknown as [
        number,
        number,
        number,
        number,
      ];
      return (x1 - x0) * (x1 - x0) + (y1 - y0) * (y1 - y0) < shorterThanPx * shorterThanPx;
    };
    eachRunOf(pieces, isShort, width, (from, to) => bounds.fill(0, from, to));
  }
  if (thinnerThanPx > 0) leaveOutThin(bounds, field, width, height, thinnerThanPx);
}

/** Opening by a disc (Serra 1982): what no disc of the width fits into is thin. */
function leaveOutThin(bounds: Uint8Array, field: Int32Array, width: number, height: number, widthPx: number): void {
  const radius2 = (widthPx * widthPx) / 4;
  const reach = Math.ceil(widthPx / 2) + 1;
  const wide = new Uint8Array(width * height);
  const rim: number[] = [];
  for (let at = 0; at < field.length; at++) {
    if (field[at]! < 0 && depth2At(field, width, at) >= radius2) wide[at] = 1;
  }
  for (let at = 0; at < wide.length; at++) {
    if (
      wide[at] === 1 &&
      (wide[at - 1] !== 1 || wide[at + 1] !== 1 || wide[at - width] !== 1 || wide[at + width] !== 1)
    )
      rim.push(at);
  }
  for (const at of rim) stampDisc(wide, width, height, at, reach);

  // What is left over is thin; short left-overs that hang on wide ink are its ends.
  const piece = new Int32Stack(256);
  const seen = new Uint8Array(width * height);
  for (let start = 0; start < bounds.length; start++) {
    if (bounds[start] === 0 || wide[start] !== 0 || seen[start] === 1) continue;
    const { hangs, extent2 } = growThin(start, bounds, wide, seen, width, height, piece);
    if (hangs && extent2 < 9 * widthPx * widthPx) continue;
    for (let k = 0; k < piece.length; k++) bounds[piece.data[k]!] = 0;
  }
}

function growThin(
  start: number,
  bounds: Uint8Array,
  wide: Uint8Array,
  seen: Uint8Array,
  width: number,
  height: number,
  piece: Int32Stack,
): { hangs: boolean; extent2: number } {
  let hangs = false;
  let [x0, y0, x1, y1] = [width, height, 0, 0];
  piece.length = 0;
  piece.push(start);
  seen[start] = 1;
  for (let k = 0; k < piece.length; k++) {
    const at = piece.data[k]!;
    const x = at % width;
    const y = (at - x) / width;
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
    for (let ny = Math.max(0, y - 1); ny <= Math.min(height - 1, y + 1); ny++) {
      for (let nx = Math.max(0, x - 1); nx <= Math.min(width - 1, x + 1); nx++) {
        const next = ny * width + nx;
        if (wide[next] !== 0) hangs = true;
        else if (bounds[next] !== 0 && seen[next] === 0) {
          seen[next] = 1;
          piece.push(next);
        }
      }
    }
  }
  return { hangs, extent2: (x1 - x0) * (x1 - x0) + (y1 - y0) * (y1 - y0) };
}

function stampDisc(wide: Uint8Array, width: number, height: number, at: number, reach: number): void {
  const x = at % width;
  const y = (at - x) / width;
  for (let ny = Math.max(0, y - reach); ny <= Math.min(height - 1, y + reach); ny++) {
    const across = Math.floor(Math.sqrt(reach * reach - (ny - y) * (ny - y)));
    const from = Math.max(0, x - across);
    const to = Math.min(width - 1, x + across);
    for (let nx = from; nx <= to; nx++) if (wide[ny * width + nx] === 0) wide[ny * width + nx] = 2;
  }
}
