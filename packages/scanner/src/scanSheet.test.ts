import { describe, expect, test } from '@jest/globals';
import { measurePaper, measureSkew } from '@jumble/core';
import { scanSheet } from './scanSheet.ts';

/** A sheet with a frame on it. */
function framedSheet(): { width: number; height: number; data: Uint8Array } {
  const [width, height] = [600, 800];
  const data = new Uint8Array(width * height).fill(255);
  for (const y of [60, 61, 62, 63, 400, 401, 402, 740, 741, 742]) data.fill(0, y * width + 50, y * width + 550);
  for (let y = 60; y < 743; y++) {
    for (const x of [50, 51, 52, 546, 547, 548]) data[y * width + x] = 0;
  }
  return { width, height, data };
}

describe('a simulated scan', () => {
  test('lies as turned as it was told, on paper of its tone, unevenly lit', () => {
    const scan = scanSheet(framedSheet(), { skewDegrees: 1.2, paperTone: 230, shadow: 40 });
    const skew = measureSkew(scan, 128);
    expect((Math.atan(skew!.slopePpm / 1e6) * 180) / Math.PI).toBeCloseTo(1.2, 1);
    const paper = measurePaper(scan);
    expect(paper.median).toBeGreaterThan(195);
    expect(paper.median).toBeLessThanOrEqual(230);
    expect(paper.spread).toBeGreaterThan(12);
    expect(paper.noise).toBeGreaterThan(1);
  });

  test('is the same for the same seed and another for another', () => {
    const [one, again, other] = [3, 3, 4].map((seed) => Buffer.from(scanSheet(framedSheet(), { seed }).data));
    expect(one!.equals(again!)).toBe(true);
    expect(one!.equals(other!)).toBe(false);
  });

  test('leaves a clean sheet clean where everything is turned off', () => {
    const sheet = framedSheet();
    const scan = scanSheet(sheet, { skewDegrees: 0, shadow: 0, noise: 0, specksPerMegapixel: 0, paperTone: 255 });
    expect(scan.data[300 * 600 + 300]).toBe(255);
    expect(scan.data[61 * 600 + 300]).toBe(34);
  });

  test('refuses a sheet that lies across the glass', () => {
    expect(() => scanSheet(framedSheet(), { skewDegrees: 30 })).toThrow(/`skewDegrees` must lie within -5..5/);
  });
});
