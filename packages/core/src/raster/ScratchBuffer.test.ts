import { expect, test } from '@jest/globals';
import { ScratchBuffer } from './ScratchBuffer.ts';

test('memory is lent again and grows, but what few pages need is not held on to', () => {
  const memory = new ScratchBuffer();
  const first = memory.take(1000);
  expect(memory.take(400)).toBe(first);
  const larger = memory.take(5000);
  expect(larger.byteLength).toBeGreaterThanOrEqual(5000);
  expect(memory.take(1000)).toBe(larger);
  const huge = memory.take((64 << 20) + 1);
  expect(huge.byteLength).toBe((64 << 20) + 1);
  expect(memory.take(1000)).toBe(larger);
});
