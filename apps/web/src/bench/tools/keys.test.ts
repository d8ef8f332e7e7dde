import { beforeEach, describe, expect, test } from '@jest/globals';
import type { Bench } from '../state/Bench.ts';
import { KEY_ACTIONS, pressKey, RESERVED_KEYS } from './keys.ts';

const calls: string[] = [];
const note =
  (name: string) =>
  (...args: unknown[]) =>
    void calls.push([name, ...args.map((arg) => JSON.stringify(arg))].join(' '));
const bench = {
  state: {
    stage: 'flats',
    partId: 'coat',
    pointer: [7, 8],
    options: { markMissing: true, paper: 0xffffffff },
    page: { width: 100, height: 100 },
    view: { x: 0, y: 0, scale: 1, width: 50, height: 50 },
    cast: {
      parts: [
        { id: 'coat', slot: '1' },
        { id: 'sky', slot: 'b' },
      ],
    },
  },
  walk: { go: note('walk'), rule: note('walkRule') },
  pickPartAt: note('pickPartAt'),
  choosePart: note('choosePart'),
  looking: { setOptions: note('setOptions'), setView: note('setView') },
  steps: { step: note('step') },
  panels: { go: note('panel') },
  set: note('set'),
  lineArt: { go: note('line'), ruleCurrent: note('rule'), removePanel: note('removePanel') },
};
const ports = {
  goToPage: note('goToPage'),
  showKeys: note('showKeys'),
  alreadySaved: note('alreadySaved'),
  cancelGesture: note('cancelGesture'),
  traceLeak: note('traceLeak'),
  testLeak: note('testLeak'),
};
const press = (key: string, more: KeyboardEventInit = {}): boolean =>
  pressKey(new KeyboardEvent('keydown', { key, ...more }), bench as unknown as Bench, ports);

beforeEach(() => {
  calls.length = 0;
});

describe('keys', () => {
  test.each<[string, KeyboardEventInit, string]>([
    ['.', {}, 'walk 1'],
    [',', {}, 'walk -1'],
    ['Enter', {}, 'walkRule "coat"'],
    ['Backspace', {}, 'walkRule null'],
    ['1', {}, 'choosePart "coat"'],
    ['b', {}, 'choosePart "sky"'],
    ['e', {}, 'pickPartAt [7,8]'],
    ['|', {}, `setOptions {"paper":${0xffd6d6d6}}`],
    ['w', {}, 'setOptions {"markMissing":false}'],
    ['PageDown', {}, 'goToPage 1'],
    ['PageUp', {}, 'goToPage -1'],
    ['Escape', {}, 'cancelGesture'],
    ['?', {}, 'showKeys'],
    [']', {}, 'panel 1'],
    ['[', {}, 'panel -1'],
    ['z', { ctrlKey: true }, 'step "undo"'],
    ['Z', { ctrlKey: true, shiftKey: true }, 'step "redo"'],
    ['y', { metaKey: true }, 'step "redo"'],
    ['s', { ctrlKey: true }, 'alreadySaved'],
  ])('%s does its one thing', (key, more, call) => {
    expect(press(key, more)).toBe(true);
    expect(calls).toEqual([call]);
  });

  test('without a meaning are left to the browser', () => {
    for (const key of ['F5', 'Tab', '8', 'x']) expect(press(key)).toBe(false);
    expect(press('r', { ctrlKey: true })).toBe(false);
    expect(press('1', { altKey: true })).toBe(false);
    expect(calls).toEqual([]);
  });

  test('that look at the page change the view', () => {
    for (const key of ['+', '-', 'Home', 'End', 'ArrowLeft', 'ArrowDown']) expect(press(key)).toBe(true);
    expect(calls.every((call) => call.startsWith('setView'))).toBe(true);
    expect(calls).toHaveLength(6);
  });

  test('reserved for actions are none that a part could have, and every one is in the list', () => {
    for (const key of RESERVED_KEYS) expect(KEY_ACTIONS.some((action) => action.keys.startsWith(key))).toBe(true);
  });
});

describe('keys on the Line art stage', () => {
  const drawing = (panelPicked: number | null = null) => ({
    ...bench,
    state: { ...bench.state, stage: 'lineart', panelPicked, comparing: false },
  });
  const pressHere = (key: string, panelPicked: number | null = null): boolean =>
    pressKey(new KeyboardEvent('keydown', { key }), drawing(panelPicked) as unknown as Bench, ports);

  test.each([
    ['.', 'line 1'],
    [',', 'line -1'],
    ['Enter', 'rule true'],
    ['Backspace', 'rule false'],
    ['p', 'set {"pointing":"paper"}'],
    ['i', 'set {"pointing":"ink"}'],
    ['f', 'set {"pointing":"panel"}'],
    ['c', 'set {"comparing":true}'],
    [']', 'panel 1'],
    ['Escape', 'cancelGesture'],
  ])('%s does its one thing', (key, call) => {
    expect(pressHere(key)).toBe(true);
    expect(calls).toEqual([call]);
  });

  test('take away a panel only when one is picked, and choose no parts', () => {
    pressHere('Delete');
    expect(calls).toEqual([]);
    pressHere('Delete', 2);
    expect(calls).toEqual(['removePanel 2']);
    pressHere('1');
    expect(calls).toEqual(['removePanel 2']);
  });
});
