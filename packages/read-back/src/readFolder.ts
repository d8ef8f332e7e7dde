import type { Comparison } from './Comparison.ts';
import { ReadBackError, type LayerName } from './ExpectedPage.ts';
import { entryOf, openZip } from './openZip.ts';
import { readPalettePng, readPng } from './readPng.ts';

interface Manifest {
  readonly width: number;
  readonly height: number;
  readonly lineArt: string;
  readonly colouredLines: string | null;
  readonly shading: string | null;
  readonly closures: string | null;
  readonly merged: string;
  readonly layers: readonly (LayerName & { readonly file: string })[];
}

/** Reads a folder of PNGs, packed as a zip, again. @throws ReadBackError for the first difference. */
export async function readFolder(path: string, compared: Comparison): Promise<void> {
  const { expected } = compared;
  const zip = await openZip(path);
  try {
    const bytes = async (name: string): Promise<Buffer> => zip.read(entryOf(zip, name));
    const manifest = JSON.parse((await bytes('manifest.json')).toString('utf8')) as Manifest;
    compared.size('the manifest', manifest.width, manifest.height);
    compared.picture(manifest.merged, await readPalettePng(await bytes(manifest.merged)), compared.flatsWord());
    if (expected.hardInk === null)
      compared.picture(manifest.lineArt, readPng(await bytes(manifest.lineArt)), (at) => expected.inkAlpha[at]! << 24);
    else {
      const { width, height, data } = await readPalettePng(await bytes(manifest.lineArt));
      const ink = expected.hardInk;
      if (width !== ink.width || height !== ink.height)
        throw new ReadBackError('the line art has another size than was written');
      for (let at = 0; at < ink.data.length; at++)
        if (data[at * 4] !== 255 - ink.data[at]!)
          throw new ReadBackError(`the line art differs at ${at % width}, ${Math.floor(at / width)} px`);
      compared.count(ink.data.length);
    }
    if (manifest.colouredLines !== null)
      compared.picture(manifest.colouredLines, readPng(await bytes(manifest.colouredLines)), compared.linesWord());
    if (manifest.shading !== null)
      compared.picture(manifest.shading, readPng(await bytes(manifest.shading)), (at) => (expected.parts[at] === 0 ? 0 : 0xffffffff)); // prettier-ignore
    if (manifest.closures !== null)
      compared.picture(manifest.closures, readPng(await bytes(manifest.closures)), (at) => expected.closures![at]!);
    for (const { file, group, name } of manifest.layers)
      compared.layer(name, (one) => one.group === group && one.name === name, readPng(await bytes(file)));
    compared.layersAreWhole();
  } finally {
    zip.close();
  }
}
