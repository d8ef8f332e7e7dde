import { beforeEach, describe, expect, test } from '@jest/globals';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { hut } from '../../tests/testPages.ts';
import { isTaken, sceneOfChange, takeColours, takeMoved, type Recoloured } from './returned.ts';

let bench: TestBench;
beforeEach(async () => {
  bench = await openTestBench(hut(12));
  const cast = bench.state.cast!;
  const [first] = cast.scenes;
  const colours = new Map([
    [first!.id, new Map([['coat', '#336699'], ['hair', '#cc3311']])],
    ['night', new Map([['coat', '#223344']])],
  ]); // prettier-ignore
  bench.store.setState({ cast: { ...cast, scenes: [first!, { id: 'night', name: 'Night', order: 9 }], colours } });
  bench.castChanges.length = 0;
  bench.pushed.length = 0;
});

const change = (over: Partial<Recoloured> = {}): Recoloured => ({ partId: 'coat', sceneId: null, from: '#336699', to: '#e0b020', areaPx: 900, ...over }); // prettier-ignore
const edits = (): unknown[] => bench.castChanges.flatMap((step) => step.edits.map(({ key, value }) => [key, value]));

describe('a colour that came back', () => {
  test('counts in its scene', () => {
    const first = bench.state.cast!.scenes[0]!.id;
    takeColours(bench, [change(), change({ sceneId: 'night', partId: 'hair' })], 'scene');
    expect(edits()).toEqual([
      [`colour/${first}/coat`, '#e0b020'],
      ['colour/night/hair', '#e0b020'],
    ]);
    expect(bench.castChanges[0]!.label).toBe('Take 2 new colours');
    expect(bench.pushed).toEqual([]);
  });

  test('counts in the whole job', () => {
    const first = bench.state.cast!.scenes[0]!.id;
    takeColours(bench, [change()], 'job');
    expect(edits()).toEqual([
      [`colour/${first}/coat`, '#e0b020'],
      ['colour/night/coat', '#e0b020'],
    ]);
  });

  test('counts on this page alone, which gets a scene of its own with all other colours as they were', () => {
    takeColours(bench, [change()], 'page', () => 'own');
    const { page, cast } = bench.state;
    const name = `${cast!.scenes[0]!.name}: ${page!.name}`;
    expect(edits()).toEqual([
      ['scene/own', { name, order: 10 }],
      ['colour/own/hair', '#cc3311'],
      ['colour/own/coat', '#e0b020'],
    ]);
    expect(bench.pushed.flatMap((step) => step.edits)).toEqual([{ key: 'scene', value: 'own' }]);
  });

  test('counts in the scene a page has of its own already', () => {
    const { cast, document, page } = bench.state;
    const own = { id: 'own', name: `Night: ${page!.name}`, order: 11 };
    bench.store.setState({
      cast: { ...cast!, scenes: [...cast!.scenes, own] },
      document: { ...document!, scene: 'own' },
    });
    takeColours(bench, [change()], 'page');
    expect(edits()).toEqual([['colour/own/coat', '#e0b020']]);
    expect(bench.pushed).toEqual([]);
  });

  test('is told to be taken once its scene has it', () => {
    const { cast } = bench.state;
    const first = cast!.scenes[0]!.id;
    expect([sceneOfChange(cast!, change()), sceneOfChange(cast!, change({ sceneId: 'night' }))]).toEqual([first, 'night']); // prettier-ignore
    expect(isTaken(cast!, null, change())).toBe(false);
    expect(isTaken(cast!, null, change({ to: '#336699' }))).toBe(true);
    expect(isTaken(cast!, 'night', change({ to: '#336699' }))).toBe(false);
    takeColours(bench, [], 'job');
    expect(bench.castChanges).toEqual([]);
  });
});

describe('what moved', () => {
  test('becomes corrections in one step; nothing, where all of it is there already', async () => {
    const real = globalThis.fetch;
    let answer: unknown[] = [{ key: 'tile/0,0', value: { parts: ['coat'], runs: [1, 4096] } }];
    const asked: string[] = [];
    globalThis.fetch = ((url: string, init?: RequestInit) => {
      if (url.endsWith('/edits')) return real(url, init);
      asked.push(url);
      return Promise.resolve({ ok: true, status: 200, json: () => Promise.resolve({ edits: answer }) });
    }) as unknown as typeof fetch;
    expect(await takeMoved(bench, 'r1', 'back.ora')).toBe(true);
    expect(bench.pushed.map(({ label, edits: [edit] }) => [label, edit!.key])).toEqual([['Take what moved in back.ora', 'tile/0,0']]); // prettier-ignore
    answer = [];
    expect(await takeMoved(bench, 'r1', 'back.ora')).toBe(false);
    expect(asked).toEqual(['/api/returned/r1/corrections', '/api/returned/r1/corrections']);
    globalThis.fetch = real;
  });
});
