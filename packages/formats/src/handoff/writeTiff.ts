import { TiffWriter, type Deflate, type TiffPage, type TiffSink } from '../tiff/TiffWriter.ts';
import { countLayers, flatsLayers } from './flatsLayers.ts';
import { PageSamples, type CmykColours } from './PageSamples.ts';
import type { HandoffPage, HardInk } from './preparePage.ts';

export interface TiffPorts {
  readonly sink: TiffSink;
  readonly deflate: Deflate;
  /** @default RGB */
  readonly cmyk?: CmykColours;
  /** Sees the samples of each page, by its place, as they are written, strip by strip. */
  readonly onSamples?: (page: number, samples: Uint8Array) => void;
  readonly onProgress?: (share: number) => void;
}

/**
 * Writes a page as a TIFF file of several pages: `Merged` first, then the line art (with the colours of lines), then the
 * flats, topmost first, all of the full size; a line art of 1 bit has its own. In CMYK the line art is black alone.
 */
export async function writeTiffHandoff(page: HandoffPage, ports: TiffPorts): Promise<void> {
  const samples = await PageSamples.of(page, ports.cmyk);
  const { width, height, colour } = samples;
  const { hardInk, holds, closures, input, inkName } = page;
  const count = countLayers(page) + 2;
  const writer = new TiffWriter(ports.sink, ports.deflate, page.dpi);
  await writer.begin();
  let made = 0;
  const write = async (one: TiffPage): Promise<void> => {
    const rows: TiffPage['rows'] = (from, rowCount, out) => {
      one.rows(from, rowCount, out);
      ports.onSamples?.(made, out);
    };
    await writer.add({ ...one, rows });
    made++;
    ports.onProgress?.(Math.min(0.99, made / count));
  };
  const add = (name: string, alpha: boolean, rows: TiffPage['rows']): Promise<void> =>
    write({ name, width, height, colour, alpha, rows });
  await add('Merged', false, samples.merged());
  if (hardInk === null) await add(inkName, true, samples.lineArt());
  else {
    if (holds !== null) await add('Lines (holds)', true, samples.words(holds));
    await write({ ...hardInk, name: inkName, colour: 'bilevel', alpha: false, rows: bitsOf(hardInk) });
  }
  if (closures !== null) await add('Lines (closures)', true, samples.words(closures));
  if (input.shading === true) await add('Shading', true, samples.silhouette());
  for (const layer of flatsLayers(page))
    await add(layer.group === null ? layer.name : `${layer.group}/${layer.name}`, true, samples.layer(layer));
}

/** Eight pixels a byte, the first in the highest bit; rows begin with a byte. */
function bitsOf({ width, data }: HardInk): TiffPage['rows'] {
  const bytes = Math.ceil(width / 8);
  return (from, count, out) => {
    for (let y = 0; y < count; y++)
      for (let x = 0; x < width; x++)
        if (data[(from + y) * width + x] !== 0)
          out[y * bytes + (x >> 3)] = out[y * bytes + (x >> 3)]! | (128 >> (x & 7));
  };
}
