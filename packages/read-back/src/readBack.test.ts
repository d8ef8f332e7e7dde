import { mkdtemp, readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { crc32, deflateSync } from 'node:zlib';
import { beforeAll, describe, expect, test } from '@jest/globals';
import { findLinePieces, middleTrap, NO_GAPS_PREP, NO_TRAP_INK, openSurvey } from '@jumble/core';
import {
  buildOpenRaster,
  buildProof,
  buildSvg,
  encodeFlatsPng,
  planFlatsLayers,
  preparePage,
  readOpenRaster,
  setPngFacts,
  writeOpenRaster,
  writeTiffHandoff,
  type HandoffInput,
  type HandoffPage,
  type OraNode,
} from '@jumble/formats';
import { convertToCmyk, decodeRgba, encodeRgba, FileSink } from '@jumble/raster-io';
import { rooms } from '../../formats/src/tests/rooms.ts';
import type { ExpectedPage } from './ExpectedPage.ts';
import { openZip } from './openZip.ts';
import { readBack } from './readBack.ts';

const opened = openSurvey(rooms(), NO_GAPS_PREP);
const pieces = findLinePieces(opened.base, opened.survey);
const words = new Uint32Array(pieces.count + 1).fill(0xff2040c0, 1);
const prepared = (over: Partial<HandoffInput> = {}): HandoffPage =>
  preparePage({
    survey: opened.survey,
    partOfRegion: ['coat', 'sky'],
    groups: [
      { name: 'Ana', parts: [{ id: 'coat', name: 'Coat é', rgb: 0xc81e28, empty: false }] },
      { name: 'Set', parts: [{ id: 'sky', name: 'Sky', rgb: 0x3c78d2, empty: false }] },
    ],
    trap: middleTrap(2),
    trapInk: NO_TRAP_INK,
    underlapPx: 0,
    split: 'part',
    dpi: 300,
    scratch: false,
    holds: { pieces, paint: { ofPixel: pieces.ofPixel, words, varying: null } },
    shading: true,
    ...over,
  });
function expectedOf(page: HandoffPage): ExpectedPage {
  const { flats } = page;
  return {
    ...page,
    parts: flats.parts.data,
    rgbOfPart: flats.rgbOfPart,
    layers: planFlatsLayers(page),
  };
}

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'jumble-read-back-'));
});
const at = (name: string): string => join(folder, name);
const page = prepared();
const expected = expectedOf(page);

/** The same page with one pixel of its flats, or of its ink, otherwise. */
const withPart = (): ExpectedPage => ({ ...expected, parts: expected.parts.map((value, k) => (k === 20 * 60 + 15 ? 2 : value)) }); // prettier-ignore
const withInk = (): ExpectedPage => ({ ...expected, inkAlpha: expected.inkAlpha.map((value, k) => (k === 20 * 60 + 30 ? 99 : value)) }); // prettier-ignore

describe('OpenRaster', () => {
  beforeAll(async () => writeFile(at('a.ora'), await buildOpenRaster(page, { encodeRgba })));
  const redone = async (change: (node: OraNode) => OraNode | Promise<OraNode>): Promise<string> => {
    const image = readOpenRaster(await readFile(at('a.ora')));
    const visit = async (node: OraNode): Promise<OraNode> => {
      const next = await change(node);
      return next.kind === 'stack' ? { ...next, children: await Promise.all(next.children.map(visit)) } : next;
    };
    await writeFile(at('b.ora'), writeOpenRaster({ ...image, children: await Promise.all(image.children.map(visit)) }));
    return at('b.ora');
  };

  test('is the page', async () => {
    // Holds, line art, shading, two parts, paper, and all of it merged.
    expect(await readBack(at('a.ora'), 'ora', expected, null)).toMatchObject({ pictures: 7 });
  });
  test('is told to differ by one pixel of a part, or of the ink, with where it lies', async () => {
    await expect(readBack(at('a.ora'), 'ora', withPart(), null)).rejects.toThrow(/the flats in their layers differs .* 15, 20 px/); // prettier-ignore
    await expect(readBack(at('a.ora'), 'ora', withInk(), null)).rejects.toThrow(/Line art differs .* 30, 20 px/);
  });
  test('is told to have a layer too many, a soft one, or none of one', async () => {
    const renamed = await redone((node) => (node.name === 'Sky' ? { ...node, name: 'Air' } : node));
    await expect(readBack(renamed, 'ora', expected, null)).rejects.toThrow(/"Air" is none of the page/);
    const soft = await redone(async (node) => {
      if (node.kind === 'stack' || node.name !== 'Sky') return node;
      const { data, width, height } = await decodeRgba(node.png);
      const half = data.map((value, k) => (k % 4 === 3 && value > 0 ? 128 : value));
      return { ...node, png: setPngFacts(await encodeRgba(half, width, height), { dpi: 300 }) };
    });
    await expect(readBack(soft, 'ora', expected, null)).rejects.toThrow(/soft edge/);
    const gone = await redone((node) => (node.kind === 'stack' && node.name === 'Set' ? { ...node, children: [] } : node)); // prettier-ignore
    await expect(readBack(gone, 'ora', expected, null)).rejects.toThrow(/the flats in their layers differs/);
  });
  test('that was cut off is told to be damaged', async () => {
    await writeFile(at('torn.ora'), (await readFile(at('a.ora'))).subarray(0, 900));
    await expect(readBack(at('torn.ora'), 'ora', expected, null)).rejects.toThrow();
  });
});

