import { describe, expect, test } from '@jest/globals';
import { FreeNeighbours } from './FreeNeighbours.ts';

const footprint = (weights: Readonly<Record<number, number>>) => ({
  at: Int32Array.from(Object.keys(weights), Number),
  weight: Float64Array.from(Object.values(weights)),
});
const grey = (...values: number[]): Float64Array => Float64Array.from(values.flatMap((v) => [v, v, v]));

describe('what a region would be if its neighbours could be anything', () => {
  // A shape in px 0 to 2 and what it holds in px 1 to 3, half of each in the px they share.
  const both = [footprint({ 0: 1, 1: 0.5, 2: 0.5 }), footprint({ 1: 0.5, 2: 0.5, 3: 1 })];

  test('is what both together explain, not what it alone would have to be', () => {
    // The shape is 40 too dark and what it holds 40 too light: in the middle nothing is left.
    const free = new FreeNeighbours(both, grey(40, 0, 0, -40));
    const alone = 40 / 1.5;
    const { change } = free.colourOf(0)!;
    expect(change[0]).toBeGreaterThan(alone + 10);
    expect(change[0]).toBeCloseTo(40, 0);
    expect(free.colourOf(1)!.change[1]).toBeCloseTo(-40, 0);
  });

  test('is known the less surely, the more of it the neighbours share', () => {
    const apart = new FreeNeighbours([footprint({ 0: 1, 1: 1 }), footprint({ 2: 1 })], grey(3, 5, 9));
    expect(apart.colourOf(0)!.squares).toBeCloseTo(2, 9);
    expect(apart.colourOf(0)!.change[2]).toBeCloseTo(4, 9);
    const shared = new FreeNeighbours([footprint({ 0: 1, 1: 1 }), footprint({ 1: 1 })], grey(3, 5, 9));
    expect(shared.colourOf(0)!.squares).toBeLessThan(1.1);
    const same = new FreeNeighbours([footprint({ 0: 1 }), footprint({ 0: 1 })], grey(3));
    expect(same.colourOf(0)!.squares).toBeLessThan(0.05);
  });

  test('follows what is left of the key as it changes', () => {
    const rest = grey(0, 0, 0, 0);
    const free = new FreeNeighbours(both, rest);
    expect(free.colourOf(0)!.change[0]).toBe(0);
    rest.set(grey(10, 5, 5, 0));
    expect(free.colourOf(0)!.change[0]).toBeCloseTo(10, 0);
  });
});
