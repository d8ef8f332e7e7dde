import { darken, layOver, PAPER_WORD, rgbaWord } from '@jumble/core';
import { countLayers, flatsLayers, flatsName } from './flatsLayers.ts';
import type { HandoffPorts } from './HandoffInput.ts';
import type { HandoffPage } from './preparePage.ts';
import { writeOpenRaster } from '../openRaster/writeOpenRaster.ts';
import type { OraLayer, OraNode } from '../openRaster/OpenRaster.ts';
import { colourPixels } from '../png/encodeFlatsPng.ts';
import { setPngFacts } from '../png/setPngFacts.ts';

/** Pixels of the thumbnail's longer side, at most. */
const THUMBNAIL_PX = 256;

/**
 * Builds the OpenRaster hand-off: line art on top in multiply and locked, flats below in named
 * groups, opaque white paper at the bottom; the merged image is what the layers give.
 */
export async function buildOpenRaster(page: HandoffPage, ports: HandoffPorts): Promise<Uint8Array> {
  const { input, width, height, dpi, flats } = page;
  const report = ports.onProgress ?? (() => undefined);
  const png = async (rgba: Uint8Array, w: number, h: number): Promise<Uint8Array> =>
    setPngFacts(await ports.encodeRgba(rgba, w, h), { dpi });
  const whole = async (name: string, rgba: Uint8Array, over: Partial<OraLayer> = {}): Promise<OraLayer> => ({
    kind: 'layer',
    name,
    png: await png(rgba, width, height),
    x: 0,
    y: 0,
    compositeOp: 'svg:src-over',
    editLocked: false,
    selected: false,
    ...over,
  });
  report(0.1);
  const notes =
    page.closures === null ? [] : [await whole('Closures (notes)', bytesOf(page.closures), { hidden: true })];
  const ink = await lineLayers(page, whole);
  report(0.25);

  const expected = Math.max(1, countLayers(page));
  const byGroup = new Map<string | null, OraLayer[]>();
  let made = 0;
  for (const layer of flatsLayers(page)) {
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
    input.split === 'single' ? groups : [{ kind: 'stack', name: flatsName(input), children: groups }];
  const shading: OraNode[] =
    input.shading === true
      ? [
          {
            kind: 'stack',
            name: 'Shading',
            compositeOp: 'svg:multiply',
            children: [await whole('Shading', silhouetteRgba(page))],
          },
        ]
      : [];
  const merged = mergeImage(page);
  const mergedPng = await png(merged, width, height);
  report(0.9);
  const small = shrink(merged, width, height, THUMBNAIL_PX);
  const thumbnail = await png(small.rgba, small.width, small.height);
  const paper = await whole('Paper', new Uint8Array(width * height * 4).fill(255), { editLocked: true });
  const bytes = writeOpenRaster({
    width,
    height,
    dpi,
    merged: mergedPng,
    thumbnail,
    children: [...notes, ink, ...shading, ...body, paper],
  });
  report(1);
  return bytes;
}

const bytesOf = ({ buffer, byteOffset, byteLength }: Uint32Array): Uint8Array =>
  new Uint8Array(buffer, byteOffset, byteLength);

/** White wherever the flats have a colour. */
export function silhouetteRgba({ flats }: HandoffPage): Uint8Array {
  return bytesOf(Uint32Array.from(flats.parts.data, (value) => (value === 0 ? 0 : PAPER_WORD)));
}

/** The ink in the colours of its lines, with its alpha. */
export function linesRgba({ inkAlpha, holds }: HandoffPage): Uint8Array {
  if (holds === null) return inkRgba(inkAlpha);
  const words = new Uint32Array(inkAlpha.length);
  for (let at = 0; at < words.length; at++) {
    if (inkAlpha[at] !== 0) words[at] = (holds[at]! & 0xffffff) | (inkAlpha[at]! << 24);
  }
  return bytesOf(words);
}

/**
 * The line art: black and to be multiplied; with colours an isolated stack, in which a layer of opaque colours lies atop
 * the untouched line art and is clipped by it; or one layer in its colours.
 */
async function lineLayers(
  page: HandoffPage,
  whole: (name: string, rgba: Uint8Array, over?: Partial<OraLayer>) => Promise<OraLayer>,
): Promise<OraNode> {
  const { inkAlpha, holds, inkName } = page;
  if (holds === null) return whole(inkName, inkRgba(inkAlpha), { compositeOp: 'svg:multiply', editLocked: true });
  if (page.input.lines === 'coloured') return whole(inkName, linesRgba(page), { editLocked: true });
  return {
    kind: 'stack',
    name: 'Lines',
    children: [
      await whole('Holds', bytesOf(holds), { compositeOp: 'svg:src-atop' }),
      await whole(inkName, inkRgba(inkAlpha), { editLocked: true }),
    ],
  };
}

/** Black with the ink's alpha. */
export function inkRgba(inkAlpha: Uint8Array): Uint8Array {
  const words = new Uint32Array(inkAlpha.length);
  for (let i = 0; i < words.length; i++) words[i] = inkAlpha[i]! << 24;
  return bytesOf(words);
}

/** What the layers give, pixel by pixel: flats over white paper, ink over both. */
function mergeImage({ flats, inkAlpha, holds }: HandoffPage): Uint8Array {
  const { data } = flats.parts;
  const words = Int32Array.of(PAPER_WORD | 0, ...flats.rgbOfPart.map((rgb) => rgbaWord(rgb) | 0));
  const out = new Int32Array(data.length);
  for (let at = 0; at < out.length; at++) {
    const word = words[data[at]!]!;
    const hold = holds === null ? 0 : holds[at]! | 0;
    out[at] = inkAlpha[at] === 0 ? word : hold === 0 ? darken(word, inkAlpha[at]!) : layOver(word, hold, inkAlpha[at]!);
  }
  return new Uint8Array(out.buffer);
}

/** Means of squares, so that no side has more than so many px. */
function shrink(
  rgba: Uint8Array,
  width: number,
  height: number,
  mostPx: number,
): { readonly rgba: Uint8Array; readonly width: number; readonly height: number } {
  const scale = Math.min(1, mostPx / Math.max(width, height));
  const [w, h] = [Math.max(1, Math.floor(width * scale)), Math.max(1, Math.floor(height * scale))];
  const out = new Uint8Array(w * h * 4);
  for (let y = 0; y < h; y++) {
    const [y0, y1] = [Math.floor((y * height) / h), Math.floor(((y + 1) * height) / h)];
    for (let x = 0; x < w; x++) {
      const [x0, x1] = [Math.floor((x * width) / w), Math.floor(((x + 1) * width) / w)];
      const sums = [0, 0, 0, 0];
      for (let row = y0; row < y1; row++)
        for (let at = (row * width + x0) * 4; at < (row * width + x1) * 4; at++)
          sums[at & 3] = sums[at & 3]! + rgba[at]!;
      const count = (y1 - y0) * (x1 - x0);
      sums.forEach((sum, k) => (out[(y * w + x) * 4 + k] = Math.round(sum / count)));
    }
  }
  return { rgba: out, width: w, height: h };
}
