/** A figure with the loop a rough hand draws round it, in squares. */
export interface LoopedFigure {
  readonly loop: readonly (readonly [number, number])[];
  /** 1 for its squares, holes filled. */
  readonly figure: Uint8Array;
}

/** Lines part a figure's shapes by so many squares at most. */
const LINE = 3;
/** A figure smaller than this share of the page is not gone round. */
const LEAST_SHARE = 0.002;
/** How far from the figure the loop runs, as a share of the page, and by how much of that it wavers. */
const MARGIN = 0.006;
const WAVER = 0.6;
/** The hand goes on in straight pieces of so many squares. */
const PIECE = 12;
/** The eight squares around one, clockwise from the right. */
const AROUND = [[1, 0], [1, 1], [0, 1], [-1, 1], [-1, 0], [-1, -1], [0, -1], [1, -1]] as const; // prettier-ignore

/**
 * Rough loops round the figures of a mask.
 *
 * @param mask 1 for squares of some figure, `width * height`. @param random 0..1.
 */
export function roughLoop(mask: Uint8Array, width: number, height: number, random: () => number): LoopedFigure[] {
  const margin = Math.round(MARGIN * Math.sqrt(mask.length));
  return piecesOf(mask, width, height).map((piece) => {
    const near = fillHoles(grow(piece, width, height, LINE - 1), width, height);
    const away = grow(invert(near), width, height, LINE - 1);
    const outer = outlineOf(fillHoles(grow(piece, width, height, margin), width, height), width, height);
    const shake = (): number => margin * WAVER * (2 * random() - 1);
    const loop = outer
      .filter((_, k) => k % PIECE === 0)
      .map(([x, y]): readonly [number, number] => [x + shake(), y + shake()]);
    return { loop, figure: invert(away) };
  });
}

/** Masks of what hangs together across lines. */
function piecesOf(mask: Uint8Array, width: number, height: number): Uint8Array[] {
  const seen = new Uint8Array(mask.length);
  const pieces: Uint8Array[] = [];
  for (let start = 0; start < mask.length; start++) {
    if (mask[start] === 0 || seen[start] === 1) continue;
    seen[start] = 1;
    const squares = [start];
    for (let k = 0; k < squares.length; k++) {
      const [x, y] = [squares[k]! % width, Math.floor(squares[k]! / width)];
      for (let ny = Math.max(0, y - LINE); ny <= Math.min(height - 1, y + LINE); ny++) {
        for (let nx = Math.max(0, x - LINE); nx <= Math.min(width - 1, x + LINE); nx++) {
          const next = ny * width + nx;
          if (mask[next] === 0 || seen[next] === 1) continue;
          seen[next] = 1;
          squares.push(next);
        }
      }
    }
    if (squares.length < LEAST_SHARE * mask.length) continue;
    const piece = new Uint8Array(mask.length);
    for (const square of squares) piece[square] = 1;
    pieces.push(piece);
  }
  return pieces;
}

const invert = (mask: Uint8Array): Uint8Array => mask.map((one) => 1 - one);

/** A mask with all within so many squares of it, along rows, then along columns. */
function grow(mask: Uint8Array, width: number, height: number, reach: number): Uint8Array {
  const along = (from: Uint8Array, lines: number, length: number, step: number, lineStep: number): Uint8Array => {
    const grown = new Uint8Array(from.length);
    for (let line = 0; line < lines; line++) {
      for (const [first, direction] of [
        [0, 1],
        [length - 1, -1],
      ] as const) {
        let left = 0;
        for (let k = 0; k < length; k++) {
          const at = line * lineStep + (first + direction * k) * step;
          left = from[at] === 1 ? reach + 1 : left - 1;
          if (left > 0) grown[at] = 1;
        }
      }
    }
    return grown;
  };
  return along(along(mask, height, width, 1, width), width, height, width, 1);
}

/** A mask with everything it encloses; the first square lies outside. */
function fillHoles(mask: Uint8Array, width: number, height: number): Uint8Array {
  const outside = new Uint8Array(mask.length);
  outside[0] = 1;
  const squares = [0];
  for (const at of squares) {
    const x = at % width;
    for (const next of [x > 0 ? at - 1 : -1, x < width - 1 ? at + 1 : -1, at - width, at + width]) {
      if (next < 0 || next >= width * height || outside[next] === 1 || mask[next] === 1) continue;
      outside[next] = 1;
      squares.push(next);
    }
  }
  return invert(outside);
}

/** The outline of a mask in one piece, clockwise, square by square (Moore's neighbour tracing). */
function outlineOf(mask: Uint8Array, width: number, height: number): [number, number][] {
  const start = mask.indexOf(1);
  const isIn = (x: number, y: number): boolean =>
    x >= 0 && y >= 0 && x < width && y < height && mask[y * width + x] === 1;
  let [x, y, came] = [start % width, Math.floor(start / width), 0];
  const outline: [number, number][] = [];
  do {
    outline.push([x, y]);
    const turn = AROUND.findIndex((_, k) => {
      const [dx, dy] = AROUND[(came + 6 + k) % 8]!;
      return isIn(x + dx, y + dy);
    });
    if (turn < 0) break;
    came = (came + 6 + turn) % 8;
    [x, y] = [x + AROUND[came]![0], y + AROUND[came]![1]];
  } while (y * width + x !== start);
  return outline;
}
