import { describe, expect, test } from '@jest/globals';
import { checkCastEdit } from '../cast/checkCastEdit.ts';
import { editDelivery, readCastSheet } from '../cast/CastSheet.ts';
import { canRunUnder, FIRST_DELIVERIES, NEW_DELIVERY, type DeliveryRule } from '../model/Delivery.ts';
import { fillPattern, patternProblem } from '../model/fillPattern.ts';
import { applyEdits } from '../page/records.ts';
import type { PartRaster } from '../trap/renderParts.ts';
import { outputGrid, sampleInk, sampleParts, sampleWords } from './OutputGrid.ts';
import { pageFileName, type NamedPage } from './pageFileName.ts';
import { nameApart, plainFileName } from './plainFileName.ts';

describe('names by patterns', () => {
  const page: NamedPage = {
    job: 'Night Tram — Zürich',
    page: 'page 1',
    number: 7,
    scene: 'Lamp/light',
    revision: 12,
    palette: 'scene',
    date: '2026-11-30',
  };
  test('put what is known in the place of words, in plain letters for every system', () => {
    const named = (fileName: string, over: Partial<NamedPage> = {}): string =>
      pageFileName({ fileName, colours: 'cmyk' }, { ...page, ...over });
    expect(named('{job}_{page}_flats')).toBe('night-tram-zurich_page-1_flats');
    expect(named('{number} {scene} {colours} {revision} {date}')).toBe('07-lamplight-cmyk-r12-2026-11-30');
    expect(named('../{page}')).toBe('page-1');
    // Scratch colours are told, whatever the pattern says.
    expect(named('{page}', { palette: 'scratch' })).toBe('page-1_scratch');
    expect(named('{page} {colours}', { palette: 'scratch' })).toBe('page-1-scratch');
    expect(plainFileName('日本')).toBe('page');
    expect(fillPattern('{name} {other}', { name: 'Coat' })).toBe('Coat {other}');
  });
  test('are refused with words nobody knows, and without one that tells them apart', () => {
    expect(patternProblem('{job}', ['job', 'page'], ['page'])).toBe('must hold one of {page}');
    expect(patternProblem('{page} {who}', ['job', 'page'], ['page'])).toBe('knows only {job}, {page}');
    expect(patternProblem('{page}', ['job', 'page'], ['page'])).toBeNull();
    const taken = new Set<string>();
    expect([nameApart('a', taken), nameApart('a', taken), nameApart('a', taken)]).toEqual(['a', 'a-2', 'a-3']);
  });
});

describe('the delivery rules of a job', () => {
  test('are the first ones until one is changed, and then all of them are kept', () => {
    const sheet = readCastSheet(new Map());
    expect(sheet.deliveries).toBe(FIRST_DELIVERIES);
    const edits = editDelivery(sheet, 'printer', { ...sheet.deliveries[1]!, dpi: 600 });
    edits.forEach(checkCastEdit);
    const kept = readCastSheet(applyEdits(new Map(), edits).records);
    expect(kept.deliveries.map(({ id, dpi }) => [id, dpi])).toEqual([
      ['colourist', null],
      ['printer', 600],
      ['proof', null],
      ['archive', null],
    ]);
    expect(editDelivery(kept, 'proof', null)).toEqual([{ key: 'delivery/proof', value: null }]);
    expect(editDelivery(sheet, 'proof', null).map(({ key }) => key)).not.toContain('delivery/proof');
  });
  test.each([
    [{ format: 'psx' }, /format/],
    [{ fileName: '{job}' }, /must hold one of \{page\}, \{number\}/],
    [{ layerName: '{part}' }, /knows only \{name\}, \{group\}, \{number\}/],
    [{ dpi: 5 }, /from 36 to 2400/],
    [{ inkBits: 4 }, /inkBits/],
    [{ name: '' }, /name/],
    [{ more: 1 }, /is not known/],
  ])('are refused with %j', (over, why) => {
    const value = { ...NEW_DELIVERY, name: 'Test', order: 0, ...over };
    expect(() => checkCastEdit({ key: 'delivery/x', value: value as never })).toThrow(why);
  });
  test('let layers run under each other where they lie in front of each other', () => {
    const may = (over: Partial<DeliveryRule>): boolean => canRunUnder({ ...FIRST_DELIVERIES[0]!, ...over });
    expect(may({})).toBe(true);
    expect([may({ layers: 'single' }), may({ layers: 'panel' }), may({ layerOrder: 'name' }), may({ format: 'svg' })]).toEqual([false, false, false, false]); // prettier-ignore
  });
});

describe('another size', () => {
  const parts: PartRaster = {
    width: 4,
    height: 2,
    data: Uint16Array.of(1, 1, 2, 2, 0, 1, 2, 2),
    box: Int32Array.of(0, 0, 2, 2, 2, 0, 4, 2),
    areaPx: Uint32Array.of(3, 4),
  };
  test('has flats by the nearest pixel, with their boxes and areas', () => {
    const grown = sampleParts(parts, outputGrid(4, 2, null, 2));
    expect([grown.width, grown.height]).toEqual([8, 4]);
    expect([...grown.data.subarray(0, 8)]).toEqual([1, 1, 1, 1, 2, 2, 2, 2]);
    expect([...grown.areaPx]).toEqual([12, 16]);
    expect([...grown.box]).toEqual([0, 0, 4, 4, 4, 0, 8, 4]);
    const shrunk = sampleParts(parts, outputGrid(4, 2, null, 0.5));
    expect([...shrunk.data]).toEqual([1, 2]);
  });
  test('is cut to a box, with nothing where the box reaches beyond the page', () => {
    const cut = sampleParts(parts, outputGrid(4, 2, [1, -1, 3, 1], 1));
    expect([...cut.data]).toEqual([0, 0, 1, 2]);
    expect([...sampleWords(Uint32Array.of(7, 8, 9, 6, 5, 4, 3, 2), 4, outputGrid(4, 2, [3, 1, 6, 2], 1))]).toEqual([2, 0, 0]); // prettier-ignore
  });
  test('has ink by the mean where it gets smaller, and between pixels where it gets larger', () => {
    const ink = Uint8Array.of(0, 255, 255, 255, 0, 255, 0, 0);
    expect([...sampleInk(ink, 4, 2, outputGrid(4, 2, null, 0.5))]).toEqual([128, 128]);
    expect([...sampleInk(ink, 4, 2, outputGrid(4, 2, null, 1))]).toEqual([...ink]);
    const larger = sampleInk(Uint8Array.of(0, 255), 2, 1, outputGrid(2, 1, null, 2));
    expect([...larger.subarray(1, 3)]).toEqual([64, 191]);
  });
});
