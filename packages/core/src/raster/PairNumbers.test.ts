import { expect, test } from '@jest/globals';
import { seeded } from '../tests/textGrid.ts';
import { PairNumbers } from './PairNumbers.ts';

test('pairs are numbered in the order they come, each once, as a map would', () => {
  const random = seeded(9);
  const numbers = new PairNumbers();
  const known = new Map<string, number>();
  for (let k = 0; k < 20_000; k++) {
    const [one, two] = [Math.floor(random() * 90), Math.floor(random() * 90) * 1_000_003];
    const key = `${one} ${two}`;
    if (!known.has(key)) known.set(key, known.size);
    expect(numbers.numberOf(one, two)).toBe(known.get(key));
  }
  // More than there was room for at first, and no pair is its own mirror.
  expect(numbers.count).toBe(known.size);
  expect(known.size).toBeGreaterThan(2_000);
  expect(numbers.numberOf(1, 2)).not.toBe(numbers.numberOf(2, 1));
});
