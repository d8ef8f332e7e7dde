import type { PartRaster } from '../trap/renderParts.ts';

/** Which pixels of a page are handed off, and at what size: a box of it, scaled. */
export interface OutputGrid {
  readonly width: number;
  readonly height: number;
  /** The box, in px of the page; it may reach beyond the page, where nothing is. */
  readonly box: readonly [x0: number, y0: number, x1: number, y1: number];
  /** Page px of each column and row by the nearest pixel, -1 beyond the page. */
  readonly columns: Int32Array;
  readonly rows: Int32Array;
}

/**
 * Where pixels of what is handed off lie on the page.
 *
 * @param box in px of the page; null is all of it. @param scale px that are made of one.
 */
export function outputGrid(width: number, height: number, box: OutputGrid['box'] | null, scale: number): OutputGrid {
  const [x0, y0, x1, y1] = (box?.map(Math.round) as unknown as OutputGrid['box']) ?? [0, 0, width, height];
  const columns = places(x0, x1, width, scale);
  const rows = places(y0, y1, height, scale);
  return { width: columns.length, height: rows.length, box: [x0, y0, x1, y1], columns, rows };
}

function places(from: number, to: number, size: number, scale: number): Int32Array {
  const count = Math.max(1, Math.round((to - from) * scale));
  return Int32Array.from({ length: count }, (_, k) => {
    const at = from + Math.floor(((k + 0.5) * (to - from)) / count);
    return at >= 0 && at < size ? at : -1;
  });
}

/** Flats by the nearest pixel. */
export function sampleParts({ width, data, areaPx: parts }: PartRaster, { columns, rows }: OutputGrid): PartRaster {
  const out = new Uint16Array(columns.length * rows.length);
  const areaPx = new Uint32Array(parts.length);
  const box = new Int32Array(parts.length * 4);
  for (let part = 0; part < parts.length; part++) box.set([columns.length, rows.length, 0, 0], part * 4);
  for (let y = 0, at = 0; y < rows.length; y++) {
    const row = rows[y]! * width;
    for (let x = 0; x < columns.length; x++, at++) {
      const value = row < 0 || columns[x]! < 0 ? 0 : data[row + columns[x]!]!;
      if (value === 0) continue;
      out[at] = value;
      const part = value - 1;
      areaPx[part] = areaPx[part]! + 1;
      const edge = part * 4;
      if (x < box[edge]!) box[edge] = x;
      if (y < box[edge + 1]!) box[edge + 1] = y;
      if (x >= box[edge + 2]!) box[edge + 2] = x + 1;
      if (y >= box[edge + 3]!) box[edge + 3] = y + 1;
    }
  }
  return { width: columns.length, height: rows.length, data: out, box, areaPx };
}

/** RGBA words by the nearest pixel. */
export function sampleWords(words: Uint32Array, width: number, { columns, rows }: OutputGrid): Uint32Array {
  const out = new Uint32Array(columns.length * rows.length);
  for (let y = 0, at = 0; y < rows.length; y++) {
    const row = rows[y]! * width;
    for (let x = 0; x < columns.length; x++, at++)
      if (row >= 0 && columns[x]! >= 0) out[at] = words[row + columns[x]!]!;
  }
  return out;
}

/**
 * Ink 0..255 at another size: the mean of what a pixel covers where it gets smaller, between the nearest four pixels where it
 * gets larger.
 */
export function sampleInk(ink: Uint8Array, width: number, height: number, grid: OutputGrid): Uint8Array {
  const across = spread(grid.box[0], grid.box[2], grid.width, width);
  const down = spread(grid.box[1], grid.box[3], grid.height, height);
  const out = new Uint8Array(grid.width * grid.height);
  const row = new Float32Array(grid.width);
  // Rows of the page, squeezed across, that rows of the output are made of.
  const squeezed = new Map<number, Float32Array>();
  const rowOf = (y: number): Float32Array => {
    const known = squeezed.get(y);
    if (known !== undefined) return known;
    const made = new Float32Array(grid.width);
    for (let x = 0; x < grid.width; x++) {
      let sum = 0;
      for (let k = across.starts[x]!; k < across.starts[x + 1]!; k++)
        sum += ink[y * width + across.places[k]!]! * across.weights[k]!;
      made[x] = sum;
    }
    squeezed.set(y, made);
    return made;
  };
  for (let y = 0; y < grid.height; y++) {
    row.fill(0);
    let least = height;
    for (let k = down.starts[y]!; k < down.starts[y + 1]!; k++) {
      const from = rowOf(down.places[k]!);
      least = Math.min(least, down.places[k]!);
      for (let x = 0; x < grid.width; x++) row[x] = row[x]! + from[x]! * down.weights[k]!;
    }
    for (const known of squeezed.keys()) if (known < least) squeezed.delete(known);
    for (let x = 0; x < grid.width; x++) out[y * grid.width + x] = Math.round(row[x]!);
  }
  return out;
}

/** Which pixels of a line make each of another, and how much of it. */
interface Spread {
  /** Where those of each pixel begin in the lists, and one more. */
  readonly starts: Int32Array;
  readonly places: Int32Array;
  readonly weights: Float32Array;
}

function spread(from: number, to: number, count: number, size: number): Spread {
  const step = (to - from) / count;
  const starts = [0];
  const places: number[] = [];
  const weights: number[] = [];
  const add = (place: number, weight: number): void => {
    if (weight <= 0 || place < 0 || place >= size) return;
    places.push(place);
    weights.push(weight);
  };
  for (let k = 0; k < count; k++) {
    const [first, last] = [from + k * step, from + (k + 1) * step];
    if (step >= 1) {
      for (let at = Math.floor(first); at < last; at++) add(at, (Math.min(last, at + 1) - Math.max(first, at)) / step);
    } else {
      const middle = (first + last) / 2 - 0.5;
      const at = Math.floor(middle);
      // At its edge the page goes on as it is; beyond it there is nothing.
      const isInside = middle > -1 && middle < size;
      const inside = (place: number): number => Math.max(0, Math.min(size - 1, place));
      if (isInside) {
        add(inside(at), 1 - (middle - at));
        add(inside(at + 1), middle - at);
      }
    }
    starts.push(places.length);
  }
  return { starts: Int32Array.from(starts), places: Int32Array.from(places), weights: Float32Array.from(weights) };
}
