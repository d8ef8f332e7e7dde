/** @jest-environment node */
import { beforeEach, expect, test } from '@jest/globals';
import type { PageView } from '@jumble/contracts';
import { setFlats } from '../stages/flats/setFlats.ts';
import { promisesSettled } from '../tests/promisesSettled.ts';
import { openTestBench, type TestBench } from '../tests/testBench.ts';
import { hut } from '../tests/testPages.ts';
import { settleRevision, takePage } from './reading.ts';

let bench: TestBench;
const read = (): string[] =>
  bench.server.requests.filter(({ url }) => url.includes('/grey/')).map(({ url }) => url.split('/').at(-1)!);
const pageOf = (greyHash: string): PageView => ({ ...bench.state.page!, greyHash });
/** Resolves once what is read now is read. */
const turn = (): Promise<void> => bench.turns.run(() => Promise.resolve());

beforeEach(async () => {
  bench = await openTestBench(hut(12));
  for (const hash of ['two', 'three']) bench.server.files.set(`/api/pages/p/grey/${hash}`, hut(30).data);
});

test('a page is read once, and stands to be worked on', async () => {
  expect([bench.state.phase, bench.state.dividedBy]).toEqual(['ready', '["auto",[],[]]']);
  expect(bench.drawing.all('page')).toHaveLength(1);
  takePage(bench, pageOf('abcdef0123'));
  await turn();
  expect(read()).toEqual(['abcdef0123']);
});

test('another file is read anew, what was proposed for the one before goes, and the page shows that it is read', async () => {
  setFlats(bench, { examples: { from: 'pages', pages: 1, proposals: [] } });
  bench.set({ islands: [1] });
  takePage(bench, pageOf('two'));
  // Asked again meanwhile, it is read once.
  takePage(bench, pageOf('three'));
  await promisesSettled();
  await turn();
  expect(read()).toEqual(['abcdef0123', 'three']);
  expect([bench.state.flats.examples, bench.state.islands, bench.state.phase]).toEqual([null, [], 'ready']);
});

test('a reading that fails is told, and the page is there as it was', async () => {
  const before = bench.state.survey;
  takePage(bench, pageOf('gone'));
  await turn();
  expect(bench.failures).toEqual(['/api/pages/p/grey/gone is not there.']);
  expect([bench.state.phase, bench.state.survey]).toEqual(['ready', before]);
});

test('a page that was left is read no more', async () => {
  takePage(bench, pageOf('two'));
  bench.close();
  await turn();
  expect(read()).toEqual(['abcdef0123']);
});

test('changes that were looked through are listed no more; where that cannot be stored it is told', async () => {
  bench.set({ changes: [] });
  bench.server.routes.set('DELETE /api/pages/p/revision', () => bench.state.page);
  await settleRevision(bench);
  expect(bench.state.changes).toBeNull();
  globalThis.fetch = () => Promise.reject(new TypeError('Failed to fetch'));
  await settleRevision(bench);
  expect(bench.failures.at(-1)).toMatch(/^Jumble does not answer/);
});
