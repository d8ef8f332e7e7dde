import { describe, expect, test } from '@jest/globals';
import { findLinePieces, middleTrap, NO_GAPS_PREP, NO_TRAP_INK, openSurvey } from '@jumble/core';
import { convertToCmyk, decodeRgba, encodeRgba } from '@jumble/raster-io';
import { unzlibSync, zlibSync } from 'fflate';
import { PDFDocument, PDFName, PDFRawStream, decodePDFRawStream } from 'pdf-lib';
import sharp from 'sharp';
import { readOpenRaster } from '../openRaster/readOpenRaster.ts';
import { colourPixels } from '../png/encodeFlatsPng.ts';
import { tracePaths } from '../svg/tracePaths.ts';
import { TiffWriter } from '../tiff/TiffWriter.ts';
import { rooms } from '../tests/rooms.ts';
import { buildOpenRaster } from './buildOpenRaster.ts';
import { buildProof } from './buildProof.ts';
import { buildSvg } from './buildSvg.ts';
import { flatsLayers } from './flatsLayers.ts';
import type { HandoffInput } from './HandoffInput.ts';
import { preparePage, type HandoffPage } from './preparePage.ts';
import { writeTiffHandoff } from './writeTiff.ts';

const WIDTH = 60;
const opened = openSurvey(rooms(), NO_GAPS_PREP);
const { survey } = opened;
const input = (over: Partial<HandoffInput> = {}): HandoffPage =>
  preparePage({
    survey,
    partOfRegion: ['coat', 'sky'],
    groups: [
      { name: 'Ana', parts: [{ id: 'coat', name: 'Coat é', rgb: 0xc81e28, empty: false }, { id: 'hat', name: 'Hat', rgb: 0xc81e28, empty: false }] }, // prettier-ignore
      { name: 'Set', parts: [{ id: 'sky', name: 'Sky', rgb: 0x3c78d2, empty: false }] },
    ],
    trap: middleTrap(2),
    trapInk: NO_TRAP_INK,
    underlapPx: 0,
    split: 'part',
    dpi: 300,
    scratch: false,
    ...over,
  });
/** Lines in one colour. */
const holds = (() => {
  const pieces = findLinePieces(opened.base, survey);
  const words = new Uint32Array(pieces.count + 1).fill(0xff2040c0, 1);
  return { pieces, paint: { ofPixel: pieces.ofPixel, words, varying: null } };
})();

/** A file in memory. */
class MemorySink {
  bytes: number[] = [];
  write = (bytes: Uint8Array): Promise<void> => Promise.resolve(void this.bytes.push(...bytes));
  patch = (at: number, bytes: Uint8Array): Promise<void> =>
    Promise.resolve(bytes.forEach((byte, k) => (this.bytes[at + k] = byte)));
}
async function tiffOf(from: HandoffPage, cmyk = false): Promise<Buffer> {
  const sink = new MemorySink();
  const colours = { convert: (rgb: readonly number[]) => convertToCmyk(rgb, null) };
  await writeTiffHandoff(from, { sink, deflate: (bytes) => zlibSync(bytes), ...(cmyk ? { cmyk: colours } : {}) });
  return Buffer.from(sink.bytes);
}
const raw = async (tiff: Buffer, number: number) =>
  sharp(tiff, { page: number }).raw().toBuffer({ resolveWithObject: true });

/** The values of a tag on each page, as a file of any program would be read. */
function tagsOf(tiff: Buffer, wanted: number): (string | number)[] {
  const found: (string | number)[] = [];
  for (let at = tiff.readUInt32LE(4); at !== 0;) {
    const count = tiff.readUInt16LE(at);
    for (let k = 0; k < count; k++) {
      const entry = at + 2 + k * 12;
      if (tiff.readUInt16LE(entry) !== wanted) continue;
      const [type, size] = [tiff.readUInt16LE(entry + 2), tiff.readUInt32LE(entry + 4)];
      const from = type === 2 && size > 4 ? tiff.readUInt32LE(entry + 8) : entry + 8;
      found.push(type === 2 ? tiff.toString('latin1', from, from + size - 1) : type === 3 ? tiff.readUInt16LE(from) : tiff.readUInt32LE(from)); // prettier-ignore
    }
    at = tiff.readUInt32LE(at + 2 + count * 12);
  }
  return found;
}

