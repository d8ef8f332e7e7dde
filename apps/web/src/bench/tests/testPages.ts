import {
  applyEdits,
  editCastScene,
  editColour,
  editGroup,
  editPart,
  type GreyRaster,
  type Records,
} from '@jumble/core';

/** Records of a cast sheet with one character of two parts and "leave empty". For tests. */
export function smallCast(): Records {
  const edits = [
    editCastScene({ id: 'day', name: 'Day', order: 0 }),
    editGroup({ id: 'wren', name: 'Wren', order: 0 }),
    editPart({ id: 'coat', groupId: 'wren', name: 'Coat', order: 0, slot: '1', empty: false }),
    editPart({ id: 'hair', groupId: 'wren', name: 'Hair', order: 1, slot: '2', empty: false }),
    editPart({ id: 'none', groupId: 'wren', name: 'Leave empty', order: 2, slot: '0', empty: true }),
    editColour('day', 'coat', '#336699'),
    editColour('day', 'hair', '#553311'),
  ];
  return applyEdits(new Map(), edits).records;
}

/** A hut with a door of `gapPx`; `rooms` parts it by a wall with a door of the same size. For tests. */
export function hut(gapPx: number, rooms = false): GreyRaster {
  const [width, height] = [260, 220];
  const data = new Uint8Array(width * height).fill(255);
  const bar = (x0: number, y0: number, x1: number, y1: number): void => {
    for (let y = y0; y < y1; y++) data.fill(0, y * width + x0, y * width + x1);
  };
  bar(40, 40, 206, 46);
  bar(40, 40, 46, 186);
  bar(40, 180, 206, 186);
  for (const x of rooms ? [120, 200] : [200]) {
    bar(x, 40, x + 6, 113 - Math.floor(gapPx / 2));
    bar(x, 113 + Math.ceil(gapPx / 2), x + 6, 186);
  }
  return { width, height, data };
}

/** A shelter without a floor: its outline runs out into the paper. For tests. */
export function shelter(): GreyRaster {
  const size = 400;
  const data = new Uint8Array(size * size).fill(255);
  for (let y = 80; y < 87; y++) data.fill(0, y * size + 100, y * size + 300);
  for (let y = 87; y < 300; y++) for (const x of [100, 293]) data.fill(0, y * size + x, y * size + x + 7);
  return { width: size, height: size, data };
}

/** A framed page with a caption, a solid black and dust, as a scanner sees it: on grey paper. For tests. */
export function scannedPage(slope = 0): GreyRaster {
  const [width, height] = [420, 320];
  const data = new Uint8Array(width * height).fill(214);
  const dab = (x: number, y: number): void => {
    const [px, py] = [Math.round(x - (y - 160) * slope), Math.round(y + (x - 210) * slope)];
    if (px >= 0 && py >= 0 && px < width && py < height) data[py * width + px] = 20;
  };
  const bar = (x0: number, y0: number, x1: number, y1: number): void => {
    for (let y = y0; y < y1; y += 0.5) for (let x = x0; x < x1; x += 0.5) dab(x, y);
  };
  bar(30, 30, 390, 34);
  bar(30, 286, 390, 290);
  bar(30, 30, 34, 290);
  bar(386, 30, 390, 290);
  bar(60, 60, 220, 64);
  bar(60, 110, 220, 114);
  bar(60, 60, 64, 114);
  bar(216, 60, 220, 114);
  // E L H T E L in the caption.
  for (let k = 0; k < 6; k++) {
    const x = 80 + k * 18;
    bar(x, 78, x + 3, 94);
    if (k % 4 < 2) bar(x, 91, x + 10, 94);
    if (k % 4 === 0) bar(x, 78, x + 10, 81);
    if (k % 4 === 2) bar(x + 9, 78, x + 12, 94);
    if (k % 4 === 2) bar(x, 85, x + 12, 88);
    if (k % 4 === 3) bar(x - 4, 78, x + 7, 81);
  }
  bar(260, 160, 350, 240);
  for (const [x, y] of [
    [300, 60],
    [120, 200],
    [180, 250],
  ] as const)
    dab(x, y);
  return { width, height, data };
}
