import { describe, expect, test } from '@jest/globals';
import { DEFAULT_PREP } from '../model/PageDocument.ts';
import { randomArt, seeded, strokes } from '../tests/textGrid.ts';
import { openSurvey, surveyPage } from './surveyPage.ts';
import type { Survey } from '../model/Survey.ts';

/** Everything a reader of a survey can see, with regions instead of cells, whose numbers are nobody's business. */
function seenOf({ regions, closures, field, graph, cellCount }: Survey): unknown {
  const cellsInOrder = Array.from({ length: cellCount }, (_, c) => c).sort(
    (a, b) => graph.cells.first[a]! - graph.cells.first[b]!,
  );
  const { areaPx, box, first } = graph.cells;
  return {
    regionAt: hashOf(field, regions.ofCell),
    areaPx: [...regions.areaPx],
    box: [...regions.box],
    anchor: [...regions.anchor],
    crumbs: regions.crumbs,
    closures,
    cells: cellsInOrder.map((c) => [
      first[c],
      areaPx[c],
      [...box.subarray(c * 4, c * 4 + 4)],
      graph.anchor[c],
      graph.facts.radiusPx[c],
    ]),
  };
}

/** One number for the region of every pixel. */
function hashOf(field: Int32Array, ofCell: Int32Array): number {
  const multiply = Math.imul;
  let hash = 0;
  for (let at = 0; at < field.length; at++) {
    const value = field[at]!;
    hash = multiply(hash, 31) + (value < 0 ? value : ofCell[value]!);
    hash |= 0;
  }
  return hash;
}

describe('closures drawn by hand one after another', () => {
  test.each([1, 2, 3, 4, 5])('come to what the page read anew with all of them is (seed %i)', (seed) => {
    const random = seeded(seed);
    const art = randomArt(seed, 260, 220);
    const open = openSurvey(art, DEFAULT_PREP);
    let drawn: string[] = [];
    for (let step = 0; step < 6; step++) {
      const point = (): string => `${Math.floor(random() * 260)},${Math.floor(random() * 220)}`;
      const found = open.survey.closures.filter((one) => one.kind !== 'hand');
      const pick = random();
      // Anywhere, often right across a closure that was found; or one of those drawn goes.
      if (pick < 0.3 && drawn.length > 0) drawn = drawn.filter((_, k) => k !== Math.floor(random() * drawn.length));
      else if (pick < 0.5 && found.length > 0) {
        const { from, to } = found[Math.floor(random() * found.length)]!;
        drawn = [...drawn, `${from[0]},${to[1]}-${to[0]},${from[1]}`];
      } else drawn = [...drawn, `${point()}-${point()}`];
      drawn = [...new Set(drawn)].sort();
      open.cut(drawn, open.survey.maxGapPx, new Map());
      expect(seenOf(open.survey)).toEqual(seenOf(surveyPage(art, DEFAULT_PREP, { drawn })));
    }
  });

  test('change no cell but those they touch', () => {
    const art = strokes(400, 300, 6, [
      [20, 20, 380, 20],
      [380, 20, 380, 280],
      [380, 280, 20, 280],
      [20, 280, 20, 20],
      [200, 20, 200, 280],
    ]);
    const open = openSurvey(art, DEFAULT_PREP);
    const changed = open.cut(['20,150-200,150'], open.survey.maxGapPx, new Map());
    const [left, top, right, bottom] = changed!;
    expect([left, right]).toEqual([23, 198]);
    expect(bottom - top).toBeLessThan(140);
  });
});
