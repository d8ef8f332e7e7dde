import { expect, test } from '@jest/globals';
import { seeded } from '../tests/textGrid.ts';
import { WeakestFirst } from './WeakestFirst.ts';

test('pairs come out by their scores, of equal ones the lower first, and can be put in between', () => {
  const random = seeded(3);
  const heap = new WeakestFirst();
  const queued = Array.from({ length: 300 }, (_, pair) => ({ score: Math.floor(random() * 20), pair, version: 1 }));
  queued.slice(0, 200).forEach((entry) => heap.push(entry));
  const sorted = (entries: typeof queued) => [...entries].sort((a, b) => a.score - b.score || a.pair - b.pair);
  const first = sorted(queued.slice(0, 200)).slice(0, 50);
  expect(Array.from({ length: 50 }, () => heap.pop())).toEqual(first);
  queued.slice(200).forEach((entry) => heap.push(entry));
  const rest = sorted(queued.filter((entry) => !first.includes(entry)));
  expect(Array.from({ length: rest.length }, () => heap.pop())).toEqual(rest);
  expect(heap.pop()).toBeUndefined();
});
