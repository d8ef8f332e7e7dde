import { describe, expect, test } from '@jest/globals';
import { seeded } from '../../tests/textGrid.ts';
import { blur, kernelOf, shapeKernel } from './guideBlur.ts';
import type { GuideRaster } from '../register/registerGuide.ts';

const [WIDTH, HEIGHT] = [60, 50];

/** Blocks of colour, and what comes of them under a kernel. */
function blurredBlocks(kernel: Float64Array): { sharp: Float64Array[]; guide: GuideRaster } {
  const random = seeded(3);
  const rgb = new Uint8Array(WIDTH * HEIGHT * 3);
  const sharp = [0, 1, 2].map((channel) => {
    const tones = Array.from({ length: 80 }, () => Math.round(random() * 255));
    const image = Float64Array.from(
      { length: WIDTH * HEIGHT },
      (_, p) => tones[Math.floor(p / WIDTH / 7) * 9 + Math.floor((p % WIDTH) / 7)]!,
    );
    const soft = image.slice();
    blur(soft, new Float64Array(soft.length), WIDTH, HEIGHT, kernel);
    soft.forEach((v, p) => (rgb[p * 3 + channel] = Math.round(v)));
    return image;
  });
  return { sharp, guide: { width: WIDTH, height: HEIGHT, rgb } };
}
const everywhere = new Float64Array(WIDTH * HEIGHT).fill(1);

describe('the kernel of a key', () => {
  test('is found whatever its shape, from one that is none', () => {
    for (const kernel of [
      [0.44, 0.28],
      [0.2, 0.2, 0.2],
      [0.29, 0.23, 0.125],
    ]) {
      const { sharp, guide } = blurredBlocks(Float64Array.from(kernel));
      const found = shapeKernel(sharp, guide, everywhere, kernelOf(0.8));
      kernel.forEach((v, k) => expect(found[k]).toBeCloseTo(v, 2));
      for (const rest of found.subarray(kernel.length)) expect(Math.abs(rest)).toBeLessThan(0.01);
    }
  });

  test('is found although a part of the key shows something else', () => {
    const { sharp, guide } = blurredBlocks(Float64Array.of(0.44, 0.28));
    guide.rgb.fill(250, 0, WIDTH * 8 * 3);
    expect(shapeKernel(sharp, guide, everywhere, kernelOf(0.8))[0]).toBeCloseTo(0.44, 1);
    const trust = everywhere.slice().fill(0, 0, WIDTH * 10);
    expect(shapeKernel(sharp, guide, trust, kernelOf(0.8))[0]).toBeCloseTo(0.44, 2);
  });

  test('stays as it was where nothing tells it, and always comes to 1', () => {
    const grey = { width: WIDTH, height: HEIGHT, rgb: new Uint8Array(WIDTH * HEIGHT * 3).fill(90) };
    const flat = [0, 1, 2].map(() => new Float64Array(WIDTH * HEIGHT));
    const first = kernelOf(0.8);
    const kept = shapeKernel(flat, grey, everywhere, first);
    expect(kept[0]).toBeCloseTo(first[0]!, 2);
    const { sharp, guide } = blurredBlocks(Float64Array.of(0.44, 0.28));
    for (const kernel of [kept, shapeKernel(sharp, guide, everywhere, first)])
      expect(kernel.reduce((all, v, k) => all + (k === 0 ? v : 2 * v), 0)).toBeCloseTo(1, 9);
  });
});
