import { HALF, MOST_COLOURS, type CheckedFlats } from './FlatsColours.ts';

/** A picture of flats, straight RGBA, where it lies on the page. */
export interface FlatsPicture {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

const WHITE = 0xffffff;

/** Lays layers of flats over each other, the topmost first, into one colour a pixel. */
export class FlatsBuilder {
  private readonly values: Uint16Array;
  private readonly rgb: number[] = [];
  private readonly places = new Map<number, number>();

  constructor(
    private readonly width: number,
    private readonly height: number,
  ) {
    this.values = new Uint16Array(width * height);
  }

  /**
   * @param whiteIsPaper whether white stands for no colour: in a picture that cannot be transparent.
   * @param opacity 0..1 of the whole layer.
   */
  add({ x, y, width, height, data }: FlatsPicture, whiteIsPaper: boolean, opacity = 1): void {
    // Words begin on a multiple of four bytes.
    const bytes = (data.byteOffset & 3) === 0 ? data : new Uint8Array(data);
    const words = new Uint32Array(bytes.buffer, bytes.byteOffset, width * height);
    let [lastWord, lastValue] = [0, 0];
    for (let row = Math.max(0, -y); row < Math.min(height, this.height - y); row++) {
      for (let column = Math.max(0, -x); column < Math.min(width, this.width - x); column++) {
        const to = (row + y) * this.width + column + x;
        if (this.values[to] !== 0) continue;
        const word = words[row * width + column]!;
        if (word !== lastWord) [lastWord, lastValue] = [word, this.valueOf(word, whiteIsPaper, opacity)];
        this.values[to] = lastValue;
      }
    }
  }

  build(): CheckedFlats {
    return { width: this.width, height: this.height, data: this.values, rgb: this.rgb };
  }

  private valueOf(word: number, whiteIsPaper: boolean, opacity: number): number {
    const alpha = (word >>> 24) * opacity;
    if (alpha === 0) return 0;
    if (alpha < 255) return HALF;
    const rgb = ((word & 255) << 16) | (word & 0xff00) | ((word >>> 16) & 255);
    if (whiteIsPaper && rgb === WHITE) return 0;
    let place = this.places.get(rgb);
    if (place === undefined) {
      if (this.rgb.length >= MOST_COLOURS) return HALF;
      this.places.set(rgb, (place = this.rgb.push(rgb)));
    }
    return place;
  }
}
