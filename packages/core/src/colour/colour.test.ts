import { describe, expect, test } from '@jest/globals';
import { differenceCiede2000, lab65, rgb as toRgb } from 'culori';
import { seeded } from '../tests/textGrid.ts';
import { ciede2000 } from './ciede2000.ts';
import { angleDegrees, cosDegrees, exp, root, sinDegrees } from '../exact/exactMath.ts';
import { formatColour, parseColour, rgbaWord } from './hex.ts';
import { labOf } from './lab.ts';
import { LOUD_DISTANCE, loudPalette } from './loudPalette.ts';
import { scratchColours } from './scratchColours.ts';

describe('exact mathematics', () => {
  test('agrees with the engine to twelve digits', () => {
    const random = seeded(1);
    for (let k = 0; k < 500; k++) {
      const x = random() * 2;
      expect(root(x, 3)).toBeCloseTo(Math.cbrt(x), 12);
      expect(root(x, 5)).toBeCloseTo(x ** 0.2, 12);
      const [a, b] = [random() * 200 - 100, random() * 200 - 100];
      const angle = ((Math.atan2(a, b) * 180) / Math.PI + 360) % 360;
      expect(angleDegrees(a, b)).toBeCloseTo(angle, 9);
      const degrees = random() * 1000 - 300;
      expect(sinDegrees(degrees)).toBeCloseTo(Math.sin((degrees * Math.PI) / 180), 11);
      expect(cosDegrees(degrees)).toBeCloseTo(Math.cos((degrees * Math.PI) / 180), 11);
    }
  });

  test('takes exponentials to a relative 1e-12', () => {
    for (let x = -30; x <= 30; x += 0.37) expect(Math.abs(exp(x) / Math.exp(x) - 1)).toBeLessThan(1e-11);
  });
});

describe('CIEDE2000', () => {
  // Test pairs published with the formula's implementation notes (Sharma, Wu and Dalal 2005, table 1).
  test.each([
    [50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425],
    [50, -1.3802, -84.2814, 50, 0, -82.7485, 1.0],
    [50, 0, 0, 50, -1, 2, 2.3669],
    [50, 2.49, -0.001, 50, -2.49, 0.0009, 7.1792],
    [50, 2.5, 0, 73, 25, -18, 27.1492],
    [60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
    [22.7233, 20.0904, -46.694, 23.0331, 14.973, -42.5619, 2.0373],
    [2.0776, 0.0795, -1.135, 0.9033, -0.0636, -0.5514, 0.9082],
  ])('gives the published difference', (l1, a1, b1, l2, a2, b2, expected) => {
    expect(ciede2000({ l: l1, a: a1, b: b1 }, { l: l2, a: a2, b: b2 })).toBeCloseTo(expected, 4);
  });

  test('agrees with a colour library on random colours', () => {
    const random = seeded(3);
    const library = differenceCiede2000();
    for (let k = 0; k < 300; k++) {
      const [one, two] = [Math.floor(random() * 0x1000000), Math.floor(random() * 0x1000000)];
      const mine = labOf(one);
      const theirs = lab65(toRgb(formatColour(one)))!;
      expect(mine.l).toBeCloseTo(theirs.l, 2);
      expect(mine.a).toBeCloseTo(theirs.a, 2);
      const difference = library(lab65(formatColour(one))!, lab65(formatColour(two))!);
      expect(Math.abs(ciede2000(mine, labOf(two)) - difference)).toBeLessThan(0.05);
    }
  });
});

describe('loud colours', () => {
  test('are many, and every two of them differ by 25 or more', () => {
    const palette = loudPalette();
    expect(palette.length).toBeGreaterThanOrEqual(12);
    for (const one of palette) {
      for (const two of palette)
        if (one !== two) expect(ciede2000(labOf(one), labOf(two))).toBeGreaterThan(LOUD_DISTANCE - 1e-9);
    }
  });

  test('are given so that no neighbours share one, and the least distance is what was measured', () => {
    const random = seeded(8);
    const pairs: number[] = [];
    // A band of regions, each touching some of the next six: as dense as flat maps get.
    for (let a = 0; a < 400; a++) for (let d = 1; d <= 6; d++) if (a + d < 400 && random() < 0.7) pairs.push(a, a + d);
    const { rgb, leastDistance } = scratchColours(400, pairs);
    let least = Infinity;
    for (let k = 0; k < pairs.length; k += 2)
      least = Math.min(least, ciede2000(labOf(rgb[pairs[k]!]!), labOf(rgb[pairs[k + 1]!]!)));
    expect(leastDistance).toBeCloseTo(least, 9);
    expect(least).toBeGreaterThan(LOUD_DISTANCE - 1e-9);
  });

  test('are all different while there are enough', () => {
    const { rgb } = scratchColours(12, []);
    expect(new Set(rgb).size).toBe(12);
  });
});

describe('colour texts', () => {
  test('are read and written', () => {
    expect(parseColour('#a0b1c2')).toBe(0xa0b1c2);
    expect(parseColour('#F00')).toBe(0xff0000);
    expect(formatColour(0x00ff0a)).toBe('#00ff0a');
    expect(rgbaWord(0x112233)).toBe(0xff332211);
  });

  test.each(['red', '#12', '#12345', '', '#gggggg', '112233'])('refuse %j', (text) => {
    expect(() => parseColour(text)).toThrow(/must look like #a0b1c2/);
  });
});
