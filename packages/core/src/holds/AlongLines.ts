import type { LinePieces } from './LinePieces.ts';

/** Steps from one end of a line to the other. */
export const ALONG_STEPS = 1024;

/**
 * How far along its piece each pixel lies, from the left or upper one of the two ends that are furthest apart on the way
 * through the piece: 0 to {@link ALONG_STEPS}. Only pixels of the pieces asked for are written.
 *
 * Cost: three passes over the pixels of a piece, each pixel once.
 */
export class AlongLines {
  /** Steps plus one; 0 where not asked for. */
  private readonly steps: Uint16Array;
  private queue = new Int32Array(1024);

  constructor(private readonly pieces: Pick<LinePieces, 'width' | 'height' | 'ofPixel' | 'at'>) {
    this.steps = new Uint16Array(pieces.width * pieces.height);
  }

  add(piece: number): void {
    const first = this.pieces.at[piece]!;
    const one = this.walk(piece, first, SEEN, null);
    const other = this.walk(piece, one, SEEN + 1, null);
    const { width } = this.pieces;
    const isBefore = one % width < other % width || (one % width === other % width && one < other);
    this.walk(piece, isBefore ? one : other, SEEN + 2, (at, share) => {
      this.steps[at] = 1 + Math.round(share * ALONG_STEPS);
    });
  }

  /** 0..1. */
  shareAt(x: number, y: number): number {
    return Math.max(0, this.steps[y * this.pieces.width + x]! - 1) / ALONG_STEPS;
  }

  /**
   * Goes through a piece from a pixel on, nearest first, and leaves a mark on its pixels.
   *
   * @returns the last pixel reached. @param finish is told of each pixel with how far it lies, once all are known.
   */
  private walk(
    piece: number,
    from: number,
    mark: number,
    finish: ((at: number, share: number) => void) | null,
  ): number {
    const { width, height, ofPixel } = this.pieces;
    const { steps } = this;
    let [head, count] = [0, 0];
    // Where the pixels of each distance begin in the queue.
    const levels: number[] = [0];
    const take = (at: number): void => {
      if (ofPixel[at] !== piece + 1 || steps[at] === mark) return;
      steps[at] = mark;
      if (count === this.queue.length) {
        const longer = new Int32Array(count * 2);
        longer.set(this.queue);
        this.queue = longer;
      }
      this.queue[count++] = at;
    };
    take(from);
    while (head < count) {
      const end = count;
      for (; head < end; head++) {
        const at = this.queue[head]!;
        const x = at % width;
        const [left, right] = [x > 0 ? 1 : 0, x < width - 1 ? 1 : 0];
        for (let row = at >= width ? at - width : at; row <= at + width; row += width) {
          if (row >= width * height) break;
          for (let to = row - left; to <= row + right; to++) take(to);
        }
      }
      levels.push(head);
    }
    if (finish !== null) {
      const distance = levels.length - 1;
      for (let level = 0; level < distance; level++) {
        const share = distance === 1 ? 0 : level / (distance - 1);
        for (let k = levels[level]!; k < levels[level + 1]!; k++) finish(this.queue[k]!, share);
      }
    }
    return this.queue[count - 1]!;
  }
}

/** What the first walk leaves on pixels, the next ones more: above any step. */
const SEEN = 60_000;
