import { TiffWriter, type Deflate, type TiffSink } from '../tiff/TiffWriter.ts';
import { inkLayerName } from './buildOpenRaster.ts';
import { countLayers, flatsLayers, renderFlats, type HandoffInput } from './flatsLayers.ts';
import { PageSamples, type CmykColours } from './PageSamples.ts';

export interface TiffPorts {
  readonly sink: TiffSink;
  readonly deflate: Deflate;
  /** @default RGB */
  readonly cmyk?: CmykColours;
  readonly onProgress?: (share: number) => void;
}

/**
 * Writes a page as a TIFF file of several pages, each of the full size: `Merged` first, then the line art (with the colours of
 * lines), then the flats, topmost first. In CMYK the line art is black alone.
 */
export async function writeTiffHandoff(input: HandoffInput, ports: TiffPorts): Promise<void> {
  const flats = renderFlats(input);
  const samples = await PageSamples.of(input, flats, ports.cmyk);
  const { width, height, colour } = samples;
  const count = countLayers(input, flats) + 2;
  const writer = new TiffWriter(ports.sink, ports.deflate, input.dpi);
  await writer.begin();
  const add = async (name: string, alpha: boolean, rows: ReturnType<PageSamples['merged']>): Promise<void> => {
    await writer.add({ name, width, height, colour, alpha, rows });
    ports.onProgress?.(Math.min(0.99, ++made / count));
  };
  let made = 0;
  await add('Merged', false, samples.merged());
  await add(inkLayerName(input.survey.slopePpm), true, samples.lineArt());
  for (const layer of flatsLayers(input, flats))
    await add(layer.group === null ? layer.name : `${layer.group}/${layer.name}`, true, samples.layer(layer));
}
