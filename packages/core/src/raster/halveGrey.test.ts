import { describe, expect, test } from '@jest/globals';
import { doubleParts } from '../trap/doubleParts.ts';
import { renderParts } from '../trap/renderParts.ts';
import { NO_GAPS_PREP } from '../model/PageDocument.ts';
import { middleTrap } from '../trap/RegionTrap.ts';
import { surveyPage } from '../survey/surveyPage.ts';
import { textGrid } from '../tests/textGrid.ts';
import { halveGrey } from './halveGrey.ts';

describe('half size', () => {
  test('is the mean of every four pixels, with odd rims repeated', () => {
    const half = halveGrey({ width: 3, height: 3, data: Uint8Array.of(0, 4, 10, 8, 4, 20, 100, 100, 200) });
    expect(half).toEqual({ width: 2, height: 2, data: Uint8Array.of(4, 15, 100, 200) });
  });

  test('comes back as four pixels for each one, cut off at the page', () => {
    const survey = surveyPage(textGrid(['..#..', '..#..', '..#..']), { ...NO_GAPS_PREP, crumbLimitPx2: 0 });
    const small = renderParts(survey, Int32Array.of(0, 1), 2, middleTrap(2));
    const whole = doubleParts(small, 9, 6);
    for (let y = 0; y < 6; y++) {
      for (let x = 0; x < 9; x++) expect(whole.data[y * 9 + x]).toBe(small.data[(y >> 1) * 5 + (x >> 1)]);
    }
    expect([...whole.areaPx]).toEqual([36, 18]);
    expect([...whole.box]).toEqual([0, 0, 6, 6, 6, 0, 9, 6]);
    expect(() => doubleParts(small, 11, 6)).toThrow(RangeError);
  });
});
