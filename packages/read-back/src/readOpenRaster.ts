import type { Comparison } from './Comparison.ts';
import { ReadBackError } from './ExpectedPage.ts';
import { entryOf, openZip } from './openZip.ts';
import { readPng } from './readPng.ts';
import { readXml, type XmlElement } from './readXml.ts';

const FLATS = /^Flats\b/;

/** Reads an OpenRaster file again. @throws ReadBackError for the first difference. */
export async function readOpenRaster(path: string, compared: Comparison): Promise<void> {
  const { expected } = compared;
  const zip = await openZip(path);
  try {
    const [first] = zip.entries;
    if (first?.fileName !== 'mimetype' || first.compressionMethod !== 0)
      throw new ReadBackError('the archive does not begin with its type');
    if ((await zip.read(first)).toString() !== 'image/openraster')
      throw new ReadBackError('the archive has another type');
    const image = readXml((await zip.read(entryOf(zip, 'stack.xml'))).toString('utf8'));
    compared.size('the stack', Number(image.attributes.w), Number(image.attributes.h));
    const picture = async (src: string) => readPng(await zip.read(entryOf(zip, src)));
    const visit = async (element: XmlElement, groups: readonly string[]): Promise<void> => {
      const { name = '', src = '', x = '0', y = '0' } = element.attributes;
      if (element.name === 'stack') {
        for (const child of element.children) await visit(child, name === '' ? groups : [...groups, name]);
        return;
      }
      const rgba = await picture(src);
      const isColoured = expected.holds !== null && !groups.includes('Lines');
      if (name === expected.inkName)
        compared.picture(name, rgba, isColoured ? compared.linesWord() : (at) => expected.inkAlpha[at]! << 24);
      else if (name === 'Paper') compared.picture(name, rgba, () => 0xffffffff);
      else if (name === 'Holds' && groups.includes('Lines')) compared.picture(name, rgba, (at) => expected.holds![at]!);
      else if (name.startsWith('Closures')) compared.picture(name, rgba, (at) => expected.closures![at]!);
      else if (groups.includes('Shading'))
        compared.picture('Shading', rgba, (at) => (expected.parts[at] === 0 ? 0 : 0xffffffff)); // prettier-ignore
      else {
        const group = groups.filter((one) => !FLATS.test(one)).at(-1) ?? null;
        compared.layer(name, (one) => one.group === group && one.name === name, rgba, Number(x), Number(y));
      }
    };
    for (const stack of image.children) await visit(stack, []);
    compared.layersAreWhole();
    compared.picture('the merged image', await picture('mergedimage.png'), compared.mergedWord());
  } finally {
    zip.close();
  }
}
