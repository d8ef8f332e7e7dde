import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import {
  applyEdits,
  editCastScene,
  editColour,
  editGroup,
  editPart,
  readCastSheet,
  type CastSheet,
} from '@jumble/core';
import { cleanup, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { Stacking } from '../stages/handoff/Stacking.tsx';
import { BenchContext } from '../state/benchContext.ts';
import { openTestBench, type TestBench } from '../tests/testBench.ts';
import { hut, smallCast } from '../tests/testPages.ts';
import { meanOf } from './meanColour.ts';
import { PartDialog } from './PartDialog.tsx';
import { SceneChoice } from './SceneChoice.tsx';
import { followColour } from './shiftColour.ts';
import { regionAtPoint } from '../page/partColours.ts';
import { assignPart } from '../page/parts.ts';

let bench: TestBench;
beforeEach(async () => {
  bench = await openTestBench(hut(12), { stage: 'flats' });
});
afterEach(cleanup);
const onBench = (children: ReactNode): void => {
  render(<BenchContext.Provider value={bench}>{children}</BenchContext.Provider>);
};
const user = userEvent.setup();
const onClose = jest.fn();

/** Stripes on the coat, a group behind, and a night. */
const STRIPES = [
  editPart({ id: 'stripes', groupId: 'wren', name: 'Stripes', order: 5, slot: null, empty: false, on: 'coat' }),
  editCastScene({ id: 'day', name: 'Day', order: 0 }),
  editCastScene({ id: 'night', name: 'Night', order: 1 }),
  editGroup({ id: 'wren', name: 'Wren', order: 0 }),
  editGroup({ id: 'tram', name: 'Tram', order: 1 }),
  editColour('day', 'coat', '#336699'),
  editColour('day', 'stripes', '#5588bb'),
  editColour('night', 'coat', '#112233'),
];
const withStripes = (): CastSheet => readCastSheet(applyEdits(smallCast(), STRIPES).records);

describe('a marking', () => {
  test('follows the colour of the part it lies on, in that scene', async () => {
    const cast = withStripes();
    const coat = { ...cast.parts.find((part) => part.id === 'coat')!, colour: '#336699', isNew: false };
    onBench(<PartDialog draft={coat} cast={cast} scene="day" onClose={onClose} />);
    await user.clear(screen.getByLabelText('Colour (Day)'));
    await user.type(screen.getByLabelText('Colour (Day)'), '#663333');
    await user.click(screen.getByRole('button', { name: 'Save' }));
    expect(bench.castChanges[0]!.edits.slice(1)).toEqual([
      { key: 'colour/day/coat', value: '#663333' },
      { key: 'colour/day/stripes', value: followColour('#5588bb', '#336699', '#663333') },
    ]);
  });

  test('keeps its distance: as much lighter as it was, and back again', () => {
    const there = followColour('#5588bb', '#336699', '#663333');
    expect(there).not.toBe('#5588bb');
    const back = followColour(there, '#663333', '#336699');
    const channels = (hex: string): number[] => [1, 3, 5].map((k) => parseInt(hex.slice(k, k + 2), 16));
    channels(back).forEach((value, k) => expect(Math.abs(value - channels('#5588bb')[k]!)).toBeLessThanOrEqual(3));
    expect(followColour('#ffffff', '#000000', '#ffffff')).toBe('#ffffff');
  });

  test('is made by saying what it lies on, never on itself or what lies on it', async () => {
    const cast = withStripes();
    const coat = { ...cast.parts.find((part) => part.id === 'coat')!, colour: '#336699', isNew: false };
    onBench(<PartDialog draft={coat} cast={cast} scene="day" onClose={onClose} />);
    await user.click(screen.getByLabelText('Is a marking on'));
    expect(screen.getAllByRole('option').map((one) => one.textContent)).toEqual(['nothing', 'Wren: Hair']);
    await user.click(screen.getByRole('option', { name: 'Wren: Hair' }));
    await user.click(screen.getByRole('button', { name: 'Save' }));
    expect(bench.castChanges[0]!.edits[0]!.value).toMatchObject({ on: 'hair' });
  });
});

test('a part is split off where a panel has it, with its colours', async () => {
  const inside = regionAtPoint(bench.state, 120, 113)!;
  assignPart(bench, new Set([inside]), 'coat');
  const panelOfRegion = new Int32Array(bench.state.survey!.regions.count).fill(1);
  bench.store.setState({ panelShown: 1, panelOfRegion });
  const cast = bench.state.cast!;
  const coat = { ...cast.parts.find((part) => part.id === 'coat')!, colour: '#336699', isNew: false };
  onBench(<PartDialog draft={coat} cast={cast} scene={null} onClose={onClose} />);
  await user.click(screen.getByRole('button', { name: 'Split off panel 2 (1)' }));
  const { edits } = bench.castChanges[0] as unknown as { edits: { key: string; value: { name: string } }[] };
  expect(edits[0]!.value.name).toBe('Coat, panel 2');
  expect(edits[1]!.value).toBe('#336699');
  const id = edits[0]!.key.slice('part/'.length);
  expect(bench.state.partId).toBe(id);
  expect([...bench.state.document!.fills.values()].map((fill) => fill.part)).toEqual([id]);
});

describe('scenes', () => {
  test('are renamed and deleted, after one question that says what pages show then', async () => {
    const cast = withStripes();
    onBench(<SceneChoice cast={cast} scene="night" />);
    await user.click(screen.getByRole('button', { name: /Night/ }));
    await user.click(screen.getByRole('menuitem', { name: 'Rename Night …' }));
    await user.clear(screen.getByLabelText('Name'));
    await user.type(screen.getByLabelText('Name'), 'day');
    expect(screen.getByText(/one of this name already/)).toBeTruthy();
    await user.clear(screen.getByLabelText('Name'));
    await user.type(screen.getByLabelText('Name'), 'Dusk');
    await user.click(screen.getByRole('button', { name: 'Rename' }));
    expect(bench.castChanges.at(-1)!.edits).toEqual([{ key: 'scene/night', value: { name: 'Dusk', order: 1 } }]);
    await user.click(await screen.findByRole('button', { name: /Night/ }));
    await user.click(screen.getByRole('menuitem', { name: 'Delete Night …' }));
    expect(screen.getByText(/show Day instead/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Delete the scene' }));
    expect(bench.castChanges.at(-1)!.edits).toEqual([
      { key: 'colour/night/coat', value: null },
      { key: 'scene/night', value: null },
    ]);
  });
});

describe('the stacking', () => {
  test('moves groups, and parts among those they stand beside', async () => {
    bench.changeCast('Add the stripes', STRIPES);
    bench.castChanges.length = 0;
    onBench(<Stacking />);
    const list = screen.getByRole('region', { name: 'Stacking, front to back' });
    await user.click(within(list).getByRole('button', { name: 'Wren: further back' }));
    expect(bench.castChanges[0]!.edits.map((edit) => [edit.key, (edit.value as { stack: number }).stack])).toEqual([
      ['group/tram', 0],
      ['group/wren', 1],
    ]);
    await user.click(within(list).getByRole('button', { name: 'Wren' }));
    expect(within(list).getByText('Stripes (marking)')).toBeTruthy();
    await user.click(within(list).getByRole('button', { name: 'Hair: further in front' }));
    expect(bench.castChanges[1]!.edits.map((edit) => edit.key)).toEqual(['part/hair', 'part/coat', 'part/none']);
    const stuck = within(list).getByRole<HTMLButtonElement>('button', { name: 'Stripes (marking): further back' });
    expect(stuck.disabled).toBe(true);
  });
});

test('a colour from a picture is the mean around the point; what is transparent does not count', () => {
  expect(meanOf(Uint8ClampedArray.of(100, 0, 40, 255, 200, 0, 60, 255))).toBe('#960032');
  expect(meanOf(Uint8ClampedArray.of(100, 0, 40, 255, 200, 0, 60, 0))).toBe('#640028');
  expect(meanOf(Uint8ClampedArray.of(9, 9, 9, 0))).toBe('#ffffff');
});
