/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { editSeen, readHistory } from '@jumble/core';
import { openTestBench, type TestBench } from '../tests/testBench.ts';
import { hut } from '../tests/testPages.ts';
import { goToStep, step } from './steps.ts';

let bench: TestBench;
/** Steps that were taken back or done again, as the server was asked. */
const asked = (): unknown[] =>
  bench.server.requests
    .filter(({ method, url }) => method === 'POST' && url.endsWith('/history'))
    .map(({ body }) => body);
const seen = (): string[] => [...bench.state.document!.seen].sort();

beforeEach(async () => {
  bench = await openTestBench(hut(12));
  for (const name of ['a', 'b', 'c']) bench.push({ label: name, edits: [editSeen(name, true)] });
  await bench.settled();
});
const refuse = (detail: string): void => {
  const answers = globalThis.fetch;
  globalThis.fetch = ((url: string, init?: RequestInit) => {
    if (!url.endsWith('/history') || init?.method !== 'POST') return answers(url, init);
    globalThis.fetch = answers;
    return Promise.resolve({ ok: false, status: 409, json: () => Promise.resolve({ code: 'no', detail }) });
  }) as typeof fetch;
};

describe('a step back', () => {
  test('shows before the server has done it, and is taken over', async () => {
    const undone = step(bench, 'undo');
    for (let k = 0; k < 20 && seen().length === 3; k++) await Promise.resolve();
    expect(seen()).toEqual(['a', 'b']);
    expect(bench.state.history).toHaveLength(3);
    await undone;
    expect(seen()).toEqual(['a', 'b']);
    expect(asked()).toEqual([{ direction: 'undo' }]);
    expect(readHistory(bench.state.history)).toEqual({ undo: [1, 2], redo: [3] });
  });

  test('waits for the one before it, however fast the keys come', async () => {
    await Promise.all([step(bench, 'undo'), step(bench, 'undo'), step(bench, 'redo')]);
    expect(asked()).toEqual([{ direction: 'undo' }, { direction: 'undo' }, { direction: 'redo' }]);
    expect(seen()).toEqual(['a', 'b']);
  });

  test('asks for nothing where nothing is left, or the page was left', async () => {
    bench.set({ history: [] });
    await step(bench, 'undo');
    bench.close();
    await step(bench, 'undo');
    expect(asked()).toEqual([]);
  });

  test('that the server refuses is told and no longer shown; the next one works', async () => {
    refuse('Somebody else did that.');
    await step(bench, 'undo');
    expect(bench.failures).toEqual(['Somebody else did that.']);
    expect(seen()).toEqual(['a', 'b', 'c']);
    await step(bench, 'undo');
    expect(readHistory(bench.state.history).redo).toEqual([3]);
  });
});

describe('going to a step', () => {
  test('takes back what came after it, and does again what leads to it', async () => {
    await goToStep(bench, 1);
    expect(seen()).toEqual(['a']);
    await goToStep(bench, 2);
    expect(seen()).toEqual(['a', 'b']);
  });

  test('ends where the step is gone, or the server refuses', async () => {
    await goToStep(bench, 77);
    expect(asked()).toEqual([]);
    refuse('no');
    await goToStep(bench, 1);
    expect(seen()).toEqual(['a', 'b', 'c']);
  });
});
