import { describe, expect, test } from '@jest/globals';
import { planParts, stackedParts } from '../handoff/planLayers.ts';
import { applyEdits } from '../page/records.ts';
import type { RecordEdit } from '../model/records.ts';
import { checkCastEdit } from './checkCastEdit.ts';
import {
  copyPart,
  dropPart,
  dropScene,
  editCastScene,
  editColour,
  editGroup,
  editPart,
  mergeParts,
  readCastSheet,
} from './CastSheet.ts';
import type { CastPart, CastSheet } from '../model/CastSheet.ts';

const part = (id: string, order: number, more: Partial<CastPart> = {}): CastPart => ({
  id,
  groupId: 'wren',
  name: id,
  order,
  slot: null,
  empty: false,
  ...more,
});
const START: RecordEdit[] = [
  editCastScene({ id: 'day', name: 'Day', order: 0 }),
  editCastScene({ id: 'night', name: 'Night', order: 1 }),
  editGroup({ id: 'wren', name: 'Wren', order: 0 }),
  editGroup({ id: 'set', name: 'Tunnel', order: 1 }),
  editPart(part('coat', 0)),
  editPart(part('scarf', 1)),
  editPart(part('wall', 0, { groupId: 'set' })),
  editPart(part('stripes', 2, { on: 'scarf' })),
  editPart(part('moss', 3, { on: 'wall' })),
  editColour('day', 'scarf', '#aa8800'),
  editColour('night', 'scarf', '#554400'),
];
const sheetOf = (edits: readonly RecordEdit[]): CastSheet => readCastSheet(applyEdits(new Map(), edits).records);
const names = (sheet: CastSheet): string[] =>
  planParts(sheet, [null]).map((group) => `${group.name}: ${group.parts.map((one) => one.name).join(' ')}`);

describe('the stacking', () => {
  test('is that of the sheet, with markings right in front of what they lie on, in its group', () => {
    expect(names(sheetOf(START))).toEqual(['Wren: coat stripes scarf', 'Tunnel: moss wall']);
  });

  test('is another where somebody said so', () => {
    const edits = [
      editGroup({ id: 'wren', name: 'Wren', order: 0, stack: 5 }),
      editGroup({ id: 'set', name: 'Tunnel', order: 1, stack: 2 }),
      editPart(part('coat', 0, { stack: 9 })),
    ];
    expect(names(sheetOf([...START, ...edits]))).toEqual(['Tunnel: moss wall', 'Wren: stripes scarf coat']);
  });

  test('piles markings on markings, and does not lose those that lie on each other in a ring', () => {
    const piled = sheetOf([...START, editPart(part('dots', 4, { on: 'stripes' }))]);
    expect(stackedParts(piled, 'wren').map((one) => one.id)).toEqual(['coat', 'dots', 'stripes', 'scarf']);
    const ring = sheetOf([editPart(part('a', 0, { on: 'b' })), editPart(part('b', 1, { on: 'a' }))]);
    expect(
      stackedParts(ring, 'wren')
        .map((one) => one.id)
        .sort(),
    ).toEqual(['a', 'b']);
  });

  test('and markings are checked', () => {
    for (const more of [{ stack: Number.NaN }, { stack: 'x' }, { on: 'not an id' }, { on: 3 }]) {
      expect(() => checkCastEdit(editPart(part('coat', 0, more as never)))).toThrow(TypeError);
    }
    expect(() => checkCastEdit(editPart(part('coat', 0, { stack: -1.5, on: 'scarf' })))).not.toThrow();
  });
});

describe('a part with markings', () => {
  test('that is deleted leaves them standing for themselves', () => {
    const sheet = sheetOf([...START, ...dropPart(sheetOf(START), 'scarf')]);
    expect(sheet.parts.find((one) => one.id === 'stripes')!.on).toBeUndefined();
  });

  test('that is merged gives them to the other, even when that is one of them', () => {
    const into = (target: string): CastSheet => sheetOf([...START, ...mergeParts(sheetOf(START), 'scarf', target)]);
    expect(into('coat').parts.find((one) => one.id === 'stripes')!.on).toBe('coat');
    expect(into('stripes').parts.find((one) => one.id === 'stripes')!.on).toBeUndefined();
  });

  test('copied stands after the first one, with its colours in every scene and no key', () => {
    const sheet = sheetOf(START);
    const scarf = { ...sheet.parts.find((one) => one.id === 'scarf')!, slot: '4' };
    const after = sheetOf([...START, ...copyPart(sheet, scarf, 'new', 'scarf, panel 2')]);
    const copy = after.parts.find((one) => one.id === 'new')!;
    expect(copy).toMatchObject({ name: 'scarf, panel 2', slot: null, groupId: 'wren' });
    expect(after.parts.filter((one) => one.groupId === 'wren').map((one) => one.id)).toEqual([
      'coat',
      'scarf',
      'new',
      'stripes',
      'moss',
    ]);
    expect([after.colours.get('day')!.get('new'), after.colours.get('night')!.get('new')]).toEqual([
      '#aa8800',
      '#554400',
    ]);
  });
});

test('a scene that is deleted takes its colours along', () => {
  const sheet = sheetOf([...START, ...dropScene(sheetOf(START), 'night')]);
  expect(sheet.scenes.map((one) => one.id)).toEqual(['day']);
  expect(sheet.colours.get('night')?.size ?? 0).toBe(0);
});
