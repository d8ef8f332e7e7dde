import { expect, test } from '@jest/globals';
import { colourName } from './colourName.ts';

test.each([
  [0x000000, 'Black'],
  [0xffffff, 'White'],
  [0x808080, 'Grey'],
  [0x303030, 'Dark grey'],
  [0xd8d8d8, 'Pale grey'],
  [0xff0000, 'Red'],
  [0x700010, 'Dark red'],
  [0xff8800, 'Orange'],
  [0xffee22, 'Yellow'],
  [0x00a040, 'Green'],
  [0x0b3d1f, 'Dark green'],
  [0xbfe6c4, 'Pale green'],
  [0x20b2aa, 'Turquoise'],
  [0x2255cc, 'Blue'],
  [0x101f5c, 'Dark blue'],
  [0xbcd6f0, 'Pale blue'],
  [0x8030a0, 'Purple'],
  [0xff80b0, 'Pink'],
  [0xff9999, 'Pink'],
  [0x7a4a26, 'Brown'],
  [0x3b2412, 'Dark brown'],
  [0xf0cfae, 'Beige'],
  [0x7c7a2a, 'Olive'],
])('%p has a plain name', (rgb, name) => {
  expect(colourName(rgb)).toBe(name);
});
