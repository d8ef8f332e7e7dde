import { expect, test } from '@jest/globals';
import { RegionLook } from './RegionLook.ts';
import type { UnderLines } from './UnderLines.ts';

const footprint = { at: Int32Array.of(4, 1, 3), weight: Float64Array.of(1, 0.5, 0.1) };
const rest = [0, 1, 2].map((channel) => Float64Array.from({ length: 6 }, (_, px) => 10 * px - 7 * channel)) as [
  Float64Array,
  Float64Array,
  Float64Array,
];
const other = { red: 200, green: 90, blue: 30, dr: 20, dg: -10, db: 5 };
const lines = {
  ink: Float64Array.of(0.2, 0.4, 0.1),
  red: Float64Array.of(30, 60, 20),
  green: Float64Array.of(25, 10, 15),
  blue: Float64Array.of(5, 40, 10),
} as unknown as UnderLines;

/** Px by px, as it is meant: what is left when the region has another part and gives so much. */
function naive(give: number, noise: number, given?: readonly Float64Array[]): number {
  let error = 0;
  footprint.at.forEach((px, k) => {
    const share = footprint.weight[k]!;
    const left = [
      [other.dr, other.red, lines.red],
      [other.dg, other.green, lines.green],
      [other.db, other.blue, lines.blue],
    ].map(([d, own, beyond], channel) => {
      const now = rest[channel]![px]! + (given?.[channel]![k] ?? 0);
      return now - (d as number) * share - give * ((beyond as Float64Array)[k]! - (own as number) * lines.ink[k]!);
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
  expect(look.errorGiving(other, lines, 0.3, 90, Infinity)).toBeCloseTo(naive(0.3, 90), 12);
});

test('what the lines gave is taken back before', () => {
  const given = [0, 1, 2].map((channel) => Float64Array.of(channel + 1, 4, -2)) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const look = new RegionLook();
  look.take(0, footprint, rest, given);
  expect(look.errorWith(other, 90, Infinity)).toBeCloseTo(naive(0, 90, given), 12);
});

test('the lines give what leaves least, within what they can', () => {
  const look = new RegionLook();
  look.take(0, footprint, rest);
  const give = look.giveOf(other, lines, 100);
  const squaresAt = (by: number): number => {
    // Much noise: what is said grows with the squares.
    const noise = 1e12;
    return look.errorGiving(other, lines, by, noise, Infinity) * noise + 100 * by * by;
  };
  expect(Math.abs(give)).toBeLessThanOrEqual(1);
  expect(squaresAt(give)).toBeLessThanOrEqual(squaresAt(give + 0.01));
  expect(squaresAt(give)).toBeLessThanOrEqual(squaresAt(give - 0.01));
});

test('a sum beyond what is asked for is not told to its end', () => {
  const look = new RegionLook();
  look.take(0, footprint, rest);
  const whole = look.errorWith(other, 90, Infinity);
  expect(look.errorWith(other, 90, 0.1)).toBeGreaterThanOrEqual(0.1);
  expect(look.errorWith(other, 90, 0.1)).toBeLessThan(whole);
});
