import { ReadBackError, type ExpectedPage, type LayerName, type ReadBackReport } from './ExpectedPage.ts';

/** Counts what was compared, and says where something differs. */
export class Comparison {
  pictures = 0;
  pixels = 0;
  private readonly owners: Uint32Array;
  private next = 0;

  constructor(readonly expected: ExpectedPage) {
    this.owners = new Uint32Array(expected.width * expected.height);
  }

  /** A picture of the page's size must have these words. */
  picture(name: string, { width, height, data }: Rgba, wordAt: (at: number) => number): void {
    this.size(name, width, height);
    const words = wordsOf(data);
    for (let at = 0; at < words.length; at++) {
      const word = wordAt(at) >>> 0;
      // Colours of what cannot be seen say nothing.
      if (words[at] !== word && (word >>> 24 !== 0 || words[at]! >>> 24 !== 0)) this.fail(name, at);
    }
    this.count(words.length);
  }

  size(name: string, width: number, height: number): void {
    if (width !== this.expected.width || height !== this.expected.height)
      throw new ReadBackError(
        `${name} has ${width} x ${height} px, the page ${this.expected.width} x ${this.expected.height}`,
      );
  }

  /** The next layer of flats, topmost first. @param isIt finds it among those of the page. */
  layer(name: string, isIt: (layer: LayerName) => boolean, { width, height, data }: Rgba, left = 0, top = 0): void {
    const { layers } = this.expected;
    let place = this.next;
    while (place < layers.length && !isIt(layers[place]!)) place++;
    if (place === layers.length) throw new ReadBackError(`the layer "${name}" is none of the page, or out of order`);
    this.next = place + 1;
    const words = wordsOf(data);
    for (let y = 0, from = 0; y < height; y++) {
      for (let x = 0; x < width; x++, from++) {
        const word = words[from]!;
        if (word >>> 24 === 0) continue;
        const at = (y + top) * this.expected.width + x + left;
        if (word >>> 24 !== 255) this.fail(`the layer "${name}" (it has a soft edge)`, at);
        if (this.owners[at] === 0) this.owners[at] = word;
      }
    }
    this.count(words.length);
  }

  /** All layers were read: together they must be the flats. */
  layersAreWhole(): void {
    const wordOf = this.flatsWord();
    for (let at = 0; at < this.owners.length; at++)
      if (this.owners[at] !== wordOf(at) >>> 0) this.fail('the flats in their layers', at);
  }

  /** Word of the flats at a pixel, 0 for none. */
  flatsWord(): (at: number) => number {
    const { parts, rgbOfPart } = this.expected;
    const words = Uint32Array.of(
      0,
      ...rgbOfPart.map((rgb) => (0xff000000 | ((rgb & 255) << 16) | (rgb & 0xff00) | (rgb >>> 16)) >>> 0),
    );
    return (at) => words[parts[at]!]!;
  }

  /** Word of the line art in its colours. */
  linesWord(): (at: number) => number {
    const { inkAlpha, holds } = this.expected;
    return (at) => ((holds === null ? 0 : holds[at]! & 0xffffff) | (inkAlpha[at]! << 24)) >>> 0;
  }

  /** Word of everything together on white paper. */
  mergedWord(): (at: number) => number {
    const { inkAlpha, holds } = this.expected;
    const flats = this.flatsWord();
    return (at) => {
      const below = flats(at) || 0xffffffff;
      const alpha = inkAlpha[at]!;
      const hold = holds === null ? 0 : holds[at]!;
      let word = 0xff000000;
      for (let shift = 0; shift < 24; shift += 8) {
        const mixed = (((below >>> shift) & 255) * (255 - alpha) + ((hold >>> shift) & 255) * alpha) / 255;
        word |= Math.round(mixed) << shift;
      }
      return word >>> 0;
    };
  }

  count(pixels: number): void {
    this.pictures++;
    this.pixels += pixels;
  }

  fail(name: string, at: number): never {
    const { width } = this.expected;
    throw new ReadBackError(`${name} differs from the page at ${at % width}, ${Math.floor(at / width)} px`);
  }

  report(): ReadBackReport {
    return { pictures: this.pictures, pixels: this.pixels };
  }
}

/** A decoded picture with straight alpha. */
export interface Rgba {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

export function wordsOf(data: Uint8Array): Uint32Array {
  const aligned = data.byteOffset % 4 === 0 ? data : data.slice();
  return new Uint32Array(aligned.buffer, aligned.byteOffset, aligned.length >> 2);
}
