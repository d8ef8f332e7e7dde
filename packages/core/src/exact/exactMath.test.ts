import { describe, expect, test } from '@jest/globals';
import { seeded } from '../tests/textGrid.ts';
import { angleDegrees, cosDegrees, exp, log, root, sinDegrees } from './exactMath.ts';

const close = (value: number, wanted: number, share = 1e-11): void => {
  expect(Math.abs(value - wanted)).toBeLessThanOrEqual(share * Math.max(1, Math.abs(wanted)));
};

describe('arithmetic that every engine does alike', () => {
  test('logarithms agree with the engine’s own, and undo exponentials', () => {
    const random = seeded(4);
    for (let k = 0; k < 400; k++) {
      const x = 10 ** (random() * 12 - 6);
      close(log(x), Math.log(x));
      close(exp(log(x)), x, 1e-9);
    }
    expect(log(1)).toBe(0);
  });

  test('exponentials agree with the engine’s own', () => {
    for (let x = -30; x <= 30; x += 0.37) close(exp(x), Math.exp(x), 1e-9);
    expect(exp(0)).toBe(1);
  });

  test('roots are roots', () => {
    for (const x of [0, 1e-9, 0.008856, 0.5, 1, 2, 27, 1e6]) {
      close(root(x, 3) ** 3, x, 1e-12);
      close(root(x, 5) ** 5, x, 1e-12);
    }
  });

  test('angles go once around, the right way', () => {
    expect([angleDegrees(0, 1), angleDegrees(1, 0), angleDegrees(0, -1), angleDegrees(-1, 0)]).toEqual([
      0, 90, 180, 270,
    ]);
    expect(angleDegrees(0, 0)).toBe(0);
    const random = seeded(9);
    for (let k = 0; k < 300; k++) {
      const [x, y] = [random() * 2 - 1, random() * 2 - 1];
      const wanted = ((Math.atan2(y, x) * 180) / Math.PI + 360) % 360;
      close(angleDegrees(y, x), wanted, 1e-10);
    }
  });

  test('sines and cosines agree with the engine’s own over several turns', () => {
    for (let degrees = -800; degrees <= 800; degrees += 7.3) {
      close(sinDegrees(degrees), Math.sin((degrees * Math.PI) / 180), 1e-10);
      close(cosDegrees(degrees), Math.cos((degrees * Math.PI) / 180), 1e-10);
    }
  });
});
