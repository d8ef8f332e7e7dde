import { describe, expect, test } from '@jest/globals';
import { coverOf, FINE_POINTS, type GuidedPage } from './coverOf.ts';

describe('what covers a key', () => {
  const [width, height] = [300, 200];
  // Two regions with a line between them; its px know their nearest paper.
  const [left, right] = [144, 152];
  const field = Int32Array.from({ length: width * height }, (_, p) => {
    const x = p % width;
    if (x < left) return 0;
    if (x >= right) return 1;
    return ~(p - x + (x - left < right - x ? left - 1 : right));
  });
  const page = {
    width,
    height,
    field,
    regions: { count: 2, ofCell: Int32Array.of(0, 1) },
    lineWidthPx: { median: 8 },
  } as unknown as GuidedPage;
  const guide = { width: 30, height: 20, rgb: new Uint8Array(30 * 20 * 3) };
  const place = (shiftX: number) => ({ scaleX: 0.1, scaleY: 0.1, shiftX, shiftY: 0 });

  test('is each region by its share, and how much of that is under its lines', () => {
    const { row, region, share, inked } = coverOf(page, guide, place(0), 10);
    expect([...region.subarray(row[0], row[1])]).toEqual([0]);
    // The px of the key from 140 to 150: four of ten are paper, four the first one's line, two the second one's.
    const at = row[14]!;
    expect([...region.subarray(at, row[15])]).toEqual([0, 1]);
    expect(share[at]!).toBeCloseTo(0.8, 9);
    expect(inked[at]!).toBeCloseTo(0.4, 9);
    expect(share[at + 1]!).toBeCloseTo(0.2, 9);
    expect(inked[at + 1]!).toBeCloseTo(0.2, 9);
  });

  test('is the same when what is plain is taken over from where the key lay before', () => {
    const before = coverOf(page, guide, place(0.4), 4);
    const anew = coverOf(page, guide, place(-0.3), FINE_POINTS);
    const taken = coverOf(page, guide, place(-0.3), FINE_POINTS, before);
    expect([...taken.row]).toEqual([...anew.row]);
    expect([...taken.region]).toEqual([...anew.region]);
    expect([...taken.inked]).toEqual([...anew.inked]);
    taken.share.forEach((share, k) => expect(share).toBeCloseTo(anew.share[k]!, 9));
    // It is not looked at: of a page that has become another since, nothing is seen there.
    const other = { ...page, field: new Int32Array(field.length).fill(1) };
    const kept = coverOf(other, guide, place(-0.3), FINE_POINTS, before);
    expect(kept.region[kept.row[5 * guide.width + 5]!]).toBe(0);
    expect(kept.region[kept.row[5 * guide.width + 14]!]).toBe(1);
  });
});
