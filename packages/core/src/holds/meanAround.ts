/** The flats of a page in their colours. */
export interface FlatsAround {
  readonly width: number;
  readonly height: number;
  /** Place in `rgb` plus one, 0 without colour, for each pixel. */
  readonly data: Uint16Array;
  /** 0xRRGGBB. */
  readonly rgb: readonly number[];
}

/** From this radius on the flats are averaged over squares first, so many of which a radius holds; fewer on a large page. */
const CELLS_A_RADIUS = 8;
const CELLS_ON_LARGE = 5;
const LARGE_PX = 12_000_000;
/** On a large page squares are larger, so that there are no more than these. */
const MOST_SQUARES = 3_000_000;
const [UNKNOWN, NONE] = [-2, -1];

/**
 * The mean of the coloured flats within a radius around each pixel, as 0xRRGGBB; -1 where there is none.
 *
 * Sums of squares of pixels along rows are kept, and a disc is a few of these: for wide radii a square is several px, and
 * what lies between their middles is interpolated. Cost: a read of the flats, and the rows of a disc for each pixel asked for.
 */
export function meanAround(
  { width, height, data, rgb }: FlatsAround,
  radiusPx: number,
): (x: number, y: number) => number {
  const size = Math.max(
    1,
    Math.floor(radiusPx / (width * height > LARGE_PX ? CELLS_ON_LARGE : CELLS_A_RADIUS)),
    Math.ceil(Math.sqrt((width * height) / MOST_SQUARES)),
  );
  const columns = Math.ceil(width / size);
  const rows = Math.ceil(height / size);
  const stride = columns + 1;
  // Four sums a square, each with all squares to its left in the row: red, green, blue, count.
  const sums = new Uint32Array(stride * rows * 4);
  for (let y = 0; y < height; y++) {
    const [line, row] = [y * width, Math.floor(y / size) * stride];
    for (let x = 0; x < width;) {
      const value = data[line + x]!;
      let end = x + 1;
      while (end < width && data[line + end] === value) end++;
      if (value !== 0) addRun(sums, row, x, end, size, rgb[value - 1]!);
      x = end;
    }
  }
  for (let row = 0; row < rows; row++) {
    for (let k = (row * stride + 1) * 4; k < (row + 1) * stride * 4; k++) sums[k] = sums[k]! + sums[k - 4]!;
  }
  const reach = radiusPx / size;
  const most = Math.floor(reach);
  const half = Int32Array.from({ length: most + 1 }, (_, dy) => Math.floor(Math.sqrt(reach * reach - dy * dy)));
  const known = new Int32Array(columns * rows).fill(UNKNOWN);
  /** The mean of the disc around the middle of a square. */
  const disc = (column: number, row: number): number => {
    const place = row * columns + column;
    if (known[place] !== UNKNOWN) return known[place]!;
    let r = 0;
    let g = 0;
    let b = 0;
    let count = 0;
    for (let dy = -most; dy <= most; dy++) {
      const py = row + dy;
      if (py < 0 || py >= rows) continue;
      const wide = half[dy < 0 ? -dy : dy]!;
      const from = (py * stride + (column - wide < 0 ? 0 : column - wide)) * 4;
      const to = (py * stride + (column + wide >= columns ? columns : column + wide + 1)) * 4;
      r += sums[to]! - sums[from]!;
      g += sums[to + 1]! - sums[from + 1]!;
      b += sums[to + 2]! - sums[from + 2]!;
      count += sums[to + 3]! - sums[from + 3]!;
    }
    return (known[place] = count === 0 ? NONE : packed(r / count, g / count, b / count));
  };
  // Pixels are asked for along rows, so that most lie between the same four squares as the one before.
  const corners = new Int32Array(4);
  let [cornerColumn, cornerRow, areWhole] = [NaN, NaN, false];
  return (x, y) => {
    const fx = (x + 0.5) / size - 0.5;
    const fy = (y + 0.5) / size - 0.5;
    const left = Math.floor(fx);
    const top = Math.floor(fy);
    if (left !== cornerColumn || top !== cornerRow) {
      [cornerColumn, cornerRow, areWhole] = [left, top, true];
      for (let k = 0; k < 4; k++) {
        const [column, row] = [left + (k & 1), top + (k >> 1)];
        const isInside = column >= 0 && row >= 0 && column < columns && row < rows;
        corners[k] = isInside ? disc(column, row) : NONE;
        areWhole &&= corners[k] === corners[0] && corners[0] !== NONE;
      }
    }
    if (areWhole) return corners[0]!;
    const sx = fx - left;
    const sy = fy - top;
    let r = 0;
    let g = 0;
    let b = 0;
    let weight = 0;
    for (let k = 0; k < 4; k++) {
      const one = corners[k]!;
      if (one === NONE) continue;
      const share = ((k & 1) === 1 ? sx : 1 - sx) * (k > 1 ? sy : 1 - sy);
      r += share * (one >>> 16);
      g += share * ((one >>> 8) & 255);
      b += share * (one & 255);
      weight += share;
    }
    return weight === 0 ? NONE : packed(r / weight, g / weight, b / weight);
  };
}

/** Adds pixels of one colour in a row to their squares' sums. */
function addRun(sums: Uint32Array, row: number, from: number, to: number, size: number, colour: number): void {
  const [r, g, b] = [colour >>> 16, (colour >>> 8) & 255, colour & 255];
  for (let column = Math.floor(from / size), x = from; x < to; column++) {
    const end = Math.min(to, (column + 1) * size);
    const at = (row + column + 1) * 4;
    const count = end - x;
    sums[at] = sums[at]! + r * count;
    sums[at + 1] = sums[at + 1]! + g * count;
    sums[at + 2] = sums[at + 2]! + b * count;
    sums[at + 3] = sums[at + 3]! + count;
    x = end;
  }
}

function packed(r: number, g: number, b: number): number {
  return (((r + 0.5) | 0) << 16) | (((g + 0.5) | 0) << 8) | ((b + 0.5) | 0);
}
