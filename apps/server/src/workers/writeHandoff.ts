import { writeFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { crc32, deflate } from 'node:zlib';
import {
  buildOpenRaster,
  buildProof,
  buildSvg,
  encodeFlatsPng,
  planFlatsLayers,
  preparePage,
  writeFolder,
  writeTiffHandoff,
  type CmykColours,
  type HandoffInput,
  type HandoffPage,
} from '@jumble/formats';
import { convertToCmyk, encodeHard, encodeRgba, FileSink } from '@jumble/raster-io';
import { readBack, ReadBackError, type ExpectedPage } from '@jumble/read-back';
import type { HandoffAnswer, HandoffTask } from './tasks.ts';
import { writeZip } from './pack.ts';

const zlibDeflate = promisify(deflate);
/** Flats pack well whatever is tried. */
const pack = (bytes: Uint8Array): Promise<Uint8Array> => zlibDeflate(bytes, { level: 3 });
/** Shares of the time that a file is written in; the rest is reading it again. */
const [BEGUN, WRITTEN] = [0.05, 0.7];

/** Writes a page by its rule, reads it again and compares it with the page. */
export async function writeHandoff(input: HandoffInput, task: HandoffTask): Promise<HandoffAnswer> {
  const report = (share: number): void => task.progress.postMessage(share);
  report(BEGUN);
  const page = preparePage(input);
  const sums = await write(page, task, (share) => report(BEGUN + (WRITTEN - BEGUN) * share));
  report(WRITTEN);
  try {
    const result = await readBack(task.target, task.rule.format, expectedOf(page), sums);
    report(1);
    return { readBack: result };
  } catch (error) {
    if (error instanceof ReadBackError) return { difference: error.message };
    throw error;
  }
}

/** @returns checksums of the samples in CMYK by page; null for RGB. */
async function write(
  page: HandoffPage,
  { rule, target, proof, notes, profilePath }: HandoffTask,
  onProgress: (share: number) => void,
): Promise<Map<number, number> | null> {
  const sums = rule.colours === 'cmyk' ? new Map<number, number>() : null;
  const cmyk: CmykColours = { convert: (rgb) => convertToCmyk(rgb, profilePath) };
  const printed =
    sums === null
      ? {}
      : {
          cmyk,
          onSamples: (number: number, samples: Uint8Array): void =>
            void sums.set(number, crc32(samples, sums.get(number) ?? 0)),
        };
  const { flats, dpi } = page;
  switch (rule.format) {
    case 'ora':
      await writeFile(target, await buildOpenRaster(page, { encodeRgba, onProgress }));
      return null;
    case 'png':
      await writeFile(target, await encodeFlatsPng(flats.parts, flats.rgbOfPart, dpi, encodeRgba));
      return null;
    case 'svg':
      await writeFile(target, buildSvg(page, rule.smooth));
      return null;
    case 'folder':
      await writeZip(target, (put) => writeFolder(page, notes, { encodeRgba, encodeHard, put, onProgress }));
      return null;
    case 'pdf':
      await writeFile(target, await buildProof(page, proof, { deflate: pack, ...printed }));
      return sums;
    case 'tif':
      await FileSink.write(target, (sink) => writeTiffHandoff(page, { sink, deflate: pack, ...printed, onProgress }));
      return sums;
  }
}

function expectedOf(page: HandoffPage): ExpectedPage {
  const { width, height, flats, inkAlpha, hardInk, holds, closures, inkName } = page;
  return {
    width,
    height,
    parts: flats.parts.data,
    rgbOfPart: flats.rgbOfPart,
    inkAlpha,
    hardInk,
    holds,
    closures,
    inkName,
    layers: planFlatsLayers(page),
  };
}
