/** @jest-environment node */
import { describe, expect, test } from '@jest/globals';
import { rehearseClosures } from './rehearseClosures.ts';

describe('the rehearsal of closures', () => {
  test('parts rooms and joins them again, and comes to an end', () => {
    const counts = [...rehearseClosures()];
    expect(counts.length).toBeGreaterThan(20);
    const joined = counts[1]!;
    counts.forEach((count, k) => (k % 2 === 0 ? expect(count).toBeGreaterThan(joined) : expect(count).toBe(joined)));
  });
});
