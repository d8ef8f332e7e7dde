import { expect, test } from '@jest/globals';
import { RegionLook } from './RegionLook.ts';
import type { UnderLines } from './UnderLines.ts';

const footprint = { at: Int32Array.of(4, 1, 3), weight: Float64Array.of(1, 0.5, 0.1) };
const rest = Float64Array.from({ length: 18 }, (_, k) => 10 * Math.floor(k / 3) - 7 * (k % 3));
const other = { red: 200, green: 90, blue: 30, dr: 20, dg: -10, db: 5 };
const lines = {
  ink: Float64Array.of(0.2, 0.4, 0.1),
  rgb: Float64Array.of(30, 25, 5, 60, 10, 40, 20, 15, 10),
} as unknown as UnderLines;

/** Px by px, as it is meant: what is left when the region has another part and gives so much. */
function naive(mixing: number, noise: number, lineMixing?: Float64Array): number {
  let error = 0;
  footprint.at.forEach((px, k) => {
    const share = footprint.weight[k]!;
    const left = [
      [other.dr, other.red],
      [other.dg, other.green],
      [other.db, other.blue],
    ].map(([d, own], channel) => {
      const now = rest[3 * px + channel]! + (lineMixing?.[3 * k + channel] ?? 0);
      return now - d! * share - mixing * (lines.rgb[3 * k + channel]! - own! * lines.ink[k]!);
    });
    const squares = left.reduce((sum, v) => sum + v * v, 0);
    error += (share / (share + 0.1)) * (squares / (noise + squares));
  });
  return error;
}

test('a part is held against what is left around a region px by px', () => {
  const look = new RegionLook();
  look.take(0, footprint, rest);
  expect(look.errorWith(other, 90, Infinity)).toBeCloseTo(naive(0, 90), 12);
  expect(look.errorMixing(other, lines, 0.3, 90, Infinity)).toBeCloseTo(naive(0.3, 90), 12);
});

test('what the lines gave is taken back before', () => {
  const lineMixing = Float64Array.of(1, 2, 3, 4, 4, 4, -2, -2, -2);
  const look = new RegionLook();
  look.take(0, footprint, rest, lineMixing);
  expect(look.errorWith(other, 90, Infinity)).toBeCloseTo(naive(0, 90, lineMixing), 12);
});

test('the lines give what leaves least, within what they can', () => {
  const look = new RegionLook();
  look.take(0, footprint, rest);
  const mixing = look.mixingOf(other, lines, 100);
  const squaresAt = (by: number): number => {
    // Much noise: what is said grows with the squares.
    const noise = 1e12;
    return look.errorMixing(other, lines, by, noise, Infinity) * noise + 100 * by * by;
  };
  expect(Math.abs(mixing)).toBeLessThanOrEqual(1);
  expect(squaresAt(mixing)).toBeLessThanOrEqual(squaresAt(mixing + 0.01));
  expect(squaresAt(mixing)).toBeLessThanOrEqual(squaresAt(mixing - 0.01));
});

test('a sum beyond what is asked for is not told to its end', () => {
  const look = new RegionLook();
  look.take(0, footprint, rest);
  const whole = look.errorWith(other, 90, Infinity);
  expect(look.errorWith(other, 90, 0.1)).toBeGreaterThanOrEqual(0.1);
  expect(look.errorWith(other, 90, 0.1)).toBeLessThan(whole);
});
