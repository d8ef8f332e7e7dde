import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdtemp, readFile, rm, truncate, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { decodePage } from './decodePage.ts';
import type { PageFileError } from './PageFileError.ts';

const SVG = Buffer.from(
  '<svg xmlns="http://www.w3.org/2000/svg" width="120" height="90"><rect width="120" height="90" fill="#fff"/><circle cx="60" cy="45" r="30" fill="none" stroke="#000" stroke-width="6"/></svg>',
);
let folder: string;
const at = (name: string): string => join(folder, name);
const drawing = (): Sharp => sharp(SVG).flatten({ background: '#fff' });

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'jumble-decode-'));
});
afterAll(() => rm(folder, { recursive: true }));

describe('a page file', () => {
  test.each<[string, string, (image: Sharp) => Sharp]>([
    ['rgb.png', 'RGB', (image) => image.png()],
    ['grey.png', 'grey', (image) => image.toColourspace('b-w').png()],
    ['indexed.png', 'indexed', (image) => image.png({ palette: true })],
    ['grey16.png', 'grey', (image) => image.greyscale().toColourspace('grey16').png()],
    ['rgb16.png', 'RGB', (image) => image.toColourspace('rgb16').png()],
    ['rgb.tif', 'RGB', (image) => image.tiff({ compression: 'lzw' })],
    ['cmyk.tif', 'CMYK', (image) => image.toColourspace('cmyk').tiff({ compression: 'lzw' })],
    ['bits.tif', '1-bit', (image) => image.threshold(128).toColourspace('b-w').tiff({ bitdepth: 1 })],
    ['page.jpg', 'RGB', (image) => image.jpeg({ quality: 95 })],
    ['page.gif', 'indexed + transparency', (image) => image.gif()],
    ['page.webp', 'RGB', (image) => image.webp({ lossless: true })],
    ['alpha.png', 'RGB + transparency', () => sharp(Buffer.from(SVG.toString().replace(/<rect.*?\/>/, ''))).png()],
  ])('%s is read as %s, ink dark and paper light', async (name, mode, make) => {
    await make(drawing()).toFile(at(name));
    const page = await decodePage(at(name));
    expect(page.mode).toBe(mode);
    expect([page.grey.width, page.grey.height]).toEqual([120, 90]);
    expect(page.grey.data[45 * 120 + 30]).toBeLessThan(60);
    expect(page.grey.data[45 * 120 + 60]).toBeGreaterThan(245);
    expect(page.grey.data.byteOffset % 4).toBe(0);
  });

  test('says its resolution, or that it says none', async () => {
    await drawing().png().withMetadata({ density: 600 }).toFile(at('dpi.png'));
    expect((await decodePage(at('dpi.png'))).dpi).toBe(600);
    await drawing().webp().toFile(at('nodpi.webp'));
    expect((await decodePage(at('nodpi.webp'))).dpi).toBeNull();
    await drawing().jpeg().toFile(at('nodpi.jpg'));
    expect((await decodePage(at('nodpi.jpg'))).dpi).toBeNull();
    await drawing().tiff({ xres: 1_000_000, yres: 1_000_000 }).toFile(at('absurd.tif'));
    expect((await decodePage(at('absurd.tif'))).dpi).toBeNull();
  });

  test('in 16 bits keeps its tones', async () => {
    await sharp({ create: { width: 8, height: 8, channels: 3, background: { r: 100, g: 100, b: 100 } } })
      .toColourspace('rgb16')
      .png()
      .toFile(at('tone.png'));
    expect((await decodePage(at('tone.png'))).grey.data[0]).toBe(100);
  });
});

