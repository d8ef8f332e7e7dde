import {
  buildPyramid,
  compose,
  darken,
  degreesOfSlope,
  holdRgba,
  layOver,
  paintOfRegions,
  EMPTY_PIXEL,
  PAINTED_PIXEL,
  type RenderedPage,
  rgbaWord,
  compileTrap,
  type TileRaster,
  PAPER_WORD,
} from '@jumble/core';
import { countLayers, flatsLayers, renderFlats, type HandoffInput, type HandoffPorts } from './flatsLayers.ts';
import { writeOpenRaster } from '../openRaster/writeOpenRaster.ts';
import type { OraLayer, OraNode } from '../openRaster/OpenRaster.ts';
import { colourPixels, encodeFlatsPng } from '../png/encodeFlatsPng.ts';
import { setPngFacts } from '../png/setPngFacts.ts';

/**
 * Builds the OpenRaster hand-off: line art on top in multiply and locked, flats below in named
 * groups, opaque white paper at the bottom; the merged image is what the layers give.
 */
export async function buildOpenRaster(input: HandoffInput, ports: HandoffPorts): Promise<Uint8Array> {
  const { survey, dpi } = input;
  const { width, height, inkAlpha } = input.full ?? survey;
  const report = ports.onProgress ?? (() => undefined);
  const png = async (rgba: Uint8Array, w: number, h: number): Promise<Uint8Array> =>
    setPngFacts(await ports.encodeRgba(rgba, w, h), { dpi });

  const flats = renderFlats(input);
  report(0.1);
  const holds = input.holds === undefined ? null : holdsOnPage(input);
  const ink = await lineLayers(input, holds, inkAlpha, (rgba) => png(rgba, width, height));
  report(0.25);

  const expected = Math.max(1, countLayers(input, flats));
  const byGroup = new Map<string | null, OraLayer[]>();
  let made = 0;
  for (const layer of flatsLayers(input, flats)) {
    const list = byGroup.get(layer.group) ?? [];
    byGroup.set(layer.group, list);
    list.push({
      kind: 'layer',
      name: layer.name,
      png: await png(colourPixels(layer.values, flats.rgbOfPart), layer.width, layer.height),
      x: layer.x,
      y: layer.y,
      compositeOp: 'svg:src-over',
      editLocked: false,
      selected: made === 0,
    });
    report(0.25 + (0.45 * ++made) / expected);
  }
  const groups: OraNode[] = [...byGroup].flatMap(([name, layers]): OraNode[] =>
    name === null ? layers : [{ kind: 'stack', name, children: layers }],
  );
  const body: OraNode[] =
    input.split === 'single'
      ? groups
      : [{ kind: 'stack', name: input.scratch ? 'Flats (scratch colours)' : 'Flats', children: groups }];

  const merged = mergeImage(flats, inkAlpha, holds);
  const mergedPng = await png(merged, width, height);
  report(0.9);
  const scale = Math.min(1, 256 / Math.max(width, height));
  const thumbWidth = Math.max(1, Math.floor(width * scale));
  const thumbHeight = Math.max(1, Math.floor(height * scale));
  const thumbnail = await png(
    smallImage(input, flats, (scale * width) / survey.width, thumbWidth, thumbHeight),
    thumbWidth,
    thumbHeight,
  );
  const paper = await png(new Uint8Array(width * height * 4).fill(255), width, height);
  const bytes = writeOpenRaster({
    width,
    height,
    dpi,
    merged: mergedPng,
    thumbnail,
    children: [
      ink,
      ...body,
      {
        kind: 'layer',
        name: 'Paper',
        png: paper,
        x: 0,
        y: 0,
        compositeOp: 'svg:src-over',
        editLocked: true,
        selected: false,
      },
    ],
  });
  report(1);
  return bytes;
}

/** The flats as one PNG without the line art. */
export function buildFlatsPng(input: HandoffInput, ports: HandoffPorts): Promise<Uint8Array> {
  const flats = renderFlats(input);
  return encodeFlatsPng(flats.parts, flats.rgbOfPart, input.dpi, ports.encodeRgba);
}

/** Says by how much the page was turned, because the layer no longer lies as the file it came from. */
export function inkLayerName(slopePpm: number): string {
  return slopePpm === 0 ? 'Line art' : `Line art (straightened by ${degreesOfSlope(slopePpm).toFixed(2)} degrees)`;
}

/** The colours of lines as RGBA at the size of what is handed off. */
export function holdsOnPage({ holds, survey, full }: HandoffInput): Uint8Array {
  const rgba = holdRgba(survey, holds!.paint);
  if (full === undefined) return rgba;
  const small = new Uint32Array(rgba.buffer);
  const words = new Uint32Array(full.width * full.height);
  for (let y = 0; y < full.height; y++) {
    for (let x = 0; x < full.width; x++) words[y * full.width + x] = small[(y >> 1) * survey.width + (x >> 1)]!;
  }
  return new Uint8Array(words.buffer);
}

