import { open, type FileHandle } from 'node:fs/promises';
import { crc32, inflateSync } from 'node:zlib';
import sharp from 'sharp';
import type { Comparison, Rgba } from './Comparison.ts';
import { ReadBackError, type LayerName } from './ExpectedPage.ts';

/** Checksums of the samples of each page, by its place, as they were written. */
export type SampleSums = ReadonlyMap<number, number>;

interface Directory {
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly bits: number;
  readonly offsets: readonly number[];
  readonly counts: readonly number[];
}

/**
 * Reads a TIFF file again: pages in RGB by a decoder, compared with the page; pages in CMYK by their strips, compared with the
 * samples that were written.
 *
 * @param sums null for RGB. @throws ReadBackError for the first difference.
 */
export async function readTiff(path: string, compared: Comparison, sums: SampleSums | null): Promise<void> {
  const pages = await readDirectories(path);
  if (pages[0]?.name !== 'Merged') throw new ReadBackError('the first page is not the merged one');
  if (sums === null) await comparePages(path, pages, compared);
  else await compareSums(path, pages, compared, sums);
}

async function comparePages(path: string, pages: readonly Directory[], compared: Comparison): Promise<void> {
  const { expected } = compared;
  const plain = (text: string): string => text.normalize('NFKD').replace(/[\u0300-\u036f]/g, '').replace(/[^\x20-\x7e]/g, '?'); // prettier-ignore
  const pageName = ({ group, name }: LayerName): string => plain(group === null ? name : `${group}/${name}`);
  for (const [number, { name, bits }] of pages.entries()) {
    if (bits === 1) {
      await compareHardInk(path, number, compared);
      continue;
    }
    const rgba = await pageOf(path, number);
    if (number === 0) compared.picture(name, rgba, compared.mergedWord());
    else if (name === plain(expected.inkName)) compared.picture(name, rgba, compared.linesWord());
    else if (name === 'Lines (holds)') compared.picture(name, rgba, (at) => opaque(expected.holds![at]!));
    else if (name === 'Lines (closures)') compared.picture(name, rgba, (at) => opaque(expected.closures![at]!));
    else if (name === 'Shading') compared.picture(name, rgba, (at) => (expected.parts[at] === 0 ? 0 : 0xffffffff));
    else compared.layer(name, (one) => pageName(one) === name, rgba);
  }
  compared.layersAreWhole();
}

const opaque = (word: number): number => (word === 0 ? 0 : word | 0xff000000);

async function pageOf(path: string, page: number): Promise<Rgba> {
  const { data, info } = await sharp(path, { page, ignoreIcc: true, limitInputPixels: false })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

async function compareHardInk(path: string, page: number, compared: Comparison): Promise<void> {
  const ink = compared.expected.hardInk;
  const { width, height, data } = await pageOf(path, page);
  if (ink === null || width !== ink.width || height !== ink.height)
    throw new ReadBackError('the line art has another size than was written');
  for (let at = 0; at < ink.data.length; at++)
    if (data[at * 4] !== 255 - ink.data[at]!)
      throw new ReadBackError(`the line art differs at ${at % width}, ${Math.floor(at / width)} px`);
  compared.count(ink.data.length);
}

async function compareSums(
  path: string,
  pages: readonly Directory[],
  compared: Comparison,
  sums: SampleSums,
): Promise<void> {
  const handle = await open(path, 'r');
  try {
    for (const [number, { name, width, height, bits, offsets, counts }] of pages.entries()) {
      if (bits !== 1) compared.size(name, width, height);
      let sum = 0;
      for (const [k, offset] of offsets.entries())
        sum = crc32(inflateSync(await bytesAt(handle, offset, counts[k]!)), sum);
      if (sum !== sums.get(number)) throw new ReadBackError(`the page "${name}" has other samples than were written`);
      compared.count(width * height);
    }
  } finally {
    await handle.close();
  }
  if (pages.length !== sums.size) throw new ReadBackError('pages are missing');
}

async function bytesAt(handle: FileHandle, at: number, length: number): Promise<Buffer> {
  const bytes = Buffer.alloc(length);
  const { bytesRead } = await handle.read(bytes, 0, length, at);
  if (bytesRead < length) throw new ReadBackError('the file ends before its last page does');
  return bytes;
}

const [SHORT, LONG] = [3, 4];

async function readDirectories(path: string): Promise<Directory[]> {
  const handle = await open(path, 'r');
  try {
    const head = await bytesAt(handle, 0, 8);
    if (head.toString('latin1', 0, 2) !== 'II' || head.readUInt16LE(2) !== 42)
      throw new ReadBackError('it is not the TIFF file that was written');
    const found: Directory[] = [];
    for (let at = head.readUInt32LE(4); at !== 0;) {
      const count = (await bytesAt(handle, at, 2)).readUInt16LE(0);
      const bytes = await bytesAt(handle, at + 2, count * 12 + 4);
      found.push(await directoryOf(handle, bytes, count));
      at = bytes.readUInt32LE(count * 12);
    }
    return found;
  } finally {
    await handle.close();
  }
}

async function directoryOf(handle: FileHandle, bytes: Buffer, count: number): Promise<Directory> {
  const tags = new Map<number, { type: number; size: number; entry: number }>();
  for (let k = 0; k < count; k++) {
    const entry = k * 12;
    tags.set(bytes.readUInt16LE(entry), {
      type: bytes.readUInt16LE(entry + 2),
      size: bytes.readUInt32LE(entry + 4),
      entry,
    });
  }
  const raw = async (tag: number): Promise<Buffer> => {
    const { type, size, entry } = tags.get(tag)!;
    const length = size * (type === SHORT ? 2 : type === LONG ? 4 : 1);
    if (length <= 4) return bytes.subarray(entry + 8, entry + 8 + length);
    return bytesAt(handle, bytes.readUInt32LE(entry + 8), length);
  };
  const numbers = async (tag: number): Promise<number[]> => {
    const { type, size } = tags.get(tag)!;
    const from = await raw(tag);
    return Array.from({ length: size }, (_, k) =>
      type === SHORT ? from.readUInt16LE(k * 2) : from.readUInt32LE(k * 4),
    );
  };
  return {
    name: (await raw(285)).toString('latin1').replace(/\0.*$/s, ''),
    width: (await numbers(256))[0]!,
    height: (await numbers(257))[0]!,
    bits: (await numbers(258))[0]!,
    offsets: await numbers(273),
    counts: await numbers(279),
  };
}
