/** @jest-environment node */
import { beforeEach, expect, test } from '@jest/globals';
import { ciede2000, labOf, parseColour, type RecordEdit } from '@jumble/core';
import { regionAtPoint } from '../page/partColours.ts';
import { assignPart } from '../page/parts.ts';
import { openTestBench, type TestBench } from '../tests/testBench.ts';
import { hut } from '../tests/testPages.ts';
import { showRealColours, showScratchColours } from './scratch.ts';

let bench: TestBench;
beforeEach(async () => {
  bench = await openTestBench(hut(12, true));
});
const colourOf = (edits: readonly RecordEdit[], part: string): string =>
  edits.find((edit) => edit.key === `scratch/${part}`)!.value as string;

test('parts that touch get colours as far apart as is said, and nothing left empty gets one', async () => {
  assignPart(bench, new Set([regionAtPoint(bench.state, 80, 113)!]), 'coat');
  assignPart(bench, new Set([regionAtPoint(bench.state, 5, 5)!]), 'hair');
  await showScratchColours(bench);
  const { label, edits } = bench.castChanges[0]!;
  expect(label).toBe('Use scratch colours');
  expect(edits.map((edit) => edit.key).sort()).toEqual(['palette', 'scratch/coat', 'scratch/hair']);
  const [coat, hair] = ['coat', 'hair'].map((part) => labOf(parseColour(colourOf(edits, part))));
  const distance = bench.state.scratchDistance!;
  expect(distance).toBeGreaterThan(20);
  expect(ciede2000(coat!, hair!)).toBeGreaterThanOrEqual(distance);
});

test('says no distance where nothing touches, and goes back to the real colours', async () => {
  await showScratchColours(bench);
  expect(bench.state.scratchDistance).toBeNull();
  expect(bench.state.cast!.palette).toBe('scratch');
  showRealColours(bench);
  expect(bench.castChanges[1]).toEqual({ label: 'Use the real colours', edits: [{ key: 'palette', value: 'scene' }] });
  expect(bench.state.cast!.palette).toBe('scene');
});

test('changes nothing when the neighbours cannot be found, and says so', async () => {
  bench.engine.touching = () => Promise.reject(new Error('The computing worker stopped.'));
  await showScratchColours(bench);
  expect(bench.failures).toEqual(['The computing worker stopped.']);
  expect(bench.castChanges).toEqual([]);
});
