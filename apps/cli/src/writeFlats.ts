import { join } from 'node:path';
import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import type { DeliveryFormat } from '@jumble/core';
import {
  buildOpenRaster,
  buildProof,
  buildSvg,
  preparePage,
  writeFolder,
  writeTiffHandoff,
  type CmykColours,
  type HandoffInput,
  type HandoffPage,
} from '@jumble/formats';
import { encodeHard, encodeRgba, FileSink } from '@jumble/raster-io';
import { checkNoInput, makeOutputFolder, writeBy, writeOutput } from './writeOutput.ts';

/** What flats are written as. */
export type FlatsTarget = Exclude<DeliveryFormat, 'png'>;

export interface WrittenFlats {
  readonly out: string;
  readonly input: HandoffInput;
  /** Files that were read: none of them is written over. */
  readonly inputs: readonly string[];
  /** The page's file. */
  readonly file: string;
  /** How colours are printed; undefined for RGB. */
  readonly cmyk: CmykColours | undefined;
}

const zlibDeflate = promisify(deflate);
/** Flats pack well whatever is tried. */
const pack = (bytes: Uint8Array): Promise<Uint8Array> => zlibDeflate(bytes, { level: 3 });

/** Writes flats in one of the formats. @throws UsageError where they cannot be written. */
export async function writeFlats(target: FlatsTarget, written: WrittenFlats): Promise<void> {
  const { out, input, inputs, cmyk, file } = written;
  const colours = cmyk === undefined ? {} : { cmyk };
  const page = preparePage(input);
  if (target === 'folder') await writeFiles(out, page, inputs);
  else if (target === 'ora') await writeOutput(out, await buildOpenRaster(page, { encodeRgba }), inputs);
  else if (target === 'svg') await writeOutput(out, buildSvg(page), inputs);
  else if (target === 'pdf') {
    const facts = { title: `Proof of ${file.split(/[/\\]/).at(-1)!}`, lines: [] };
    await writeOutput(out, await buildProof(page, facts, { deflate: pack, ...colours }), inputs);
  } else {
    await checkNoInput(out, inputs);
    await writeBy(out, () =>
      FileSink.write(out, (sink) => writeTiffHandoff(page, { sink, deflate: pack, ...colours })),
    );
  }
}

async function writeFiles(out: string, page: HandoffPage, inputs: readonly string[]): Promise<void> {
  await makeOutputFolder(out);
  const put = (name: string, bytes: Uint8Array): Promise<void> => writeOutput(join(out, name), bytes, inputs);
  await writeFolder(page, null, { encodeRgba, encodeHard, put });
}
