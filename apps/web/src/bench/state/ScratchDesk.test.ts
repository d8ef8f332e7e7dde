import { beforeEach, expect, test } from '@jest/globals';
import { ciede2000, findTouching, labOf, parseColour, type RecordEdit } from '@jumble/core';
import { FakeBench, hut } from '../tests/fakeBench.ts';
import { ScratchDesk } from './ScratchDesk.ts';

let bench: FakeBench;
let touching: () => Promise<Int32Array>;
let distances: (number | null)[];
let desk: ScratchDesk;
beforeEach(() => {
  bench = new FakeBench().open(hut(12, true));
  distances = [];
  touching = () => Promise.resolve(findTouching(bench.state.survey!));
  desk = new ScratchDesk({
    get state() {
      return bench.state;
    },
    engine: { touching: () => touching() },
    changeCast: (label, edits) => bench.changeCast(label, edits),
    set: ({ scratchDistance }) => distances.push(scratchDistance),
    fail: (error) => bench.fail(error),
  });
});
const colourOf = (edits: readonly RecordEdit[], part: string): string =>
  edits.find((edit) => edit.key === `scratch/${part}`)!.value as string;

test('parts that touch get colours as far apart as is said, and nothing left empty gets one', async () => {
  bench.give(new Set([bench.regionAt(80, 113)!]), 'coat');
  bench.give(new Set([bench.regionAt(5, 5)!]), 'hair');
  await desk.use();
  const { label, edits } = bench.castChanges[0]!;
  expect(label).toBe('Use scratch colours');
  expect(edits.map((edit) => edit.key).sort()).toEqual(['palette', 'scratch/coat', 'scratch/hair']);
  const [coat, hair] = ['coat', 'hair'].map((part) => labOf(parseColour(colourOf(edits, part))));
  expect(distances).toHaveLength(1);
  expect(distances[0]!).toBeGreaterThan(20);
  expect(ciede2000(coat!, hair!)).toBeGreaterThanOrEqual(distances[0]!);
});

test('says no distance where nothing touches, and goes back to the real colours', async () => {
  await desk.use();
  desk.useReal();
  expect(distances).toEqual([null, null]);
  expect(bench.castChanges[1]).toEqual({ label: 'Use the real colours', edits: [{ key: 'palette', value: 'scene' }] });
});

test('changes nothing when the neighbours cannot be found, and says so', async () => {
  touching = () => Promise.reject(new Error('The computing worker stopped.'));
  await desk.use();
  expect(bench.failures).toEqual(['The computing worker stopped.']);
  expect(bench.castChanges).toEqual([]);
});