describe('TIFF', () => {
  const deflate = (bytes: Uint8Array): Uint8Array => deflateSync(bytes);
  test('is the page, and is told to differ', async () => {
    await FileSink.write(at('a.tif'), (sink) => writeTiffHandoff(page, { sink, deflate }));
    expect((await readBack(at('a.tif'), 'tif', expected, null)).pictures).toBe(5);
    await expect(readBack(at('a.tif'), 'tif', withPart(), null)).rejects.toThrow(/differs/);
    await expect(readBack(at('a.tif'), 'tif', withInk(), null)).rejects.toThrow(/differs/);
  });
  test('for print has the samples that were written', async () => {
    const sums = new Map<number, number>();
    const onSamples = (number: number, samples: Uint8Array): void => void sums.set(number, crc32(samples, sums.get(number) ?? 0)); // prettier-ignore
    const cmyk = { convert: (rgb: readonly number[]) => convertToCmyk(rgb, null) };
    await FileSink.write(at('c.tif'), (sink) => writeTiffHandoff(page, { sink, deflate, cmyk, onSamples }));
    expect((await readBack(at('c.tif'), 'tif', expected, sums)).pictures).toBe(5);
    sums.set(2, 1);
    await expect(readBack(at('c.tif'), 'tif', expected, sums)).rejects.toThrow(/other samples than were written/);
  });
});

describe('other formats', () => {
  test.each([false, true])('outlines are the flats at the centres of their pixels (smooth: %s)', async (smooth) => {
    await writeFile(at('a.svg'), buildSvg(page, smooth));
    expect(await readBack(at('a.svg'), 'svg', expected, null)).toEqual({ pictures: 1, pixels: 60 * 40 });
    await expect(readBack(at('a.svg'), 'svg', withPart(), null)).rejects.toThrow(/the outlines differs .* 15, 20 px/);
  });
  test('a proof is the page', async () => {
    const deflate = (bytes: Uint8Array): Uint8Array => deflateSync(bytes);
    await writeFile(at('a.pdf'), await buildProof(page, { title: 'Proof', lines: [] }, { deflate }));
    expect((await readBack(at('a.pdf'), 'pdf', expected, null)).pixels).toBe(60 * 40);
    await expect(readBack(at('a.pdf'), 'pdf', withInk(), null)).rejects.toThrow(/the proof differs/);
  });
  test('one PNG is the flats', async () => {
    const { flats } = page;
    await writeFile(at('a.png'), await encodeFlatsPng(flats.parts, flats.rgbOfPart, 300, encodeRgba));
    expect((await readBack(at('a.png'), 'png', expected, null)).pixels).toBe(60 * 40);
    await expect(readBack(at('a.png'), 'png', withPart(), null)).rejects.toThrow(/differs/);
  });
  test('an archive whose names lead out of it is not opened', async () => {
    const bytes = await readFile(at('a.ora'));
    const text = bytes.toString('latin1').replaceAll('data/layer000.png', '../../layer000.xx');
    await writeFile(at('evil.ora'), Buffer.from(text, 'latin1'));
    await expect(openZip(at('evil.ora'))).rejects.toThrow(/invalid relative path/);
  });
});
