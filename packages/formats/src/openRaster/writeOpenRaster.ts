import { cleanName } from '@jumble/core';
import { XMLBuilder } from 'fast-xml-parser';
import { strToU8, zipSync, type Zippable } from 'fflate';
import type { OraImage, OraNode } from './OpenRaster.ts';

/**
 * Writes an OpenRaster file: `mimetype` first and stored, the stack, its pictures (stored, they are
 * compressed already), the merged image and a thumbnail. The same picture gives the same bytes. Control characters
 * in names, which XML cannot hold, are stripped.
 */
export function writeOpenRaster(image: OraImage): Uint8Array {
  const files: Zippable = { mimetype: [strToU8('image/openraster'), { level: 0 }] };
  const pictures: Zippable = {};
  let count = 0;
  const node = (child: OraNode): object => {
    if (child.kind === 'stack') {
      return {
        stack: child.children.map(node),
        ':@': {
          name: cleanName(child.name),
          opacity: '1.0',
          visibility: child.hidden === true ? 'hidden' : 'visible',
          'composite-op': child.compositeOp ?? 'svg:src-over',
          isolation: 'isolate',
        },
      };
    }
    const src = `data/layer${String(count++).padStart(3, '0')}.png`;
    pictures[src] = [child.png, { level: 0 }];
    return {
      layer: [],
      ':@': {
        name: cleanName(child.name),
        src,
        x: child.x,
        y: child.y,
        opacity: '1.0',
        visibility: child.hidden === true ? 'hidden' : 'visible',
        'composite-op': child.compositeOp,
        ...(child.editLocked ? { 'edit-locked': 'true' } : {}),
        ...(child.selected ? { selected: 'true' } : {}),
      },
    };
  };
  const stack = image.children.map(node);
  const resolution = image.dpi === null ? {} : { xres: Math.round(image.dpi), yres: Math.round(image.dpi) };
  const builder = new XMLBuilder({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    suppressEmptyNode: true,
    format: true,
  });
  const body = builder.build([
    { image: [{ stack }], ':@': { version: '0.0.6', w: image.width, h: image.height, ...resolution } },
  ]) as string;
  files['stack.xml'] = [strToU8(`<?xml version="1.0" encoding="UTF-8"?>\n${body.trim()}\n`), { level: 6 }];
  Object.assign(files, pictures);
  files['mergedimage.png'] = [image.merged, { level: 0 }];
  files['Thumbnails/thumbnail.png'] = [image.thumbnail, { level: 0 }];
  return zipSync(files, { mtime: new Date(1980, 0, 2) });
}
