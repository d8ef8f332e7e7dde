import { expect, test } from '@jest/globals';
import { FootprintProducts } from './FootprintProducts.ts';

test('what footprints share is the sum of the products of both, px by px', () => {
  const weights = [
    [1, 0.5, 0, 0],
    [0, 0.5, 1, 0.25],
    [0, 0, 0, 1],
  ];
  const footprints = weights.map((row) => ({
    at: Int32Array.from(row.keys()).filter((px) => row[px]! > 0),
    weight: Float64Array.from(row.filter((v) => v > 0)),
  }));
  const products = new FootprintProducts([...footprints, undefined], 4);
  for (const a of weights.keys()) {
    const row = products.of(a);
    const found = new Map(Array.from(row.regions, (b, k) => [b, row.products[k]!]));
    for (const b of weights.keys()) {
      const both = weights[a]!.reduce((sum, v, px) => sum + v * weights[b]![px]!, 0);
      expect(found.get(b) ?? 0).toBeCloseTo(both, 12);
    }
    // What shares nothing is not in it.
    expect([...found.values()].every((v) => v > 0)).toBe(true);
  }
});