describe('a file that is no page', () => {
  const faultOf = async (path: string): Promise<string> => {
    const error = await decodePage(path).then(
      () => null,
      (reason: unknown) => reason as PageFileError,
    );
    expect(error?.name).toBe('PageFileError');
    // One or two sentences, the last of them what to do.
    expect(error!.message).toMatch(/^[A-Z].*\. ?.*[A-Z].*\.$/);
    return error!.fault;
  };

  test('is told apart: missing, empty, text, another format, cut short', async () => {
    expect(await faultOf(at('nothing.png'))).toBe('missing');
    await writeFile(at('empty.png'), '');
    expect(await faultOf(at('empty.png'))).toBe('empty');
    await writeFile(at('text.png'), 'not a picture');
    expect(await faultOf(at('text.png'))).toBe('not-an-image');
    await writeFile(at('vector.png'), SVG);
    expect(await faultOf(at('vector.png'))).toBe('not-an-image');
    await drawing().png().toFile(at('cut.png'));
    const { length } = await readFile(at('cut.png'));
    await truncate(at('cut.png'), Math.floor(length * 0.6));
    expect(await faultOf(at('cut.png'))).toBe('damaged');
    expect(await faultOf(folder)).toBe('not-an-image');
  });

  /** A tiled drawing, its pieces packed by `compression`. */
  const tiled = (compression: 'lzw' | 'deflate'): Promise<Buffer> =>
    drawing()
      .resize(600, 450)
      .toColourspace('b-w')
      .tiff({ compression, tile: true, tileWidth: 128, tileHeight: 128, resolutionUnit: 'inch' })
      .toBuffer();
  const random = (seed: number) => () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648;

  test.each(['lzw', 'deflate'] as const)('because a tile of it is damaged (%s), wherever', async (compression) => {
    const good = await tiled(compression);
    const next = random(7);
    for (let k = 0; k < 12; k++) {
      const bad = Buffer.from(good);
      const from = Math.floor(good.length * (0.1 + 0.7 * next()));
      for (let at = from; at < from + 24; at++) bad[at] = Math.floor(256 * next());
      await writeFile(at('bad.tif'), bad);
      expect(await faultOf(at('bad.tif'))).toBe('damaged');
    }
  });

  test('but tags that nobody knows are no damage, and hide none', async () => {
    const good = await tiled('lzw');
    // The directory once more at the end of the file, with a tag of our own and one out of order.
    const little = good.readUInt16LE(0) === 0x4949;
    expect(little).toBe(true);
    const from = good.readUInt32LE(4);
    const count = good.readUInt16LE(from);
    const entries = good.subarray(from + 2, from + 2 + 12 * count);
    const own = Buffer.alloc(24);
    own.writeUInt16LE(65_123, 0);
    own.writeUInt16LE(4, 2);
    own.writeUInt32LE(1, 4);
    own.writeUInt16LE(51_999, 12);
    own.writeUInt16LE(99, 14);
    own.writeUInt32LE(1, 16);
    const head = Buffer.alloc(2);
    head.writeUInt16LE(count + 2);
    const tagged = Buffer.concat([good, head, entries, own, Buffer.alloc(4)]);
    tagged.writeUInt32LE(good.length, 4);
    await writeFile(at('tagged.tif'), tagged);
    await writeFile(at('good.tif'), good);
    const [page, plain] = [await decodePage(at('tagged.tif')), await decodePage(at('good.tif'))];
    expect(Buffer.from(page.grey.data).equals(plain.grey.data)).toBe(true);
    tagged.fill(0x5a, 3000, 3040);
    await writeFile(at('tagged.tif'), tagged);
    expect(await faultOf(at('tagged.tif'))).toBe('damaged');
  });

  test('but bytes that pad a JPEG file are no damage, and pixels that are missing are', async () => {
    const jpeg = await drawing().jpeg().toBuffer();
    await writeFile(at('padded.jpg'), Buffer.concat([jpeg.subarray(0, -2), Buffer.from([7, 7, 7]), jpeg.subarray(-2)]));
    expect((await decodePage(at('padded.jpg'))).grey.width).toBe(120);
    await writeFile(at('short.jpg'), Buffer.concat([jpeg.subarray(0, -400), jpeg.subarray(-2)]));
    expect(await faultOf(at('short.jpg'))).toBe('damaged');
  });

  test('because it is an animation', async () => {
    const frames = await Promise.all(
      ['#fff', '#000'].map((background) =>
        sharp({ create: { width: 20, height: 20, channels: 3, background } })
          .png()
          .toBuffer(),
      ),
    );
    await sharp(frames, { join: { animated: true } })
      .gif({ delay: [100, 100] })
      .toFile(at('film.gif'));
    expect(await faultOf(at('film.gif'))).toBe('animation');
  });

  test('because it has too many pixels, which is told from its header alone', async () => {
    // A PNG header that claims 20,000 x 20,000 px.
    await sharp({ create: { width: 4, height: 4, channels: 3, background: '#fff' } })
      .png()
      .toFile(at('small.png'));
    const bytes = await readFile(at('small.png'));
    bytes.writeUInt32BE(20_000, 16);
    bytes.writeUInt32BE(20_000, 20);
    bytes.writeUInt32BE(crc(bytes.subarray(12, 29)), 29);
    await writeFile(at('huge.png'), bytes);
    expect(await faultOf(at('huge.png'))).toBe('too-many-pixels');
  });

  test('because it has more than 300 MB', async () => {
    await writeFile(at('fat.png'), 'x');
    await truncate(at('fat.png'), 301 * 1024 * 1024);
    expect(await faultOf(at('fat.png'))).toBe('too-large');
  });
});

function crc(bytes: Uint8Array): number {
  let value = 0xffffffff;
  for (const byte of bytes) {
    value ^= byte;
    for (let k = 0; k < 8; k++) value = value & 1 ? (value >>> 1) ^ 0xedb88320 : value >>> 1;
  }
  return ~value >>> 0;
}