/** The samples of the first page as they stand in its strips: no decoder changes their colours. */
function firstSamples(tiff: Buffer): Buffer {
  const at = tiff.readUInt32LE(4);
  const tag = (wanted: number): number[] => {
    for (let k = 0; k < tiff.readUInt16LE(at); k++) {
      const entry = at + 2 + k * 12;
      if (tiff.readUInt16LE(entry) !== wanted) continue;
      const size = tiff.readUInt32LE(entry + 4);
      const from = size > 1 ? tiff.readUInt32LE(entry + 8) : entry + 8;
      return Array.from({ length: size }, (_, one) => tiff.readUInt32LE(from + one * 4));
    }
    return [];
  };
  const counts = tag(279);
  return Buffer.concat(tag(273).map((from, k) => unzlibSync(tiff.subarray(from, from + counts[k]!))));
}

describe('layers', () => {
  const layersBy = (split: HandoffInput['split'], over: Partial<HandoffInput> = {}) => {
    const from = input({ split, ...over });
    return [...flatsLayers(from)].map(({ group, name }) => [group, name]);
  };
  test('are one for each part, character, colour or panel, or one for all', () => {
    expect(layersBy('part')).toEqual([['Ana', 'Coat é'], ['Set', 'Sky']]); // prettier-ignore
    expect(layersBy('group')).toEqual([[null, 'Ana'], [null, 'Set']]); // prettier-ignore
    expect(layersBy('colour')).toEqual([[null, '#c81e28'], [null, '#3c78d2']]); // prettier-ignore
    expect(layersBy('colour', { partOfRegion: ['coat', 'hat'] })).toEqual([[null, '#c81e28']]);
    expect(layersBy('panel', { panelOfRegion: Int32Array.of(0, -1) })).toEqual([[null, 'Panel 1'], [null, 'Outside the panels']]); // prettier-ignore
    expect(layersBy('single')).toEqual([[null, 'Flats']]);
    expect(() => layersBy('panel', { underlapPx: 2 })).toThrow(/underlapPx/);
  });

  test.each(['part', 'group', 'colour', 'panel', 'single'] as const)(
    'by %s give the same picture together',
    (split) => {
      const from = input({ split, panelOfRegion: Int32Array.of(0, 1), holds });
      const { flats } = from;
      const all = colourPixels(flats.parts.data, flats.rgbOfPart);
      const together = new Uint8Array(all.length);
      for (const { values, x, y, width, height } of flatsLayers(from)) {
        const rgba = colourPixels(values, flats.rgbOfPart);
        for (let row = 0; row < height; row++)
          for (let column = 0; column < width; column++) {
            const at = (row * width + column) * 4;
            if (rgba[at + 3] !== 0) together.set(rgba.subarray(at, at + 4), ((y + row) * WIDTH + x + column) * 4);
          }
      }
      expect(Buffer.compare(together, all)).toBe(0);
    },
  );
});

