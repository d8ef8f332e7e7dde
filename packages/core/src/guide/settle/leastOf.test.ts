import { expect, test } from '@jest/globals';
import { leastOf } from './leastOf.ts';

test('the least of many values are found in their order, as by sorting them all', () => {
  const values = Float64Array.from({ length: 97 }, (_, k) => (k * 37) % 23);
  for (const most of [0, 1, 5, 12]) {
    const into = new Int32Array(most);
    expect(leastOf(values, into)).toBe(most);
    const sorted = [...values.keys()].sort((a, b) => values[a]! - values[b]! || a - b);
    expect([...into]).toEqual(sorted.slice(0, most));
  }
});

test('of fewer values than asked for all are found', () => {
  const into = new Int32Array(4).fill(-1);
  expect(leastOf(Float64Array.of(3, 1), into)).toBe(2);
  expect([...into.subarray(0, 2)]).toEqual([1, 0]);
});
