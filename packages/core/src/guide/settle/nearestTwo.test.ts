import { expect, test } from '@jest/globals';
import { ciede2000 } from '../../colour/ciede2000.ts';
import { labOf } from '../../colour/lab.ts';
import { nearestTwo } from './nearestTwo.ts';

// A linear congruential generator (Park and Miller 1988).
function randomColours(count: number, seed: number): number[] {
  let state = seed;
  return Array.from({ length: count }, () => {
    state = (state * 48_271) % 2_147_483_647;
    return state % 0x1000000;
  });
}

test('the nearest two of many colours are those of all distances', () => {
  const labs = randomColours(300, 5).map(labOf);
  let nearest = 0;
  let next = 0;
  const asked = randomColours(200, 9);
  for (const rgb of asked) {
    const lab = labOf(rgb);
    const all = labs.map((other) => ciede2000(lab, other)).sort((a, b) => a - b);
    const { best, first, second } = nearestTwo(lab, labs);
    expect(ciede2000(lab, labs[best]!)).toBeCloseTo(first, 5);
    expect(first).toBeLessThanOrEqual(second);
    if (Math.abs(first - all[0]!) < 1e-5) nearest++;
    if (Math.abs(second - all[1]!) < 1e-5) next++;
  }
  // Only the ten nearest in Lab are measured: where colours lie dense another one may be nearer by a hair.
  expect(nearest).toBeGreaterThan(0.95 * asked.length);
  expect(next).toBeGreaterThan(0.9 * asked.length);
});

test('of few colours none is left out, and one alone has no rival near by', () => {
  const [red, blue] = [labOf(0xff0000), labOf(0x0000ff)];
  expect(nearestTwo(labOf(0xee1111), [blue, red]).best).toBe(1);
  const { first, second } = nearestTwo(red, [red]);
  expect(first).toBe(0);
  expect(second).toBe(50);
});

test('of two that are the same the first is meant', () => {
  const lab = labOf(0x336699);
  expect(nearestTwo(lab, [labOf(0xffffff), lab, lab]).best).toBe(1);
});
