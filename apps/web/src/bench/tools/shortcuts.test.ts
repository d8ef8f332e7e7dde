import { beforeEach, describe, expect, test } from '@jest/globals';
import { STAGES } from '../stages/stages.ts';
import type { BenchState, StageName } from '../state/benchState.ts';
import { PAPER_TONES } from '../state/benchState.ts';
import { hover } from '../page/look.ts';
import { assignPart } from '../page/parts.ts';
import { regionAtPoint } from '../page/partColours.ts';
import { openTestBench, type TestBench } from '../tests/testBench.ts';
import { hut, scannedPage } from '../tests/testPages.ts';
import { promisesSettled } from '../tests/promisesSettled.ts';
import { COMMON_SHORTCUTS, pressShortcut, RESERVED_SLOTS } from './shortcuts.ts';

let bench: TestBench;
let calls: string[];
const press = (key: string, more: KeyboardEventInit = {}): boolean =>
  pressShortcut(new KeyboardEvent('keydown', { key, ...more }), bench, {
    goToPage: (direction) => void calls.push(`page ${direction}`),
    showShortcuts: () => void calls.push('keys'),
    alreadySaved: () => void calls.push('saved'),
    cancelGesture: () => void calls.push('cancel'),
    pressOnStage: STAGES.find(({ name }) => name === bench.state.stage)!.press,
  });
/** What a key changed in the state. */
function changed(key: string, more: KeyboardEventInit = {}): Partial<BenchState> {
  const before = bench.state;
  expect(press(key, more)).toBe(true);
  const entries = Object.entries(bench.state).filter(([name, value]) => value !== before[name as keyof BenchState]);
  return Object.fromEntries(entries) as Partial<BenchState>;
}
async function open(stage: StageName): Promise<void> {
  const art = stage === 'lineart' ? scannedPage() : hut(12);
  bench = await openTestBench(art, { stage, partId: 'coat', measures: stage === 'lineart' });
}

beforeEach(async () => {
  calls = [];
  await open('flats');
});

describe('keys', () => {
  test('walk through the regions, assign them and take parts away', () => {
    const [first, second] = bench.state.openRegions;
    expect(changed('.').current).toBe(first);
    expect(changed(',').current).toBe(second);
    expect(changed('.').current).toBe(first);
    press('Enter');
    expect(bench.state.resolved!.partOfRegion[first!]).toBe('coat');
    expect(bench.state.current).toBe(second);
    bench.set({ current: first! });
    press('Backspace');
    expect(bench.state.resolved!.partOfRegion[first!]).toBeNull();
  });

  test('choose a part by its slot, or by what is under the pointer', () => {
    expect(changed('2').partId).toBe('hair');
    assignPart(bench, new Set([regionAtPoint(bench.state, 120, 113)!]), 'coat');
    hover(bench, [120, 113]);
    expect(changed('e').partId).toBe('coat');
  });

  test('change how the page is shown', () => {
    expect(changed('|').options).toMatchObject({ paper: PAPER_TONES.pale });
    expect(changed('w').options).toMatchObject({ markMissing: false });
    expect(changed('\\').show).toBe('flats');
    for (const key of ['+', '-', 'Home', 'End', 'ArrowLeft', 'ArrowDown']) expect(changed(key)).toHaveProperty('view');
  });

  test.each<[string, KeyboardEventInit, string]>([
    ['PageDown', {}, 'page 1'],
    ['PageUp', {}, 'page -1'],
    ['Escape', {}, 'cancel'],
    ['?', {}, 'keys'],
    ['s', { ctrlKey: true }, 'saved'],
  ])('%s is told to who can do it', (key, more, call) => {
    expect(press(key, more)).toBe(true);
    expect(calls).toEqual([call]);
  });

  test.each<[string, KeyboardEventInit, string[]]>([
    ['z', { ctrlKey: true }, ['undo']],
    ['Z', { ctrlKey: true, shiftKey: true }, ['undo', 'redo']],
    ['y', { metaKey: true }, ['undo', 'redo']],
  ])('%s goes through the history', async (key, more, kinds) => {
    assignPart(bench, new Set([0]), 'coat');
    if (kinds.length > 1) press('z', { ctrlKey: true });
    press(key, more);
    await bench.stepping.run(() => Promise.resolve());
    expect(bench.state.history.map(({ kind }) => kind)).toEqual(['do', ...kinds]);
  });

  test('without a meaning are left to the browser', () => {
    for (const key of ['F5', 'Tab', '8', 'x']) expect(press(key)).toBe(false);
    expect(press('r', { ctrlKey: true })).toBe(false);
    expect(press('1', { altKey: true })).toBe(false);
    expect(calls).toEqual([]);
  });

  test('reserved for actions are none that a part could have, and every one is in the list', () => {
    const listed = [...Object.values(COMMON_SHORTCUTS), ...STAGES.map(({ keys }) => keys)].flat();
    for (const key of RESERVED_SLOTS) expect(listed.some((action) => action.keys.startsWith(key))).toBe(true);
  });
});

test('keys on the Gaps stage rule on gaps, and choose no parts', async () => {
  await open('gaps');
  const door = bench.state.survey!.closures.find((one) => one.accepted)!;
  bench.set({ openGaps: [door.key] });
  expect(changed('.').gapKey).toBe(door.key);
  press('Backspace');
  await promisesSettled();
  expect(bench.state.document!.rulings.get(door.key)).toBe('open');
  expect(changed('r').leakAsked).toBe('run');
  expect(changed('t').leakAsked).toBe('trace');
  expect(changed('2')).toEqual({});
});

describe('keys on the Line art stage', () => {
  beforeEach(async () => {
    await open('lineart');
  });

  test.each([
    ['p', 'paper'],
    ['i', 'ink'],
    ['f', 'panel'],
  ])('%s asks for a click', (key, pointing) => {
    expect(changed(key).pointing).toBe(pointing);
  });

  test('compare, and take away a panel only when one is picked, and choose no parts', () => {
    expect(changed('c').comparing).toBe(true);
    expect(changed('Delete')).toEqual({});
    bench.set({ panelPicked: 0 });
    press('Delete');
    expect(bench.pushed.map(({ label }) => label)).toEqual(['Delete panel 1']);
    expect(changed('1')).toEqual({});
  });
});
