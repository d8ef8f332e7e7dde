import { describe, expect, test } from '@jest/globals';
import type { Closure } from '../../model/Regions.ts';
import type { Cut, GapKind } from '../../model/Cut.ts';
import { cutOfKey, keyOfCut, leftBeside, outlinesAcross } from './handCut.ts';

const found = (key: string, kind: GapKind): Cut => ({ ...cutOfKey(key), kind });
const closure = (key: string, over: Partial<Closure> = {}): Closure => ({
  ...found(key, 'outline'),
  key,
  confidence: 0.8,
  ruling: null,
  accepted: true,
  separatesPx: [900, 400],
  regions: [0, 1],
  ...over,
});
const CHORD = '100,300-300,300';

describe('the key of a closure', () => {
  test('is read back as the cut it was written for', () => {
    expect(cutOfKey('3,4-6,8')).toMatchObject({ from: [3, 4], to: [6, 8], widthPx: 4, kind: 'hand', curve: null });
    expect(keyOfCut(cutOfKey('3,4-6,8'))).toBe('3,4-6,8');
    expect(cutOfKey('5,5-5,5').widthPx).toBe(1);
  });

  test.each(['', '3,4', '3,4-6', '-3,4-6,8', '3.5,4-6,8', '3,4-6,8 '])('is none as %j', (key) => {
    expect(() => cutOfKey(key)).toThrow(/must look like x,y-x,y/);
  });
});

describe('what closures drawn by hand leave of a cut', () => {
  const across = cutOfKey('150,200-150,400');
  test('is all of it where they pass it by, or end at it', () => {
    const chord = found(CHORD, 'outline');
    for (const key of ['50,200-50,400', '150,200-150,290', '150,200-150,300'])
      expect(leftBeside(chord, [cutOfKey(key)])).toEqual([chord]);
  });

  test('is nothing of a gap that they cross or lie upon', () => {
    for (const kind of ['ends', 'line', 'neck', 'edge'] as const)
      expect(leftBeside(found(CHORD, kind), [across])).toEqual([]);
    expect(leftBeside(found(CHORD, 'ends'), [cutOfKey('302,301-99,298')])).toEqual([]);
    expect(leftBeside(found(CHORD, 'outline'), [cutOfKey('302,301-99,298')])).toEqual([]);
  });

  test('is the parts of an open outline, which meet the crossing in one of its own pixels', () => {
    const parts = leftBeside(found(CHORD, 'outline'), [cutOfKey('240,210-260,390'), across]);
    expect(parts.map(keyOfCut)).toEqual(['100,300-150,300', '150,300-250,300', '250,300-300,300']);
    expect(parts.map(({ widthPx }) => widthPx)).toEqual([49, 99, 49]);
    expect(new Set(parts.map(({ partOf }) => partOf))).toEqual(new Set([CHORD]));
    // Two that cross at the same place leave no part without a length.
    const same = leftBeside(found(CHORD, 'outline'), [across, cutOfKey('140,290-160,310')]);
    expect(same.map(keyOfCut)).toEqual(['100,300-150,300', '150,300-300,300']);
  });
});

test('only outlines that are closed by themselves need a ruling where something is drawn across', () => {
  const drawn = ['150,200-150,400'];
  expect(outlinesAcross([closure(CHORD)], drawn)).toEqual([CHORD]);
  expect(outlinesAcross([closure(CHORD, { ruling: 'closed' })], drawn)).toEqual([]);
  expect(outlinesAcross([closure(CHORD, { accepted: false })], drawn)).toEqual([]);
  expect(outlinesAcross([closure(CHORD, { kind: 'ends' })], drawn)).toEqual([]);
  expect(outlinesAcross([closure('100,500-300,500')], drawn)).toEqual([]);
  expect(outlinesAcross([closure(CHORD)], [])).toEqual([]);
});
