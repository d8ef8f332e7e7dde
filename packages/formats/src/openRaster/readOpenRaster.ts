import { XMLParser } from 'fast-xml-parser';
import { strFromU8, unzipSync } from 'fflate';
import type { OraImage, OraLayer, OraNode } from './OpenRaster.ts';

/** An archive may unpack to this many bytes at most. */
const MAX_UNPACKED_BYTES = 2_000_000_000;

interface XmlNode {
  readonly [tag: string]: unknown;
  readonly ':@'?: Readonly<Record<string, string>>;
}

/**
 * Reads an OpenRaster file back into its stack.
 *
 * @throws TypeError when it is no OpenRaster file or refers to a picture it does not hold;
 *   RangeError when it would unpack to more than two gigabytes.
 */
export function readOpenRaster(bytes: Uint8Array): OraImage {
  let unpacked = 0;
  const files = unzipSync(bytes, {
    filter: (file) => {
      unpacked += file.originalSize;
      if (unpacked > MAX_UNPACKED_BYTES) throw new RangeError('the archive unpacks to more than 2 GB');
      return true;
    },
  });
  if (files.mimetype === undefined || strFromU8(files.mimetype) !== 'image/openraster') {
    throw new TypeError('not an OpenRaster file: its mimetype entry is missing or different');
  }
  const xml = files['stack.xml'];
  const merged = files['mergedimage.png'];
  const thumbnail = files['Thumbnails/thumbnail.png'];
  if (xml === undefined) throw new TypeError('the OpenRaster file lacks stack.xml');
  const parser = new XMLParser({ preserveOrder: true, ignoreAttributes: false, attributeNamePrefix: '' });
  const document = parser.parse(strFromU8(xml)) as XmlNode[];
  const image = document.find((node) => 'image' in node);
  const root = (image?.image as XmlNode[] | undefined)?.find((node) => 'stack' in node);
  if (image === undefined || root === undefined) throw new TypeError('stack.xml holds no image with a stack');

  const read = (node: XmlNode): OraNode[] => {
    const attributes = node[':@'] ?? {};
    if ('stack' in node) {
      const children = (node.stack as XmlNode[]).flatMap(read);
      const compositeOp = attributes['composite-op'] as OraLayer['compositeOp'] | undefined;
      return [{ kind: 'stack', name: attributes.name ?? '', children, ...(compositeOp === undefined ? {} : { compositeOp }), ...shown(attributes) }]; // prettier-ignore
    }
    if (!('layer' in node)) return [];
    const png = files[attributes.src ?? ''];
    if (png === undefined) throw new TypeError(`layer "${attributes.name}" has no picture at ${attributes.src}`);
    return [
      {
        kind: 'layer',
        name: attributes.name ?? '',
        png,
        x: Number(attributes.x ?? 0),
        y: Number(attributes.y ?? 0),
        compositeOp: (attributes['composite-op'] ?? 'svg:src-over') as OraLayer['compositeOp'],
        editLocked: attributes['edit-locked'] === 'true',
        selected: attributes.selected === 'true',
        ...shown(attributes),
        ...(attributes.opacity === undefined ? {} : { opacity: Number(attributes.opacity) }),
      },
    ];
  };
  const attributes = image[':@'] ?? {};
  return {
    width: Number(attributes.w),
    height: Number(attributes.h),
    dpi: attributes.xres === undefined ? null : Number(attributes.xres),
    children: (root.stack as XmlNode[]).flatMap(read),
    // Some programs leave them out.
    merged: merged ?? new Uint8Array(0),
    thumbnail: thumbnail ?? new Uint8Array(0),
  };
}

const shown = (attributes: Readonly<Record<string, string>>): { hidden?: true } =>
  attributes.visibility === 'hidden' ? { hidden: true } : {};

/** A layer of flats with the names of the groups around it, the outermost first. */
export interface FlatsOfFile extends OraLayer {
  readonly groups: readonly string[];
}

/** Layers that are no flats, by their name or that of a group around them. */
const NO_FLATS = /^(line art|lines|paper|shading|merged)\b/i;

/** Whether a layer of this name is line art, paper, shading or all of it merged. */
export const isNoFlats = (name: string): boolean => NO_FLATS.test(name);

/** The layers of flats of an OpenRaster picture, topmost first: what shows, and is neither line art nor paper nor shading. */
export function flatsOfOpenRaster(nodes: readonly OraNode[], groups: readonly string[] = []): FlatsOfFile[] {
  return nodes.flatMap((node): FlatsOfFile[] => {
    if (node.hidden === true || NO_FLATS.test(node.name)) return [];
    return node.kind === 'stack' ? flatsOfOpenRaster(node.children, [...groups, node.name]) : [{ ...node, groups }];
  });
}
