import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { RecordEdit, Records } from '@jumble/core';
import { applyEdits } from '@jumble/core';
import type { StepView } from '@jumble/contracts';
import { SyncQueue, type Clash } from './SyncQueue.ts';

/** The server's side of the protocol, with failures on demand. */
class FakeServer {
  records: Records = new Map();
  steps: StepView[] = [];
  /** What happens to the next requests: answered, never arrives, stored but the answer is lost, refused, disk full. */
  fates: ('ok' | 'lost' | 'answer-lost' | 'refused' | 'full')[] = [];

  append(edits: readonly RecordEdit[], label: string): StepView {
    this.records = applyEdits(this.records, edits).records;
    const seq = this.steps.length + 1;
    const step: StepView = { seq, scope: 'page', revision: seq, kind: 'do', of: null, label, edits, at: '' };
    this.steps.push(step);
    return step;
  }

  readonly fetch = async (_url: string, { body }: { body: string }): Promise<unknown> => {
    const fate = this.fates.shift() ?? 'ok';
    if (fate === 'lost') throw new TypeError('failed to fetch');
    const { baseRevision, label, edits } = JSON.parse(body) as {
      baseRevision: number;
      label: string;
      edits: RecordEdit[];
    };
    if (fate === 'full') return answer(507, { code: 'disk-full', detail: 'The disk is full.' });
    if (fate === 'refused') return answer(400, { code: 'bad-value', detail: 'no' });
    if (baseRevision !== this.steps.length)
      return answer(409, { code: 'stale-edit', detail: 'stale', missed: this.steps.slice(baseRevision) });
    const step = this.append(edits, label);
    if (fate === 'answer-lost') throw new TypeError('failed to fetch');
    return answer(201, { step });
  };
}
const answer = (status: number, body: object) => ({ ok: status < 300, status, json: () => Promise.resolve(body) });
const set = (key: string, value: string | null): RecordEdit => ({ key, value });

let server: FakeServer;
let shown: Records;
let states: string[];
let problems: Error[];
let clash: Clash | null;
let queue: SyncQueue;
const step = (label: string, ...edits: RecordEdit[]) => ({ label, edits });

beforeEach(() => {
  jest.useFakeTimers({ doNotFake: ['queueMicrotask', 'nextTick'] });
  server = new FakeServer();
  globalThis.fetch = server.fetch as unknown as typeof fetch;
  shown = new Map();
  states = [];
  problems = [];
  clash = null;
  queue = new SyncQueue('page', '/api/pages/p', {
    onRecords: (_scope, records) => (shown = records),
    onStep: () => undefined,
    onState: (state) => states.push(state),
    onClash: (one) => (clash = one),
    onProblem: (error) => problems.push(error),
  });
  queue.load({ revision: 0, records: [] });
});
afterEach(() => {
  jest.useRealTimers();
});

describe('gestures', () => {
  test('show at once and are stored one after the other', async () => {
    queue.push(step('one', set('a', '1')));
    queue.push(step('two', set('b', '2'), set('a', null)));
    expect([...shown]).toEqual([['b', '2']]);
    await queue.settled();
    expect(server.steps.map((one) => one.label)).toEqual(['one', 'two']);
    expect([...server.records]).toEqual([['b', '2']]);
    expect(states.at(-1)).toBe('saved');
  });

  test('wait while the server is away, and are stored once it is back, in order', async () => {
    server.fates = ['lost', 'lost'];
    queue.push(step('one', set('a', '1')));
    queue.push(step('two', set('a', '2')));
    await jest.advanceTimersByTimeAsync(100);
    expect(states).toContain('offline');
    expect(server.steps).toHaveLength(0);
    await jest.advanceTimersByTimeAsync(10_000);
    expect(server.steps.map((one) => one.label)).toEqual(['one', 'two']);
    expect(queue.waiting).toBe(0);
  });

  test('wait while the server cannot write, say so once, and are stored when it can', async () => {
    server.fates = ['full', 'full', 'full'];
    queue.push(step('one', set('a', '1')));
    queue.push(step('two', set('b', '2')));
    await jest.advanceTimersByTimeAsync(3000);
    expect(states.at(-1)).toBe('blocked');
    expect(problems.map((problem) => problem.message)).toEqual([
      'The disk is full. Your steps wait here and are stored once there is space: free some.',
    ]);
    expect(shown.get('b')).toBe('2');
    await jest.advanceTimersByTimeAsync(10_000);
    expect(server.steps.map((one) => one.label)).toEqual(['one', 'two']);
    expect(states.at(-1)).toBe('saved');
    server.fates = ['full'];
    queue.push(step('three', set('c', '3')));
    await jest.advanceTimersByTimeAsync(10_000);
    expect(problems).toHaveLength(2);
  });

  test('stored although the answer was lost are not stored twice', async () => {
    server.fates = ['answer-lost'];
    queue.push(step('one', set('a', '1')));
    await jest.advanceTimersByTimeAsync(10_000);
    expect(server.steps).toHaveLength(1);
    expect([...shown]).toEqual([['a', '1']]);
    expect(queue.waiting).toBe(0);
    expect(clash).toBeNull();
  });

  test('the server refuses are told and taken off the page', async () => {
    server.fates = ['ok', 'refused'];
    queue.push(step('one', set('a', '1')));
    queue.push(step('two', set('b', '2')));
    queue.push(step('three', set('c', '3')));
    await queue.settled();
    expect(problems).toHaveLength(1);
    expect([...shown]).toEqual([
      ['a', '1'],
      ['c', '3'],
    ]);
    expect([...server.records]).toEqual([
      ['a', '1'],
      ['c', '3'],
    ]);
  });
});

