/** @jest-environment node */
import { expect, test } from '@jest/globals';
import { aborted } from '../engine/abort.ts';
import { TurnQueue } from './TurnQueue.ts';

test('work is done in the order it was asked for; what fails is told, what was left is not, and the next goes on', async () => {
  const done: string[] = [];
  const problems: string[] = [];
  const queue = new TurnQueue((error) => problems.push(error.message));
  let go: () => void = () => undefined;
  const first = queue.run(async () => {
    await new Promise<void>((resolve) => (go = resolve));
    done.push('first');
  });
  void queue.run(() => Promise.reject(new Error('no memory')));
  void queue.run(() => Promise.reject(aborted()));
  const last = queue.run(async () => void done.push('last'));
  await Promise.resolve();
  expect(done).toEqual([]);
  go();
  await first;
  await last;
  expect([done, problems]).toEqual([['first', 'last'], ['no memory']]);
});
