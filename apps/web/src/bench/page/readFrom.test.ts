/** @jest-environment node */
import { describe, expect, test } from '@jest/globals';
import type { PageView } from '@jumble/contracts';
import {
  applyEdits,
  editInkFile,
  editPrep,
  editRuling,
  editSolid,
  DEFAULT_PREP,
  readPageDocument,
  readingCacheKey,
} from '@jumble/core';
import { knownCuts, readFrom } from './readFrom.ts';

const page = {
  id: 'p',
  width: 40,
  height: 30,
  greyHash: 'aa',
  inks: [
    { id: 'rain', greyHash: 'bb' },
    { id: 'faces', greyHash: 'cc' },
  ],
} as unknown as PageView;
const document = (...edits: Parameters<typeof applyEdits>[1]) => readPageDocument(applyEdits(new Map(), edits).records);

describe('what a page is read from', () => {
  test('is all its files, those that bound regions marked', () => {
    const from = readFrom(page, document(editInkFile('faces', { name: 'Faces', order: 2, bounds: false })));
    expect(from.url).toBe('/api/pages/p/grey/aa');
    expect(from.ownBounds).toBe(true);
    expect(from.others).toEqual([
      { url: '/api/pages/p/grey/bb', bounds: true },
      { url: '/api/pages/p/grey/cc', bounds: false },
    ]);
  });

  test('stays the same when only what divides the page changes', () => {
    const plain = JSON.stringify(readFrom(page, document()));
    const ruled = document(editRuling('1,2-3,4', 'open'), editPrep({ ...DEFAULT_PREP, maxGapPx: 7 }));
    expect(JSON.stringify(readFrom(page, ruled))).toBe(plain);
    for (const other of [
      document(editSolid('5,6', true)),
      document(editPrep({ ...DEFAULT_PREP, slopePpm: 900 })),
      document(editInkFile('main', { name: 'Page', order: 0, bounds: false })),
    ]) {
      expect(JSON.stringify(readFrom(page, other))).not.toBe(plain);
    }
    // A solid black that was ruled to stay shared changes nothing.
    expect(JSON.stringify(readFrom(page, document(editSolid('5,6', false))))).toBe(plain);
  });
});

describe('gaps that were found before', () => {
  const sign = readingCacheKey(page, document());
  const stored = { ...page, cuts: { hash: 'dd', cacheKey: sign } };

  test('are asked for where the page is still read the same way', () => {
    expect(knownCuts(stored, document())).toBe('/api/pages/p/cuts/dd');
    expect(knownCuts(stored, document(editRuling('1,2-3,4', 'open')))).toBe('/api/pages/p/cuts/dd');
  });

  test('are not where it is read otherwise, or none were kept', () => {
    expect(knownCuts(stored, document(editSolid('5,6', true)))).toBeNull();
    expect(knownCuts({ ...stored, greyHash: 'ee' }, document())).toBeNull();
    expect(knownCuts({ ...page, cuts: null }, document())).toBeNull();
  });
});
