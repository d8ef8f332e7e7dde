/** @jest-environment node */
import type { Viewport } from '@jumble/core';
import { DirtyRects, Picture, shiftBetween, type Rect } from './Picture.ts';

const view = (x: number, y: number, scale = 1): Viewport => ({ x, y, scale, width: 24, height: 16 });

/** A page whose every px tells where it lies. */
const composeArea = ({ x, y, scale, width, height }: Viewport): Uint32Array<ArrayBuffer> =>
  Uint32Array.from({ length: width * height }, (_, at) => {
    const [px, py] = [x + (at % width) / scale, y + Math.floor(at / width) / scale];
    return 1_000_000 + 1000 * Math.floor(py) + Math.floor(px);
  });

function pictureAt(where: Viewport): Picture {
  const picture = new Picture(where.width, where.height);
  picture.compose(picture.all, where, composeArea);
  return picture;
}

describe('a picture', () => {
  test('is composed where it is asked to be, and nowhere else', () => {
    const picture = pictureAt(view(100, 200));
    expect(picture.words[0]).toBe(1_200_100);
    expect(picture.words.at(-1)).toBe(1_215_123);

    picture.compose({ x: 20, y: -3, width: 40, height: 5 }, view(500, 600), composeArea);
    expect(picture.words[20]).toBe(1_600_520);
    expect(picture.words[24 + 23]).toBe(1_601_523);
    expect(picture.words[19]).toBe(1_200_119);
    expect(picture.words[2 * 24 + 20]).toBe(1_202_120);
  });

  test.each([
    [0, 5],
    [0, -5],
    [7, 0],
    [-7, 0],
    [3, 4],
    [-3, -4],
    [3, -4],
    [-11, 7],
  ])('moved by %i, %i is what would be composed there', (dx, dy) => {
    const to = view(100 - dx, 200 - dy);
    const picture = pictureAt(view(100, 200));
    picture.shift(dx, dy, to, composeArea);
    expect([...picture.words]).toEqual([...pictureAt(to).words]);
  });

  test('composed coarsely takes a quarter of the pixels, each in four places', () => {
    const picture = new Picture(24, 16);
    let pixels = 0;
    picture.composeCoarsely(view(100, 200), (area) => {
      pixels += area.width * area.height;
      return composeArea(area);
    });
    expect(pixels).toBe((24 * 16) / 4);
    expect([picture.words[0], picture.words[1], picture.words[24], picture.words[25]]).toEqual(
      new Array(4).fill(1_200_100),
    );
    expect(picture.words.at(-1)).toBe(1_214_122);
  });

  test('keeps what lies outside of it out', () => {
    const picture = new Picture(24, 16);
    expect(picture.clip({ x: -5, y: 10, width: 10, height: 10 })).toEqual({ x: 0, y: 10, width: 5, height: 6 });
    expect(picture.clip({ x: 24, y: 0, width: 10, height: 10 })).toBeNull();
  });
});

describe('rectangles to be drawn anew', () => {
  const rect = (x: number, y: number, width = 10, height = 10): Rect => ({ x, y, width, height });

  test('that overlap are one, those far apart stay two', () => {
    const dirty = new DirtyRects();
    for (const one of [rect(0, 0), rect(500, 500), rect(4, 2)]) dirty.add(one);
    expect(dirty.take()).toEqual([rect(500, 500), rect(0, 0, 14, 12)]);
    expect(dirty.take()).toEqual([]);
  });

  test('become one when they are many, and cover all that was added', () => {
    const dirty = new DirtyRects();
    for (let k = 0; k < 9; k++) dirty.add(rect(100 * k, 50 * k));
    expect(dirty.take()).toEqual([rect(0, 0, 810, 410)]);
  });
});

describe('the way between two views', () => {
  test('is known in whole pixels of the picture, for one that was not zoomed', () => {
    expect(shiftBetween(view(100, 200), view(97, 205))).toEqual([3, -5]);
    expect(shiftBetween(view(100, 200, 0.5), view(96, 200, 0.5))).toEqual([2, 0]);
    expect(shiftBetween(view(100, 200), view(97.4, 205))).toBeNull();
    expect(shiftBetween(view(100, 200), view(100, 200, 2))).toBeNull();
    expect(shiftBetween(view(100, 200), view(87, 200))).toBeNull();
  });
});
