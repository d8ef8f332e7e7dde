import { join } from 'node:path';
import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import {
  buildOpenRaster,
  buildProof,
  buildSvg,
  colourPixels,
  encodeFlatsPng,
  flatsLayers,
  holdsOnPage,
  inkRgba,
  linesRgba,
  renderFlats,
  setPngFacts,
  writeTiffHandoff,
  type CmykColours,
  type HandoffInput,
} from '@jumble/formats';
import { encodeRgba, FileSink } from '@jumble/raster-io';
import { checkNoInput, makeOutputFolder, writeBy, writeOutput } from './writeOutput.ts';

/** What flats are written as. */
export type FlatsTarget = 'ora' | 'tif' | 'svg' | 'pdf' | 'folder';

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
  if (target === 'folder') await writeFolder(out, input, inputs);
  else if (target === 'ora') await writeOutput(out, await buildOpenRaster(input, { encodeRgba }), inputs);
  else if (target === 'svg') await writeOutput(out, buildSvg(input), inputs);
  else if (target === 'pdf') {
    const facts = { title: `Proof of ${file.split(/[/\\]/).at(-1)!}`, lines: [] };
    await writeOutput(out, await buildProof(input, facts, { deflate: pack, ...colours }), inputs);
  } else {
    await checkNoInput(out, inputs);
    await writeBy(out, () =>
      FileSink.write(out, (sink) => writeTiffHandoff(input, { sink, deflate: pack, ...colours })),
    );
  }
}

/** A layer in the manifest of a folder. */
interface ManifestLayer {
  readonly file: string;
  readonly name: string;
  readonly group: string | null;
  /** Box of its pixels, in px. */
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

async function writeFolder(out: string, input: HandoffInput, inputs: readonly string[]): Promise<void> {
  await makeOutputFolder(out);
  const { width, height } = input.survey;
  const { dpi } = input;
  const flats = renderFlats(input);
  const write = (name: string, png: Uint8Array): Promise<void> => writeOutput(join(out, `${name}.png`), png, inputs);
  await write('flats', await encodeFlatsPng(flats.parts, flats.rgbOfPart, dpi, encodeRgba));
  const ink = await encodeRgba(inkRgba(input.survey.inkAlpha), width, height);
  await write('ink', setPngFacts(ink, { dpi }));
  if (input.holds !== undefined) {
    const lines = await encodeRgba(linesRgba(input.survey.inkAlpha, holdsOnPage(input)), width, height);
    await write('lines', setPngFacts(lines, { dpi }));
  }
  const taken = new Set(['flats', 'ink', 'lines', 'manifest']);
  const layers: ManifestLayer[] = [];
  for (const { values, group, name, ...box } of flatsLayers(input, flats)) {
    // In a folder nothing tells where a cropped picture goes: every layer has the page's size.
    const rgba = onPage(colourPixels(values, flats.rgbOfPart), box, width, height);
    const file = fileName(name, taken);
    await write(file, setPngFacts(await encodeRgba(rgba, width, height), { dpi }));
    layers.push({ file: `${file}.png`, name, group, ...box });
  }
  const manifest = {
    format: 'jumble-flats',
    version: 1,
    width,
    height,
    dpi,
    lineArt: 'ink.png',
    colouredLines: input.holds === undefined ? null : 'lines.png',
    merged: 'flats.png',
    transparencyLocked: true,
    layers,
  };
  await writeOutput(join(out, 'manifest.json'), `${JSON.stringify(manifest, null, 2)}\n`, inputs);
}

interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

function onPage(
  rgba: Uint8Array,
  { x, y, width: columns, height: rows }: Box,
  width: number,
  height: number,
): Uint8Array {
  if (columns === width && rows === height) return rgba;
  const page = new Uint8Array(width * height * 4);
  for (let row = 0; row < rows; row++)
    page.set(rgba.subarray(row * columns * 4, (row + 1) * columns * 4), ((y + row) * width + x) * 4);
  return page;
}

function fileName(name: string, taken: Set<string>): string {
  const base =
    name
      .normalize('NFKD')
      .replace(/[^\w -]+/g, '')
      .trim()
      .replace(/\s+/g, '-')
      .toLowerCase() || 'layer';
  let candidate = base;
  for (let k = 2; taken.has(candidate); k++) candidate = `${base}-${k}`;
  taken.add(candidate);
  return candidate;
}