describe('TIFF', () => {
  test('has all of the page first, then the line art and the layers with their names, read by another program', async () => {
    const tiff = await tiffOf(input({ holds }));
    expect((await sharp(tiff).metadata()).pages).toBe(4);
    expect(tagsOf(tiff, 285)).toEqual(['Merged', 'Line art', 'Ana/Coat e', 'Set/Sky']);
    expect([...new Set(tagsOf(tiff, 259))]).toEqual([8]);
    expect((await sharp(tiff).metadata()).density).toBe(300);
    const merged = await raw(tiff, 0);
    const ora = await decodeRgba(readOpenRaster(await buildOpenRaster(input({ holds }), { encodeRgba })).merged);
    expect(merged.info.channels).toBe(3);
    expect([...merged.data]).toEqual([...ora.data].filter((_, k) => k % 4 !== 3));
    const ink = await raw(tiff, 1);
    expect([...ink.data].filter((_, k) => k % 4 === 3)).toEqual([...survey.inkAlpha]);
    expect([...ink.data.subarray((20 * WIDTH + 30) * 4, (20 * WIDTH + 30) * 4 + 4)]).toEqual([0xc0, 0x40, 0x20, 255]);
    const coat = await raw(tiff, 2);
    expect([...coat.data.subarray((20 * WIDTH + 15) * 4, (20 * WIDTH + 15) * 4 + 4)]).toEqual([0xc8, 0x1e, 0x28, 255]);
    expect(coat.data[(20 * WIDTH + 45) * 4 + 3]).toBe(0);
  });

  test('for print has what the profile makes of colours, and the line art as black alone', async () => {
    const tiff = await tiffOf(input(), true);
    expect(tagsOf(tiff, 262)).toEqual([5, 5, 5, 5]);
    expect((await sharp(tiff).metadata()).space).toBe('cmyk');
    const data = firstSamples(tiff);
    const expected = await convertToCmyk([0xc81e28], null);
    expect([...data.subarray((20 * WIDTH + 15) * 4, (20 * WIDTH + 15) * 4 + 4)]).toEqual([...expected]);
    // Black over the colour that runs under it: its other inks are as they are.
    const line = [...data.subarray((20 * WIDTH + 30) * 4, (20 * WIDTH + 30) * 4 + 4)];
    const under = await convertToCmyk([0xc81e28, 0x3c78d2], null);
    expect(line[3]).toBe(255);
    expect([[...under.subarray(0, 3)], [...under.subarray(4, 7)]]).toContainEqual(line.slice(0, 3));
  });

  test('stops before four gigabytes instead of writing what nobody can read', async () => {
    const sink = { write: () => Promise.resolve(), patch: () => Promise.resolve() };
    const writer = new TiffWriter(sink, () => ({ length: 0xf000_0000 }) as Uint8Array, null);
    await writer.begin();
    const rows = (): void => undefined;
    const large = { name: 'a', width: 4, height: 4, colour: 'rgb', alpha: false, rows } as const;
    await writer.add(large);
    await expect(writer.add(large)).rejects.toThrow(/at most 4 GB/);
  });
});

describe('SVG', () => {
  test('traces areas on the edges of their pixels, with holes, and shares their borders', () => {
    // A ring of 1 around a 2, and a 1 that touches it at a corner.
    const rows = ['1110', '1210', '1110', '0001'];
    const { paths } = tracePaths(Uint16Array.from([...rows.join('')].map(Number)), 4, 4, 2);
    expect(paths[1]).toBe('M1 1h1v1h-1z');
    expect(paths[0]).toContain('M0 0h3v3');
    expect(paths[0]!.match(/M/g)!.length).toBeGreaterThanOrEqual(2);
  });

  test('drawn without smoothing is the flats, pixel for pixel', async () => {
    const from = input();
    const svg = buildSvg(from);
    const drawn = await sharp(Buffer.from(svg)).ensureAlpha().raw().toBuffer();
    const { flats } = from;
    expect(Buffer.compare(drawn, Buffer.from(colourPixels(flats.parts.data, flats.rgbOfPart)))).toBe(0);
    expect(svg.match(/<path /g)).toHaveLength(2);
    expect(svg).toContain('<title>Coat é</title>');
    expect(svg).toContain(`viewBox="0 0 60 40"`);
  });
});

describe('the proof', () => {
  test.each([false, true])(
    'holds every pixel of the page as it was written, and its parts (for print: %s)',
    async (isCmyk) => {
      const cmyk = { convert: (rgb: readonly number[]) => convertToCmyk(rgb, null) };
      const pdf = await PDFDocument.load(
        await buildProof(input(), { title: 'Proof', lines: ['Halo may stay: on purpose'] }, { deflate: (bytes) => zlibSync(bytes), ...(isCmyk ? { cmyk } : {}) }), // prettier-ignore
      );
      expect(pdf.getPageCount()).toBe(2);
      expect(pdf.getPage(0).getWidth()).toBeCloseTo((WIDTH * 72) / 300);
      const [image] = pdf.context
        .enumerateIndirectObjects()
        .flatMap(([, one]) =>
          one instanceof PDFRawStream && one.dict.get(PDFName.of('Subtype')) === PDFName.of('Image') ? [one] : [],
        );
      const samples = decodePDFRawStream(image!).decode();
      const data = firstSamples(await tiffOf(input(), isCmyk));
      expect(Buffer.compare(Buffer.from(samples), data)).toBe(0);
    },
  );
});
