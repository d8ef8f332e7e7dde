import { describe, expect, test } from '@jest/globals';
import { formatColour } from '../colour/hex.ts';
import { loudPalette } from '../colour/loudPalette.ts';
import { planParts } from '../handoff/planLayers.ts';
import { applyEdits } from '../page/records.ts';
import type { Json } from '../model/records.ts';
import { checkCastEdit } from './checkCastEdit.ts';
import {
  UNSET_COLOUR,
  colourOfPart,
  dropPart,
  editCastScene,
  editColour,
  editGroup,
  editPalette,
  editPart,
  editScratch,
  readCastSheet,
} from './CastSheet.ts';

const { records } = applyEdits(new Map(), [
  editCastScene({ id: 'night', name: 'Night', order: 1 }),
  editCastScene({ id: 'day', name: 'Day', order: 0 }),
  editGroup({ id: 'set', name: 'Set', order: 1 }),
  editGroup({ id: 'ana', name: 'Ana', order: 0 }),
  editPart({ id: 'sky', groupId: 'set', name: 'Sky', order: 0, slot: null, empty: false }),
  editPart({ id: 'hat', groupId: 'ana', name: 'Hat', order: 1, slot: '2', empty: false }),
  editPart({ id: 'coat', groupId: 'ana', name: 'Coat', order: 0, slot: '1', empty: false }),
  editColour('day', 'coat', '#112233'),
  editColour('night', 'coat', '#445566'),
  editScratch('coat', '#ff00ff'),
]);
const sheet = readCastSheet(records);

describe('the cast sheet', () => {
  test('stands in its order: groups, then parts within them, scenes too', () => {
    expect(sheet.groups.map(({ id }) => id)).toEqual(['ana', 'set']);
    expect(sheet.parts.map(({ id }) => id)).toEqual(['coat', 'hat', 'sky']);
    expect(sheet.scenes.map(({ id }) => id)).toEqual(['day', 'night']);
  });

  test("shows a scene's colour, the first scene's where there is none, and a neutral one before any was chosen", () => {
    expect(colourOfPart(sheet, 'coat', 'night')).toBe('#445566');
    expect(colourOfPart(sheet, 'coat', null)).toBe('#112233');
    expect(colourOfPart(sheet, 'coat', 'gone')).toBe('#112233');
    expect(colourOfPart(sheet, 'hat', 'day')).toBe(UNSET_COLOUR);
  });

  test('shows scratch colours while they are in use', () => {
    const loud = readCastSheet(applyEdits(records, [editPalette('scratch')]).records);
    expect(colourOfPart(loud, 'coat', 'night')).toBe('#ff00ff');
    expect(planParts(loud, [null])[0]!.parts[0]!.rgb).toBe(0xff00ff);
  });

  test('a part that came after the others got theirs is loud too, unlike those, and stays as it is', () => {
    const [first, second, ...most] = loudPalette().map(formatColour);
    const edits = [editPalette('scratch'), ...most.map((colour, k) => editScratch(`p${k}`, colour))];
    const loud = readCastSheet(applyEdits(records, edits).records);
    const colour = colourOfPart(loud, 'hat', 'day');
    expect([first, second]).toContain(colour);
    const more = readCastSheet(applyEdits(records, [...edits, editColour('day', 'hat', '#808080')]).records);
    expect(colourOfPart(more, 'hat', 'night')).toBe(colour);
  });

  test('loses a part with all its colours, and gets everything back from the inverse', () => {
    const dropped = applyEdits(records, dropPart(sheet, 'coat'));
    expect([...dropped.records.keys()].filter((key) => key.includes('coat'))).toEqual([]);
    expect(readCastSheet(applyEdits(dropped.records, dropped.inverse).records)).toEqual(sheet);
  });

  test('plans layers with groups and parts topmost first', () => {
    expect(planParts(sheet, ['night']).map((group) => [group.name, ...group.parts.map((part) => part.name)])).toEqual([
      ['Ana', 'Coat', 'Hat'],
      ['Set', 'Sky'],
    ]);
  });

  const part = { groupId: 'ana', name: 'Hat', order: 0, slot: '2', empty: false };
  test.each<[string, Json, RegExp]>([
    ['hat', 1, /not one of a cast sheet/],
    ['part/../x', part, /not one of a cast sheet/],
    ['part/hat', { ...part, name: ' ' }, /name` must have 1 to 80/],
    ['part/hat', { ...part, slot: 'ab' }, /slot` must be one letter or digit/],
    ['part/hat', { ...part, empty: 1 }, /empty` must be true or false/],
    ['part/hat', { ...part, groupId: '' }, /groupId` must be/],
    ['part/hat', [1], /must be an object/],
    ['group/a', { name: 'x', order: 'first' }, /order` must be a number/],
    ['colour/day/hat', 'red', /must look like/],
    ['colour/day/hat', 7, /must be a colour/],
    ['palette', 'loud', /must be scene or scratch/],
  ])('refuses %s %j', (key, value, message) => {
    expect(() => checkCastEdit({ key, value })).toThrow(message);
  });
});
