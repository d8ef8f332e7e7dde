import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { PageView } from '@jumble/contracts';
import { readPageDocument } from '@jumble/core';
import type { ShownSurvey } from '../engine/messages.ts';
import { INITIAL, type BenchState } from './benchState.ts';
import { PageReading } from './PageReading.ts';

let state: BenchState;
let read: string[];
let calls: string[];
let turn: Promise<void>;
let reading: PageReading;
let failing: boolean;
const fetchBefore = globalThis.fetch;
const bench = {
  isClosed: false,
  dividedBy: '',
  get state() {
    return state;
  },
};

const pageOf = (greyHash: string): PageView =>
  ({
    id: 'p',
    width: 9,
    height: 9,
    greyHash,
    fullGreyHash: null,
    full: null,
    inks: [],
    cuts: null,
  }) as unknown as PageView;

beforeEach(() => {
  [read, calls, turn, failing] = [[], [], Promise.resolve(), false];
  bench.isClosed = false;
  state = { ...INITIAL, page: pageOf('one'), document: readPageDocument(new Map()) };
  reading = new PageReading(
    Object.assign(bench, {
      pageId: 'p',
      engine: {
        survey: (from: { url: string }) => {
          read.push(from.url);
          return failing
            ? Promise.reject(new Error('no memory'))
            : Promise.resolve({ of: from.url } as unknown as ShownSurvey);
        },
      },
      gaps: {
        by: () => ({ maxGapPx: 'auto' as const, rulings: new Map<string, 'open' | 'closed'>(), drawn: [] }),
        toRule: () => ['gap'],
        follow: () => calls.push('gaps'),
        draw: () => undefined,
        inTurn: (work: () => Promise<void>) =>
          (turn = turn.then(work).catch((error: Error) => void calls.push(error.message))),
      },
      lineArt: { measure: () => Promise.resolve(void calls.push('measure')), list: () => void calls.push('list') },
      set: (part: Partial<BenchState>) => void (state = { ...state, ...part }),
      dropStaleProposals: () => calls.push('drop'),
      refresh: () => calls.push('refresh'),
      fail: (error: Error) => calls.push(error.message),
    }),
  );
});
afterEach(() => {
  globalThis.fetch = fetchBefore;
});

test('a page is read once, and then measured', async () => {
  await reading.read(state.page!);
  expect([state.phase, state.openGaps, bench.dividedBy]).toEqual(['ready', ['gap'], '["auto",[],[]]']);
  expect(calls).toEqual(['refresh', 'gaps', 'measure']);
  reading.follow();
  await turn;
  expect(read).toHaveLength(1);
});

test('another file is read anew, what was proposed for the one before goes, and the page shows that it is read', async () => {
  await reading.read(state.page!);
  reading.takePage(pageOf('two'));
  // Asked again meanwhile, it is read once.
  reading.takePage(pageOf('three'));
  await turn;
  expect(read.map((url) => url.split('/').at(-1))).toEqual(['one', 'three']);
  expect(calls).toContain('drop');
  expect(state.phase).toBe('ready');
});

test('a reading that fails is told, and the page is there as it was', async () => {
  await reading.read(state.page!);
  const before = state.survey;
  failing = true;
  reading.takePage(pageOf('two'));
  await turn;
  expect([calls.at(-1), state.phase, state.survey]).toEqual(['no memory', 'ready', before]);
});

test('a page that was left is read no more', async () => {
  await reading.read(state.page!);
  reading.takePage(pageOf('two'));
  bench.isClosed = true;
  await turn;
  expect(read).toHaveLength(1);
});

test('changes that were looked through are listed no more; where that cannot be stored it is told', async () => {
  await reading.read(state.page!);
  state = { ...state, changes: [] };
  const answer = { ok: true, status: 200, json: () => Promise.resolve(pageOf('one')) };
  globalThis.fetch = (() => Promise.resolve(answer)) as unknown as typeof fetch;
  await reading.settleRevision();
  expect([state.changes, calls.at(-1)]).toEqual([null, 'list']);
  globalThis.fetch = () => Promise.reject(new TypeError('Failed to fetch'));
  await reading.settleRevision();
  expect(calls.at(-1)).toMatch(/^Jumble does not answer/);
});
