import { darken, layOver, PAPER_WORD, rgbaWord, type RenderedPage } from '@jumble/core';
import type { TiffPage } from '../tiff/TiffWriter.ts';
import type { FlatsLayer } from './flatsLayers.ts';
import type { HandoffPage } from './preparePage.ts';

/** Colours as they are printed: what a profile makes of RGB. */
export interface CmykColours {
  /** Cyan, magenta, yellow and black of each colour, 0xRRGGBB, a byte each. */
  readonly convert: (rgb: readonly number[]) => Promise<Uint8Array>;
}

type Rows = TiffPage['rows'];

/** Black ink alone. */
const BLACK: readonly number[] = [0, 0, 0, 255];

/** The samples of a page, row by row: all of it, its lines, and its layers; in RGB, or in CMYK with the line art as black alone. */
export class PageSamples {
  private constructor(
    readonly width: number,
    readonly height: number,
    readonly colour: 'rgb' | 'cmyk',
    private readonly flats: RenderedPage,
    private readonly inkAlpha: Uint8Array,
    private readonly holds: Uint32Array | null,
    /** Samples of each part. */
    private readonly table: readonly (readonly number[])[],
    /** Samples of lines, by their RGBA word. */
    private readonly lines: ReadonlyMap<number, readonly number[]>,
  ) {}

  static async of(page: HandoffPage, cmyk?: CmykColours): Promise<PageSamples> {
    const { width, height, inkAlpha, flats, holds } = page;
    const words = [...wordsIn(holds)];
    const rgb = words.map((word) => ((word & 255) << 16) | (word & 0xff00) | ((word >>> 16) & 255));
    const colours = await samplesOf([...flats.rgbOfPart, ...rgb], cmyk);
    const lines = new Map(words.map((word, k) => [word, colours[flats.rgbOfPart.length + k]!]));
    return new PageSamples(width, height, cmyk === undefined ? 'rgb' : 'cmyk', flats, inkAlpha, holds, colours, lines);
  }

  private get paper(): readonly number[] {
    return this.colour === 'rgb' ? [255, 255, 255] : [0, 0, 0, 0];
  }

  /** What the layers give together, without transparency. */
  merged(): Rows {
    const { table, inkAlpha, holds, paper, colour, flats } = this;
    const { data } = flats.parts;
    return this.eachPixel(paper.length, (at, out, to) => {
      const base = data[at] === 0 ? paper : table[data[at]! - 1]!;
      const alpha = inkAlpha[at]!;
      const hold = holds === null ? 0 : holds[at]!;
      if (alpha === 0) put(out, to, base);
      else if (colour === 'rgb') {
        const below = data[at] === 0 ? PAPER_WORD : rgbaWord(flats.rgbOfPart[data[at]! - 1]!);
        const word = hold === 0 ? darken(below | 0, alpha) : layOver(below | 0, hold | 0, alpha);
        put(out, to, [word & 255, (word >>> 8) & 255, (word >>> 16) & 255]);
      } else if (hold === 0) {
        // Black is printed over what lies below.
        put(out, to, base);
        out[to + 3] = Math.round(base[3]! + ((255 - base[3]!) * alpha) / 255);
      } else {
        const line = this.lines.get(hold)!;
        for (let k = 0; k < 4; k++) out[to + k] = Math.round(base[k]! + ((line[k]! - base[k]!) * alpha) / 255);
      }
    });
  }

  /** The line art in its colours, with its transparency. */
  lineArt(): Rows {
    const { inkAlpha, holds, paper } = this;
    const black = this.colour === 'rgb' ? [0, 0, 0] : BLACK;
    return this.eachPixel(paper.length + 1, (at, out, to) => {
      const hold = holds === null ? 0 : holds[at]!;
      put(out, to, inkAlpha[at] === 0 ? paper : hold === 0 ? black : this.lines.get(hold)!);
      out[to + paper.length] = inkAlpha[at]!;
    });
  }

  /** A layer of flats on the whole page, with transparency. */
  layer({ x: left, y: top, width: columns, height: rows, values }: FlatsLayer): Rows {
    const samples = this.paper.length + 1;
    return (from, count, out) => {
      for (let y = Math.max(from, top); y < Math.min(from + count, top + rows); y++) {
        for (let x = 0, at = (y - top) * columns; x < columns; x++, at++) {
          const value = values[at]!;
          if (value === 0) continue;
          const to = ((y - from) * this.width + x + left) * samples;
          put(out, to, this.table[value - 1]!);
          out[to + samples - 1] = 255;
        }
      }
    };
  }

  /** White wherever the flats have a colour, with transparency. */
  silhouette(): Rows {
    const { paper } = this;
    const { data } = this.flats.parts;
    return this.eachPixel(paper.length + 1, (at, out, to) => {
      if (data[at] === 0) return;
      put(out, to, paper);
      out[to + paper.length] = 255;
    });
  }

  /** The colours of lines alone, clipped by nothing; or closures. @param words RGBA words, 0 for none. */
  words(words: Uint32Array): Rows {
    const { paper } = this;
    return this.eachPixel(paper.length + 1, (at, out, to) => {
      const word = words[at]!;
      if (word === 0) return;
      put(out, to, this.lines.get(word) ?? (this.colour === 'rgb' ? [word & 255, (word >>> 8) & 255, (word >>> 16) & 255] : BLACK)); // prettier-ignore
      out[to + paper.length] = 255;
    });
  }

  private eachPixel(samples: number, pixel: (at: number, out: Uint8Array, to: number) => void): Rows {
    return (from, count, out) => {
      for (let at = from * this.width, to = 0; at < (from + count) * this.width; at++, to += samples)
        pixel(at, out, to);
    };
  }
}

function put(out: Uint8Array, to: number, bytes: readonly number[]): void {
  for (let k = 0; k < bytes.length; k++) out[to + k] = bytes[k]!;
}

function wordsIn(holds: Uint32Array | null): Set<number> {
  const words = new Set<number>();
  let last = 0;
  for (const word of holds ?? []) {
    if (word === last || word === 0) continue;
    last = word;
    words.add(word);
  }
  return words;
}

/** The samples of colours, 0xRRGGBB. */
async function samplesOf(rgb: readonly number[], cmyk: CmykColours | undefined): Promise<number[][]> {
  if (cmyk === undefined) return rgb.map((one) => [one >>> 16, (one >>> 8) & 255, one & 255]);
  const bytes = await cmyk.convert(rgb);
  return rgb.map((_, k) => [...bytes.subarray(k * 4, k * 4 + 4)]);
}
