import { diffLayers, formatColour } from '@jumble/core';
import { PageFileError, readLayers, type LayeredFlats } from '@jumble/raster-io';
import { UsageError } from './UsageError.ts';
import { writeOutput } from './writeOutput.ts';

export interface DiffOptions {
  readonly report?: string;
}

/**
 * Says what became of flats that were sent.
 *
 * @returns 0 where nothing did, else 1. @throws UsageError with one line that names the file.
 */
export async function runDiff(sent: string, returned: string, { report }: DiffOptions): Promise<number> {
  const [was, is] = [await layersOf(sent), await layersOf(returned)];
  if (was.width !== is.width || was.height !== is.height)
    throw new UsageError(
      `${returned}: it has ${is.width} x ${is.height} px, what was sent ${was.width} x ${was.height}; it is another page, or another size.`,
    );
  const diff = diffLayers(was.width, was.height, was.layers, is.layers);
  const recoloured = diff.recoloured.map(({ part, from, to }) => ({ part, from: formatColour(from), to: formatColour(to) })); // prettier-ignore
  const text = `${JSON.stringify({ ...diff, recoloured }, null, 2)}\n`;
  if (report === undefined) process.stdout.write(text);
  else await writeOutput(report, text, [sent, returned], '--report');
  const { moved, added, removed } = diff;
  return recoloured.length + moved.length + added.length + removed.length === 0 ? 0 : 1;
}

/** @throws UsageError with one line that names the file. */
function layersOf(path: string): Promise<LayeredFlats> {
  return readLayers(path).catch((error: unknown) => {
    throw error instanceof PageFileError ? new UsageError(`${path}: ${error.message}`) : error;
  });
}
