import { describe, expect, test } from '@jest/globals';
import { applyEdits } from '../page/records.ts';
import type { Records } from '../model/records.ts';
import { checkCastEdit } from './checkCastEdit.ts';
import {
  editCastScene,
  editColour,
  editGroup,
  editPart,
  mergeParts,
  nearColours,
  partFinder,
  readCastSheet,
} from './CastSheet.ts';
import { CastFileError, type CastLine, importCast } from './importCast.ts';

const records: Records = applyEdits(new Map(), [
  editCastScene({ id: 'day', name: 'Day', order: 0 }),
  editGroup({ id: 'wren', name: 'Wren', order: 0 }),
  editPart({ id: 'coat', groupId: 'wren', name: 'Coat', order: 0, slot: '1', empty: false }),
  editPart({ id: 'cape', groupId: 'wren', name: 'Cape', order: 1, slot: '2', empty: false }),
  editPart({ id: 'hood', groupId: 'wren', name: 'Hood', order: 2, slot: null, empty: false }),
  editColour('day', 'coat', '#336699'),
  editColour('day', 'cape', '#34679a'),
  editColour('day', 'hood', '#aa2200'),
]).records;
const sheet = readCastSheet(records);
const line = (part: string, more: Partial<CastLine> = {}): CastLine => ({
  where: `Line ${part}`,
  scene: 'Day',
  group: 'Wren',
  part,
  slot: null,
  colour: '#102030',
  notes: '',
  ...more,
});
let count = 0;
const newId = (): string => `new${count++}`;

describe('merging parts', () => {
  test('lets every id of the merged one mean the other, merges of merges too', () => {
    const once = applyEdits(records, mergeParts(sheet, 'hood', 'cape')).records;
    const twice = readCastSheet(applyEdits(once, mergeParts(readCastSheet(once), 'cape', 'coat')).records);
    const partOf = partFinder(twice);
    expect([partOf('hood'), partOf('cape'), partOf('coat'), partOf('shoe')]).toEqual(['coat', 'coat', 'coat', null]);
    expect(twice.parts.map((part) => part.id)).toEqual(['coat']);
    expect(twice.aliases.get('hood')).toBe('coat');
  });

  test('is undone byte for byte', () => {
    const { records: merged, inverse } = applyEdits(records, mergeParts(sheet, 'cape', 'coat'));
    expect([...applyEdits(merged, inverse).records].sort()).toEqual([...records].sort());
  });

  test('in a ring means nothing, and does not hang', () => {
    expect(partFinder({ parts: [], aliases: new Map([['a', 'b'], ['b', 'a']]) })('a')).toBeNull(); // prettier-ignore
  });

  test('is checked like every edit', () => {
    expect(() => checkCastEdit({ key: 'alias/cape', value: 'coat' })).not.toThrow();
    expect(() => checkCastEdit({ key: 'alias/cape', value: 7 })).toThrow('must be the id of a part');
    expect(() =>
      checkCastEdit({
        key: 'part/coat',
        value: { groupId: 'wren', name: 'Coat', order: 0, slot: null, empty: false, notes: 'x'.repeat(1001) },
      }),
    ).toThrow('at most 1000');
  });
});

test('colours that are hardly told apart are named, in their scene', () => {
  expect(nearColours(sheet, 'day', 'coat', '#336699').map((part) => part.id)).toEqual(['cape']);
  expect(nearColours(sheet, 'day', 'hood', '#aa2200')).toEqual([]);
  expect(nearColours(sheet, 'night', 'coat', '#336699')).toEqual([]);
});

describe('a cast file', () => {
  test('changes what is there, by name, and adds what is not', () => {
    const edits = importCast(
      sheet,
      [
        line('coat', { colour: '#FFEE00', notes: 'with brass' }),
        line('Boots', { slot: '2' }),
        line('Fog', { colour: null, scene: 'Night' }),
      ],
      newId,
    );
    const after = readCastSheet(applyEdits(records, edits).records);
    expect(after.colours.get('day')!.get('coat')).toBe('#ffee00');
    const coat = after.parts.find((part) => part.id === 'coat')!;
    expect([coat.name, coat.slot, coat.notes]).toEqual(['Coat', '1', 'with brass']);
    const boots = after.parts.find((part) => part.name === 'Boots')!;
    // Its key is the cape's.
    expect([boots.groupId, boots.slot]).toEqual(['wren', null]);
    expect(after.parts.find((part) => part.name === 'Fog')!.empty).toBe(true);
    expect(after.scenes.map((scene) => scene.name)).toEqual(['Day', 'Night']);
    for (const edit of edits) expect(() => checkCastEdit(edit)).not.toThrow();
  });

  test('with anything wrong is refused as a whole, naming the lines', () => {
    const bad = [
      line('Boots', { where: 'Line 2', colour: '#zzz' }),
      line('boots ', { where: 'Line 3' }),
      line('', { where: 'Line 4' }),
      line('Hat', { where: 'Line 5', slot: '??' }),
    ];
    let problem: CastFileError | null = null;
    try {
      importCast(sheet, bad, newId);
    } catch (error) {
      problem = error as CastFileError;
    }
    expect(problem).toBeInstanceOf(CastFileError);
    expect(problem!.message).toContain('Line 2: "#zzz" is no colour');
    expect(problem!.message).toContain('Line 3: Wren, boots  in Day stands at Line 2 already');
    expect(problem!.message).toContain('Line 4: the part needs a name');
    expect(problem!.message).toContain('Line 5: the key must be');
    expect(problem!.message).toContain('Nothing was imported');
  });

  test('without lines is said to be empty', () => {
    expect(() => importCast(sheet, [], newId)).toThrow('holds no parts');
  });
});