/** The ink in the colours of its lines, with its alpha. @param holds as {@link holdsOnPage} has it, null for black. */
export function linesRgba(inkAlpha: Uint8Array, holds: Uint8Array | null): Uint8Array {
  if (holds === null) return inkRgba(inkAlpha);
  const colours = new Uint32Array(holds.buffer, holds.byteOffset, inkAlpha.length);
  const words = new Uint32Array(inkAlpha.length);
  for (let at = 0; at < words.length; at++) {
    if (inkAlpha[at] !== 0) words[at] = (colours[at]! & 0xffffff) | (inkAlpha[at]! << 24);
  }
  return new Uint8Array(words.buffer);
}

/**
 * The line art: black and to be multiplied; with colours an isolated stack, in which a layer of opaque colours lies atop
 * the untouched line art and is clipped by it; or one layer in its colours.
 */
async function lineLayers(
  { survey, lines }: HandoffInput,
  holds: Uint8Array | null,
  inkAlpha: Uint8Array,
  png: (rgba: Uint8Array) => Promise<Uint8Array>,
): Promise<OraNode> {
  const layer = async (
    name: string,
    rgba: Uint8Array,
    compositeOp: OraLayer['compositeOp'],
    editLocked: boolean,
  ): Promise<OraLayer> => ({
    kind: 'layer',
    name,
    png: await png(rgba),
    x: 0,
    y: 0,
    compositeOp,
    editLocked,
    selected: false,
  });
  const name = inkLayerName(survey.slopePpm);
  if (holds === null) return layer(name, inkRgba(inkAlpha), 'svg:multiply', true);
  if (lines === 'coloured') return layer(name, linesRgba(inkAlpha, holds), 'svg:src-over', true);
  return {
    kind: 'stack',
    name: 'Lines',
    children: [
      await layer('Holds', holds, 'svg:src-atop', false),
      await layer(name, inkRgba(inkAlpha), 'svg:src-over', true),
    ],
  };
}

/** Black with the ink's alpha. */
export function inkRgba(inkAlpha: Uint8Array): Uint8Array {
  const words = new Uint32Array(inkAlpha.length);
  for (let i = 0; i < words.length; i++) words[i] = inkAlpha[i]! << 24;
  return new Uint8Array(words.buffer);
}

function wordsOfTiles({ tilesPerRow, tiles }: TileRaster, words: Uint32Array): TileRaster {
  const wordOf = (value: number): number =>
    value === 0 ? 0 : value === EMPTY_PIXEL ? PAPER_WORD : words[value - PAINTED_PIXEL]!;
  return { tilesPerRow, tiles: new Map([...tiles].map(([number, values]) => [number, values.map(wordOf)])) };
}

/** What the layers give, pixel by pixel: flats over white paper, ink over both. */
function mergeImage({ parts, rgbOfPart }: RenderedPage, inkAlpha: Uint8Array, holds: Uint8Array | null): Uint8Array {
  const words = Int32Array.of(PAPER_WORD | 0, ...rgbOfPart.map((rgb) => rgbaWord(rgb) | 0));
  const out = new Int32Array(parts.data.length);
  const lines = holds === null ? null : new Int32Array(holds.buffer, holds.byteOffset, out.length);
  for (let at = 0; at < out.length; at++) {
    const word = words[parts.data[at]!]!;
    const hold = lines === null ? 0 : lines[at]!;
    out[at] = inkAlpha[at] === 0 ? word : hold === 0 ? darken(word, inkAlpha[at]!) : layOver(word, hold, inkAlpha[at]!);
  }
  return new Uint8Array(out.buffer);
}

function smallImage(
  input: HandoffInput,
  flats: RenderedPage,
  scale: number,
  width: number,
  height: number,
): Uint8Array {
  const { survey } = input;
  const words = Uint32Array.from(flats.rgbOfPart, rgbaWord);
  const paint = {
    ...paintOfRegions(survey, flats.partNumbers, words, compileTrap(survey, input.trap, input.trapInk)),
    ...(input.holds === undefined ? {} : { holds: input.holds.paint }),
    ...(flats.corrections === undefined ? {} : { corrections: wordsOfTiles(flats.corrections, words) }),
  };
  const out = new Uint32Array(width * height);
  const levels = scale < 0.5 ? buildPyramid(survey) : [survey];
  compose(levels, paint, { x: 0, y: 0, scale, width, height }, out);
  return new Uint8Array(out.buffer);
}
