import { DEFAULT_PREP } from '@jumble/core';
import { PAGE_COUNT, PAGE_WIDTH, renderInk, renderTruth, truthFills } from '@jumble/demo';
import { LARGE_HEIGHT, LARGE_WIDTH } from '../largePage.ts';
import type { KeyCase } from './keyCases.ts';
import { makeKey } from './makeKey.ts';

/** So many demo pages beside each other and above each other: as many regions as a large page of crowds has. */
const BESIDE = 3;

/** A 26-megapixel page of thousands of regions, with a key at a tenth. */
export async function crowdedPage(): Promise<KeyCase> {
  const scale = LARGE_WIDTH / BESIDE / PAGE_WIDTH;
  const [width, height] = [LARGE_WIDTH, LARGE_HEIGHT];
  const data = new Uint8Array(width * height).fill(255);
  const truth = new Uint8Array(width * height);
  for (let number = 1; number <= PAGE_COUNT; number++) {
    const [ink, parts] = [await renderInk(number, scale), await renderTruth(number, scale)];
    for (let tile = number - 1; tile < BESIDE * BESIDE; tile += PAGE_COUNT) {
      const left = (tile % BESIDE) * ink.width;
      const top = Math.floor(tile / BESIDE) * ink.height;
      for (let y = 0; y < ink.height && top + y < height; y++) {
        const [from, to] = [y * ink.width, (top + y) * width + left];
        const count = Math.min(ink.width, width - left);
        data.set(ink.data.subarray(from, from + count), to);
        truth.set(parts.subarray(from, from + count), to);
      }
    }
  }
  const { survey, fills } = truthFills({ width, height, data }, truth, DEFAULT_PREP);
  const key = await makeKey(truth, width, height, 25);
  return { page: 0, survey, key, partOfRegion: fills.map((fill) => fill.part) };
}
