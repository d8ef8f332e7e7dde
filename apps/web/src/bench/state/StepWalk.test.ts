import type { StepView } from '@jumble/contracts';
import { beforeEach, describe, expect, test } from '@jest/globals';
import { readHistory } from '@jumble/core';
import { StepWalk, type StepPorts } from './StepWalk.ts';

let history: StepView[];
/** What the queue was told, and what the server was asked. */
let calls: string[];
let failures: string[];
let refuse: string | null;
let bench: StepPorts & { isClosed: boolean };
let walk: StepWalk;

const logged = (seq: number, kind: StepView['kind'], of: number | null = null): StepView => ({
  seq,
  scope: 'page',
  revision: seq,
  kind,
  of,
  label: `step ${seq}`,
  edits: [],
  at: '',
});

beforeEach(() => {
  history = [logged(1, 'do'), logged(2, 'do'), logged(3, 'do')];
  calls = [];
  failures = [];
  refuse = null;
  const queue = {
    foresee: (direction: string, seq: number) => calls.push(`foresee ${direction} ${seq}`),
    accept: (step: StepView) => calls.push(`accept ${step.seq}`),
    dropForeseen: () => calls.push('drop'),
  };
  bench = {
    get state() {
      return { history };
    },
    pageId: 'p',
    isClosed: false,
    settled: () => Promise.resolve(),
    syncOf: () => queue,
    addStep: (step) => void (history = [...history, step]),
    fail: (error) => failures.push(error.message),
  };
  walk = new StepWalk(bench);
  // The server takes back, or does again, what comes next by its own log.
  globalThis.fetch = ((url: string, { body }: { body: string }) => {
    const { direction } = JSON.parse(body) as { direction: 'undo' | 'redo' };
    calls.push(`${direction} at ${url}`);
    if (refuse !== null)
      return Promise.resolve({ ok: false, status: 409, json: () => Promise.resolve({ code: 'no', detail: refuse }) });
    const of = readHistory(history)[direction].at(-1)!;
    const step = logged(history.length + 1, direction, of);
    return Promise.resolve({ ok: true, status: 201, json: () => Promise.resolve({ step }) });
  }) as unknown as typeof fetch;
});

describe('a step back', () => {
  test('shows at once, is asked of the server, and is taken over', async () => {
    await walk.step('undo');
    expect(calls).toEqual(['foresee undo 3', 'undo at /api/pages/p/history', 'accept 4', 'drop']);
    expect(readHistory(history)).toEqual({ undo: [1, 2], redo: [3] });
  });

  test('waits for the one before it, however fast the keys come', async () => {
    await Promise.all([walk.step('undo'), walk.step('undo'), walk.step('redo')]);
    expect(calls.filter((call) => call.startsWith('foresee'))).toEqual([
      'foresee undo 3',
      'foresee undo 2',
      'foresee redo 2',
    ]);
  });

  test('asks for nothing where nothing is left, or the page was left', async () => {
    history = [];
    await walk.step('undo');
    history = [logged(1, 'do')];
    bench.isClosed = true;
    await walk.step('undo');
    expect(calls).toEqual([]);
  });

  test('that the server refuses is told and no longer shown; the next one works', async () => {
    refuse = 'Somebody else did that.';
    await walk.step('undo');
    expect(failures).toEqual(['Somebody else did that.']);
    expect(calls.at(-1)).toBe('drop');
    refuse = null;
    await walk.step('undo');
    expect(readHistory(history).redo).toEqual([3]);
  });
});

describe('going to a step', () => {
  test('takes back what came after it, and does again what leads to it', async () => {
    await walk.goTo(1);
    expect(readHistory(history)).toEqual({ undo: [1], redo: [3, 2] });
    await walk.goTo(2);
    expect(readHistory(history)).toEqual({ undo: [1, 2], redo: [3] });
  });

  test('ends where the step is gone, or the server refuses', async () => {
    await walk.goTo(77);
    expect(calls).toEqual([]);
    refuse = 'no';
    await walk.goTo(1);
    expect(calls.filter((call) => call.startsWith('undo'))).toHaveLength(1);
  });
});
