/** Where a TIFF file goes: bytes one after the other, and a few that are put in later. */
export interface TiffSink {
  write(bytes: Uint8Array): Promise<void>;
  patch(at: number, bytes: Uint8Array): Promise<void>;
}

/** A page of a TIFF file. */
export interface TiffPage {
  readonly name: string;
  readonly width: number;
  readonly height: number;
  /** RGB or CMYK, each with straight transparency where `alpha` says so; or one bit a pixel, 1 for black. */
  readonly colour: 'rgb' | 'cmyk' | 'bilevel';
  readonly alpha: boolean;
  /** @default that of the file */
  readonly dpi?: number | null;
  /** Writes the samples of some rows, pixel by pixel. */
  readonly rows: (from: number, count: number, out: Uint8Array) => void;
}

/** zlib's format. */
export type Deflate = (bytes: Uint8Array) => Promise<Uint8Array> | Uint8Array;

const [SHORT, LONG, ASCII, RATIONAL] = [3, 4, 2, 5];
/** Strips hold about so many bytes before they are packed. */
const STRIP_BYTES = 1 << 20;
const DEFLATE = 8;
const PHOTOMETRIC = { bilevel: 0, rgb: 2, cmyk: 5 } as const;
const SAMPLES = { bilevel: 1, rgb: 3, cmyk: 4 } as const;
const STRAIGHT_ALPHA = 2;
const PAGE_OF_MANY = 2;
const INCHES = 2;
/** Offsets have 32 bits. */
const MOST_BYTES = 0xffff_ffff;

/**
 * Writes a baseline TIFF 6.0 file of several pages in little-endian order, strip by strip: no page is in memory as a whole.
 * Deflate, PageName on each, no private tags.
 *
 * @throws RangeError where the file would pass four gigabytes.
 */
export class TiffWriter {
  private at = 0;
  /** Where the offset of the next page's directory goes. */
  private link = 4;
  private pages = 0;

  constructor(
    private readonly sink: TiffSink,
    private readonly deflate: Deflate,
    private readonly dpi: number | null,
  ) {}

  async begin(): Promise<void> {
    await this.write(Uint8Array.of(0x49, 0x49, 42, 0, 0, 0, 0, 0));
  }

  async add(page: TiffPage): Promise<void> {
    const { width, height, rows } = page;
    const samples = SAMPLES[page.colour] + (page.alpha ? 1 : 0);
    const rowBytes = page.colour === 'bilevel' ? Math.ceil(width / 8) : width * samples;
    const rowsPerStrip = Math.max(1, Math.floor(STRIP_BYTES / rowBytes));
    const offsets: number[] = [];
    const counts: number[] = [];
    for (let y = 0; y < height; y += rowsPerStrip) {
      const count = Math.min(rowsPerStrip, height - y);
      const strip = new Uint8Array(count * rowBytes);
      rows(y, count, strip);
      const packed = await this.deflate(strip);
      offsets.push(this.at);
      counts.push(packed.length);
      await this.write(packed);
    }
    await this.writeDirectory(page, samples, rowsPerStrip, offsets, counts);
  }

  private async writeDirectory(
    page: TiffPage,
    samples: number,
    rowsPerStrip: number,
    offsets: readonly number[],
    counts: readonly number[],
  ): Promise<void> {
    const name = new TextEncoder().encode(`${asciiName(page.name)}\0`);
    const dpi = Math.round(((page.dpi === undefined ? this.dpi : page.dpi) ?? 0) * 1000);
    const entries: Entry[] = [
      { tag: 254, type: LONG, values: [PAGE_OF_MANY] },
      { tag: 256, type: LONG, values: [page.width] },
      { tag: 257, type: LONG, values: [page.height] },
      { tag: 258, type: SHORT, values: Array<number>(samples).fill(page.colour === 'bilevel' ? 1 : 8) },
      { tag: 259, type: SHORT, values: [DEFLATE] },
      { tag: 262, type: SHORT, values: [PHOTOMETRIC[page.colour]] },
      { tag: 273, type: LONG, values: offsets },
      { tag: 277, type: SHORT, values: [samples] },
      { tag: 278, type: LONG, values: [rowsPerStrip] },
      { tag: 279, type: LONG, values: counts },
      ...(dpi === 0 ? [] : [
        { tag: 282, type: RATIONAL, values: [dpi, 1000] },
        { tag: 283, type: RATIONAL, values: [dpi, 1000] },
      ]), // prettier-ignore
      { tag: 284, type: SHORT, values: [1] },
      { tag: 285, type: ASCII, bytes: name },
      ...(dpi === 0 ? [] : [{ tag: 296, type: SHORT, values: [INCHES] }]),
      { tag: 297, type: SHORT, values: [this.pages, 0] },
      ...(page.alpha ? [{ tag: 338, type: SHORT, values: [STRAIGHT_ALPHA] }] : []),
    ];
    if (this.at % 2 === 1) await this.write(Uint8Array.of(0));
    const start = this.at;
    await this.sink.patch(this.link, le32(start));
    const directory = new Uint8Array(2 + entries.length * 12 + 4);
    const view = new DataView(directory.buffer);
    view.setUint16(0, entries.length, true);
    const further: Uint8Array[] = [];
    let free = start + directory.length;
    entries.forEach((entry, k) => {
      const place = 2 + k * 12;
      const bytes = bytesOf(entry);
      view.setUint16(place, entry.tag, true);
      view.setUint16(place + 2, entry.type, true);
      view.setUint32(place + 4, bytes.length / SIZE_OF[entry.type]!, true);
      if (bytes.length <= 4) directory.set(bytes, place + 8);
      else {
        view.setUint32(place + 8, free, true);
        further.push(bytes);
        free += bytes.length;
        if (free % 2 === 1) {
          further.push(Uint8Array.of(0));
          free++;
        }
      }
    });
    this.link = start + directory.length - 4;
    await this.write(directory);
    for (const bytes of further) await this.write(bytes);
    this.pages++;
  }

  private async write(bytes: Uint8Array): Promise<void> {
    if (this.at + bytes.length > MOST_BYTES)
      throw new RangeError('a TIFF file holds at most 4 GB: take fewer layers, or OpenRaster');
    await this.sink.write(bytes);
    this.at += bytes.length;
  }
}

interface Entry {
  readonly tag: number;
  readonly type: number;
  readonly values?: readonly number[];
  readonly bytes?: Uint8Array;
}

/** Bytes of a value; a rational counts as one of eight. */
const SIZE_OF: Readonly<Record<number, number>> = { [SHORT]: 2, [LONG]: 4, [ASCII]: 1, [RATIONAL]: 8 };

function bytesOf({ type, values = [], bytes }: Entry): Uint8Array {
  if (bytes !== undefined) return bytes;
  const each = type === SHORT ? 2 : 4;
  const out = new Uint8Array(values.length * each);
  const view = new DataView(out.buffer);
  values.forEach((value, k) => (each === 2 ? view.setUint16(k * 2, value, true) : view.setUint32(k * 4, value, true)));
  return out;
}

function le32(value: number): Uint8Array {
  const bytes = new Uint8Array(4);
  new DataView(bytes.buffer).setUint32(0, value, true);
  return bytes;
}

/** Names in TIFF files are plain ASCII: letters lose their marks, the rest becomes a question mark. */
export function asciiName(text: string): string {
  return text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^\x20-\x7e]/g, '?');
}