describe('two tabs', () => {
  test('that touch different things both keep theirs', async () => {
    server.append([set('theirs', 'x')], 'other tab');
    queue.push(step('mine', set('mine', 'y')));
    await queue.settled();
    expect([...shown].sort()).toEqual([
      ['mine', 'y'],
      ['theirs', 'x'],
    ]);
    expect([...server.records].sort()).toEqual([...shown].sort());
  });

  test.each(['mine', 'theirs'] as const)('that touch the same thing ask, and %s is kept', async (choice) => {
    server.append([set('a', 'theirs')], 'other tab');
    queue.push(step('mine', set('a', 'mine'), set('b', 'mine')));
    queue.push(step('later', set('c', 'later')));
    await jest.advanceTimersByTimeAsync(1000);
    expect(clash!.keys).toEqual(['a']);
    expect(server.steps).toHaveLength(1);
    queue.resolveClash(choice);
    await queue.settled();
    expect([...server.records].sort()).toEqual([
      ['a', choice],
      ['b', 'mine'],
      ['c', 'later'],
    ]);
    expect([...shown].sort()).toEqual([...server.records].sort());
    expect(clash).toBeNull();
  });
});

describe('undo', () => {
  test('shows before the server has done it, and once only', async () => {
    queue.push(step('one', set('a', '1')));
    queue.push(step('two', set('a', '2'), set('b', '1')));
    await queue.settled();
    const { seq } = server.steps.at(-1)!;
    let shows = 0;
    const before = shown;
    queue.showAhead('undo', seq);
    expect([...shown]).toEqual([['a', '1']]);
    expect(shown).not.toBe(before);
    const foreseen = shown;
    queue.accept({
      ...server.steps.at(-1)!,
      kind: 'undo',
      of: seq,
      seq: 99,
      revision: 3,
      edits: [set('b', null), set('a', '1')],
    });
    if (shown !== foreseen) shows++;
    expect(shows).toBe(0);
    // And done again.
    queue.showAhead('redo', seq);
    expect([...shown]).toEqual([['a', '2'], ['b', '1']]); // prettier-ignore
  });

  test('counts as not stored until the server has done it', async () => {
    queue.push(step('one', set('a', '1')));
    await queue.settled();
    expect([queue.waiting, states.at(-1)]).toEqual([0, 'saved']);
    const [first] = server.steps;
    queue.showAhead('undo', first!.seq);
    expect([queue.waiting, states.at(-1)]).toEqual([1, 'saving']);
    let isSettled = false;
    void queue.settled().then(() => (isSettled = true));
    queue.push(step('two', set('b', '2')));
    await jest.advanceTimersByTimeAsync(50);
    // What is done meanwhile waits for it, and is not stored either.
    expect([queue.waiting, states.at(-1), isSettled]).toEqual([2, 'saving', false]);
    queue.accept({ ...server.append([set('a', null)], 'one'), kind: 'undo', of: first!.seq });
    await queue.settled();
    expect([queue.waiting, states.at(-1), isSettled]).toEqual([0, 'saved', true]);
    expect([...server.records]).toEqual([['b', '2']]);
  });

  test('that fails shows the page as it is again; what nobody knows is waited for', async () => {
    queue.push(step('one', set('a', '1')));
    await queue.settled();
    queue.showAhead('undo', server.steps[0]!.seq);
    expect([...shown]).toEqual([]);
    queue.rollBack();
    expect([...shown]).toEqual([['a', '1']]);
    queue.showAhead('undo', 12345);
    expect([...shown]).toEqual([['a', '1']]);
  });

  test('keeps what is done meanwhile on top', async () => {
    queue.push(step('one', set('a', '1')));
    await queue.settled();
    const [first] = server.steps;
    queue.showAhead('undo', first!.seq);
    queue.push(step('two', set('b', '2')));
    expect([...shown]).toEqual([['b', '2']]);
    await jest.advanceTimersByTimeAsync(50);
    // It waits; the server made something else of the undo.
    expect(server.steps).toHaveLength(1);
    queue.accept({ ...server.append([set('a', '0')], 'one'), kind: 'undo', of: first!.seq });
    await queue.settled();
    expect(server.steps.map((one) => one.label)).toEqual(['one', 'one', 'two']);
    expect(shown.get('a')).toBe('0');
    expect(shown.get('b')).toBe('2');
  });
});
