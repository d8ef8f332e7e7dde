import { describe, expect, test } from '@jest/globals';
import { colourNumbers, readColour } from './readColour.ts';
import { NO_SHIFT, shiftColour } from './shiftColour.ts';

describe('a colour', () => {
  test.each([
    ['#3F6F6B', '#3f6f6b'],
    ['3f6f6b', '#3f6f6b'],
    ['63 111 107', '#3f6f6b'],
    ['rgb(63, 111, 107)', '#3f6f6b'],
    ['hsl(0 100% 50%)', '#ff0000'],
    ['cmyk 0 100 100 0', '#ff0000'],
    ['device-cmyk(0% 0% 0% 100%)', '#000000'],
  ])('is read from %s', (text, hex) => expect(readColour(text)).toBe(hex));

  test.each(['', 'coat', '#12', '300 0 0', '1 2', 'cmyk 1 2 3', 'cmyk 0 0 0 140'])('is none in "%s"', (text) =>
    expect(readColour(text)).toBeNull(),
  );

  test('in numbers comes back as itself', () => {
    const { rgb, hsl, cmyk } = colourNumbers('#aa2200');
    expect([rgb, hsl, cmyk]).toEqual(['170 34 0', '12 100% 33%', '0 80 100 33']);
    expect(readColour(rgb)).toBe('#aa2200');
  });
});

describe('another light', () => {
  const brightness = (hex: string): number => [1, 3, 5].reduce((sum, k) => sum + parseInt(hex.slice(k, k + 2), 16), 0);
  test('without a shift changes nothing to speak of', () => {
    for (const hex of ['#3f6f6b', '#e2b04a', '#ffffff', '#000000'])
      expect(Math.abs(brightness(shiftColour(hex, NO_SHIFT)) - brightness(hex))).toBeLessThanOrEqual(3);
  });
  test('darkens, warms and greys as it says', () => {
    expect(brightness(shiftColour('#808080', { ...NO_SHIFT, lightness: -50 }))).toBeLessThan(250);
    const warm = shiftColour('#808080', { ...NO_SHIFT, warmth: 80 });
    expect(parseInt(warm.slice(1, 3), 16)).toBeGreaterThan(parseInt(warm.slice(5, 7), 16) + 30);
    const grey = shiftColour('#c02020', { ...NO_SHIFT, saturation: -100 });
    const channels = [1, 3, 5].map((k) => parseInt(grey.slice(k, k + 2), 16));
    expect(Math.max(...channels) - Math.min(...channels)).toBeLessThan(12);
  });
});
