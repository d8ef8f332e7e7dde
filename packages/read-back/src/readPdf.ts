import { readFile } from 'node:fs/promises';
import { crc32, inflateSync } from 'node:zlib';
import type { Comparison } from './Comparison.ts';
import { ReadBackError } from './ExpectedPage.ts';

/**
 * Reads the picture of a proof again by its stream alone.
 *
 * @param sum checksum of the samples as they were written, for CMYK; null for RGB. @throws ReadBackError for the first difference.
 */
export async function readPdf(path: string, compared: Comparison, sum: number | null): Promise<void> {
  const bytes = await readFile(path);
  const image = bytes.indexOf('/Subtype /Image');
  const start = bytes.indexOf('stream', image) + 'stream'.length;
  if (image < 0) throw new ReadBackError('the proof holds no picture');
  const dict = bytes.toString('latin1', bytes.lastIndexOf('obj', image), start);
  const number = (name: string): number => Number(new RegExp(`/${name} (\\d+)`).exec(dict)?.[1]);
  const [width, height] = [number('Width'), number('Height')];
  compared.size('the proof', width, height);
  const from = start + (bytes[start] === 13 ? 2 : 1);
  const samples = inflateSync(bytes.subarray(from, from + number('Length')));
  if (sum !== null) {
    if (crc32(samples) !== sum) throw new ReadBackError('the proof has other samples than were written');
  } else {
    const merged = compared.mergedWord();
    for (let at = 0; at < width * height; at++) {
      const word = samples[at * 3]! | (samples[at * 3 + 1]! << 8) | (samples[at * 3 + 2]! << 16);
      if (word !== (merged(at) & 0xffffff)) compared.fail('the proof', at);
    }
  }
  compared.count(width * height);
}
