import { describe, expect, test } from '@jest/globals';
import { darkenOklab, oklabOf, rgbOfHsl, rgbOfOklab } from '../colour/oklab.ts';
import type { HoldColour, LineEdits, LineSelect } from '../model/Holds.ts';
import { checkRecord } from '../model/checkRecord.ts';
import { holdRuleOfFile } from '../model/checkHolds.ts';
import { DEFAULT_PREP, NO_GAPS_PREP } from '../model/PageDocument.ts';
import { regionAt } from '../fills/assignRegions.ts';
import { openSurvey } from '../survey/surveyPage.ts';
import { randomArt, strokes } from '../tests/textGrid.ts';
import { findLinePieces } from './findLinePieces.ts';
import { holdInputOf, type GroupOfLines } from './holdInputOf.ts';
import { holdRgba, lineRgba } from './holdRaster.ts';
import { findLowContrast, measureContrast } from './measureContrast.ts';
import { meanAround } from './meanAround.ts';
import { paintHolds, type PaintedHolds } from './paintHolds.ts';
import { findPieceSides } from './PieceSides.ts';
import { pieceNear, selectLines } from './selectLines.ts';

/** Two rooms side by side, a stroke in the left one, in lines six px wide. */
const ROOMS = strokes(300, 200, 6, [
  [40, 40, 260, 40],
  [260, 37, 260, 160],
  [263, 160, 40, 160],
  [40, 163, 40, 37],
  [150, 40, 150, 160],
  [70, 100, 110, 100],
]);
const GROUPS: readonly GroupOfLines[] = [
  { id: 'ana', kind: 'character', parts: [{ id: 'coat', rgb: 0x3366aa, empty: false }, { id: 'hat', rgb: 0xcc4422, empty: false }] }, // prettier-ignore
  { id: 'set', kind: 'set', parts: [{ id: 'sky', rgb: 0xaaccee, empty: false }] },
];

function roomsWith(edits?: LineEdits) {
  const page = openSurvey(ROOMS, NO_GAPS_PREP);
  const { survey } = page;
  const pieces = findLinePieces(page.base, survey, edits);
  const partOfRegion = Array<string | null>(survey.regions.count).fill(null);
  for (const [x, y, part] of [[90, 70, 'coat'], [200, 100, 'hat'], [10, 10, 'sky']] as const) partOfRegion[regionAt(survey, x, y)!] = part; // prettier-ignore
  const data = new Uint16Array(300 * 200);
  for (let y = 45; y < 155; y++) data.fill(1, y * 300 + 45, y * 300 + 145).fill(2, y * 300 + 155, y * 300 + 255);
  const flats = () => ({ width: 300, height: 200, data, rgb: [0x3366aa, 0xcc4422] });
  const input = holdInputOf({ pieces, sides: findPieceSides(pieces, survey), groups: GROUPS, partOfRegion, flats });
  return { survey, pieces, input };
}
const rooms = roomsWith();
const paint = (...rules: [LineSelect, HoldColour][]): PaintedHolds =>
  paintHolds(rooms.input, rules.map(([lines, colour]) => ({ lines, colour }))); // prettier-ignore
const select = (lines: LineSelect): number[] => selectLines(rooms.pieces, rooms.input.sides, rooms.input.parts, lines);
const at = (x: number, y: number): number => pieceNear(rooms.pieces, x, y);

describe('line pieces', () => {
  test('part a drawing at its junctions, and nowhere else', () => {
    // Left and right outline, the wall between, the stroke.
    expect(rooms.pieces.count).toBe(4);
    const wall = at(150, 100);
    // The outermost px are less than half covered.
    expect(rooms.pieces.widthPx[wall]).toBeCloseTo(5, 0);
    expect(rooms.pieces.lengthPx[wall]).toBeGreaterThan(100);
    expect(new Set([at(40, 100), at(260, 100), wall, at(90, 100)]).size).toBe(4);
    expect(at(40, 100)).toBe(at(60, 40));
  });

  test('take every pixel of ink once, every bit of it has one, and each hangs together', () => {
    for (const seed of [2, 5, 11]) {
      const page = openSurvey(randomArt(seed, 120, 100), DEFAULT_PREP);
      const { field } = page.survey;
      const pieces = findLinePieces(page.base, page.survey);
      const area = new Uint32Array(pieces.count);
      for (let k = 0; k < field.length; k++) {
        if (field[k]! >= 0) continue;
        if (pieces.ofPixel[k]! <= 0) throw new Error(`seed ${seed}: ink pixel ${k} has no line`);
        area[pieces.ofPixel[k]! - 1]!++;
      }
      expect([...area]).toEqual([...pieces.areaPx]);
      expect(area.every((px) => px > 0)).toBe(true);
      pieces.at.forEach((where, piece) => expect(pieces.ofPixel[where]).toBe(piece + 1));
      expect(findLinePieces(page.base, page.survey)).toEqual(pieces);
    }
  });

  test('go two px past the ink', () => {
    const { ofPixel } = rooms.pieces;
    const row = [...ofPixel.subarray(100 * 300 + 140, 100 * 300 + 162)]
      .map((piece) => (piece > 0 ? '#' : '.'))
      .join('');
    const { field } = rooms.survey;
    const ink = [...field.subarray(100 * 300 + 140, 100 * 300 + 162)].filter((value) => value < 0).length;
    expect(row.match(/#+/)![0].length).toBe(ink + 4);
  });

  test('can be cut and joined by hand', () => {
    const cut = roomsWith({ cuts: [[150, 90]], joins: [] });
    expect(cut.pieces.count).toBe(5);
    expect(pieceNear(cut.pieces, 150, 60)).not.toBe(pieceNear(cut.pieces, 150, 130));
    const joined = roomsWith({ cuts: [], joins: [[[150, 100], [40, 100]]] }); // prettier-ignore
    expect(joined.pieces.count).toBe(3);
    expect(pieceNear(joined.pieces, 150, 100)).toBe(pieceNear(joined.pieces, 40, 100));
    // What lies nowhere near a line does nothing.
    expect(roomsWith({ cuts: [[280, 190]], joins: [] }).pieces.count).toBe(4);
  });

  test('set solid blacks apart, their corners too, from the line that runs into them', () => {
    const wedge = strokes(300, 200, 5, [[20, 100, 150, 100], [20, 30, 280, 30], [20, 170, 280, 170]]); // prettier-ignore
    for (let y = 50; y < 150; y++) {
      // A block with a pointed end.
      for (let x = 150; x < 285 - Math.abs(y - 100) * 0.9; x++) wedge.data[y * 300 + x] = 0;
    }
    const page = openSurvey(wedge, NO_GAPS_PREP);
    const pieces = findLinePieces(page.base, page.survey);
    const at = (x: number, y: number): number => pieces.isSolid[pieces.ofPixel[y * 300 + x]! - 1]!;
    expect([at(190, 100), at(155, 55), at(155, 145), at(250, 100)]).toEqual([1, 1, 1, 1]);
    expect([at(60, 100), at(150, 30)]).toEqual([0, 0]);
  });

  test('know spurs from lines: a barb shorter than the line is wide belongs to it', () => {
    const barbed = { ...ROOMS, data: ROOMS.data.map((grey, k) => Math.min(grey, strokes(300, 200, 4, [[205, 40, 205, 47]]).data[k]!)) }; // prettier-ignore
    const page = openSurvey(barbed, NO_GAPS_PREP);
    expect(findLinePieces(page.base, page.survey).count).toBe(4);
  });
});

describe('choosing', () => {
  test.each<[string, LineSelect, [number, number][]]>([
    ['all', { all: true }, [[40, 100], [150, 100], [90, 100], [260, 100]]],
    ['inner lines of a part', { inside: 'coat' }, [[90, 100]]],
    ['a border', { between: ['hat', 'coat'] }, [[150, 100]]],
    ['what has a part on one side', { contour: 'coat' }, [[40, 100], [150, 100]]],
    ['contours of a character', { contourOf: 'ana' }, [[40, 100], [260, 100]]],
    ['all but contours', { but: 'contours' }, [[150, 100], [90, 100]]],
    ['points', { at: [[152, 90], [151, 120]] }, [[150, 100]]],
    ['an outline', { within: [[50, 80], [130, 80], [130, 120], [50, 120]] }, [[90, 100]]],
    ['thin lines', { thinnerThanPx: 3 }, []],
    ['wide lines', { widerThanPx: 3 }, [[40, 100], [150, 100], [90, 100], [260, 100]]],
  ])('takes %s', (_, lines, expected) => {
    expect(select(lines)).toEqual(expected.map(([x, y]) => at(x, y)).sort((a, b) => a - b));
  }); // prettier-ignore
});

test('what was chosen by hand is found again in a revised file where the line moved a little, and not where it is gone', () => {
  const select = (lines: Parameters<typeof strokes>[3]): number => {
    const page = openSurvey(strokes(300, 200, 6, lines), NO_GAPS_PREP);
    const pieces = findLinePieces(page.base, page.survey);
    const input = holdInputOf({ pieces, sides: findPieceSides(pieces, page.survey), groups: [], partOfRegion: Array<null>(page.survey.regions.count).fill(null), flats: rooms.input.flats }); // prettier-ignore
    return selectLines(pieces, input.sides, input.parts, { at: [[90, 100]] }).length;
  };
  const far: [number, number, number, number] = [200, 20, 200, 180];
  expect(select([far, [70, 100, 110, 100]])).toBe(1);
  expect(select([far, [70, 112, 110, 112]])).toBe(1);
  expect(select([far, [70, 140, 110, 140]])).toBe(0);
  expect(select([far])).toBe(0);
});

describe('colours', () => {
  test('later rules win, and what none takes is black', () => {
    const { rgb, ruleOf, counts, paint: painted } = paint([{ all: true }, '#808080'], [{ inside: 'coat' }, '#ff0000']);
    expect(rgb[at(90, 100)]).toBe(0xff0000);
    expect(rgb[at(150, 100)]).toBe(0x808080);
    expect([ruleOf[at(90, 100)], counts]).toEqual([1, [4, 1]]);
    expect(painted.words[at(90, 100) + 1]).toBe(0xff0000ff);
    expect(paint([{ inside: 'coat' }, '#ff0000']).rgb[at(150, 100)]).toBe(-1);
  });

  test('are darkened from the part that is named, else from the mean of the sides', () => {
    const named = paint([{ inside: 'coat' }, { darken: 0.35 }]).rgb[at(90, 100)]!;
    const [from, to] = [oklabOf(0x3366aa), oklabOf(named)];
    expect(to.l).toBeCloseTo(from.l * 0.65, 2);
    expect(to.b / to.a).toBeCloseTo(from.b / from.a, 0);
    const both = paint([{ between: ['coat', 'hat'] }, { darken: 0 }]).rgb[at(150, 100)]!;
    expect(oklabOf(both).l).toBeCloseTo((oklabOf(0x3366aa).l + oklabOf(0xcc4422).l) / 2, 2);
  });

  test('differ by scene where a rule says so', () => {
    const scenes = { ids: ['day', 'night'], ofRegion: new Int32Array(rooms.survey.regions.count).fill(1) };
    const partOfRegion = rooms.input.parts.numberOf('coat') === undefined ? [] : Array<string>(rooms.survey.regions.count).fill('coat'); // prettier-ignore
    const { pieces, survey } = rooms;
    const input = holdInputOf({ pieces, sides: findPieceSides(pieces, survey), groups: GROUPS, partOfRegion, scenes, flats: rooms.input.flats }); // prettier-ignore
    const rule = { lines: { all: true } as const, colour: '#112233', inScene: { night: '#445566' } };
    expect(paintHolds(input, [rule]).rgb[at(150, 100)]).toBe(0x445566);
    expect(paintHolds(rooms.input, [rule]).rgb[at(150, 100)]).toBe(0x112233);
    // The part is darkened from its colour in that scene.
    const night = GROUPS.map((group) => ({
      ...group,
      parts: group.parts.map((part) => ({ ...part, furtherRgb: [0x808080] })),
    }));
    const dark = holdInputOf({ pieces, sides: findPieceSides(pieces, survey), groups: night, partOfRegion, scenes, flats: rooms.input.flats }); // prettier-ignore
    expect(paintHolds(dark, [{ lines: { all: true }, colour: { darken: 0 } }]).rgb[at(150, 100)]).toBe(0x808080);
  });

  test('vary over the page along a gradient, constant beyond its ends', () => {
    const { paint: painted } = paint([{ all: true }, { gradient: [['#000000', [100, 0]], ['#ffffff', [200, 0]]] }]); // prettier-ignore
    const rgba = holdRgba({ width: 300, height: 200 }, painted);
    const grey = (x: number): number => rgba[(40 * 300 + x) * 4]!;
    expect([grey(50), grey(99), grey(201), grey(240)]).toEqual([0, 0, 255, 255]);
    expect(grey(150)).toBe(rgbOfOklab({ l: 0.5, a: 0, b: 0 }) & 255);
    expect(rgba[(100 * 300 + 10) * 4 + 3]).toBe(0);
  });

  test('run along a line on its way, whichever way it winds, from its left end', () => {
    // The left outline: from the wall's foot round the left corner to its head; its box alone would not tell the ends apart.
    const { paint: painted, ruleOf } = paint([{ at: [[40, 100]] }, { along: ['#000000', '#ffffff'] }]);
    expect(ruleOf[at(40, 100)]).toBe(0);
    const rgba = holdRgba({ width: 300, height: 200 }, painted);
    const grey = (x: number, y: number): number => rgba[(y * 300 + x) * 4]!;
    const way = [grey(140, 40), grey(60, 40), grey(40, 60), grey(40, 140), grey(60, 160), grey(140, 160)];
    const rising = way[0]! < way.at(-1)! ? way : [...way].reverse();
    expect([...rising].sort((a, b) => a - b)).toEqual(rising);
    expect(rising[0]).toBeLessThan(20);
    expect(rising.at(-1)).toBeGreaterThan(220);
    // Half way round is half way between the colours.
    expect(grey(40, 100)).toBeGreaterThan(60);
    expect(grey(40, 100)).toBeLessThan(140);
  });

  test('are touched up by a hard brush that colours ink alone, later strokes over earlier ones', () => {
    const rule = { lines: { at: [[90, 100]] } as LineSelect, colour: '#102030' };
    const stroke = (stamp: number, colour: string | null, from: number, to: number) => ({ colour, sizePx: 9, points: [[from, 100], [to, 100]] as const, stamp }); // prettier-ignore
    const plain = paintHolds(rooms.input, [rule]);
    const touched = paintHolds(rooms.input, [rule], [stroke(2, null, 90, 100), stroke(1, '#ff0000', 80, 200)]);
    const rgba = holdRgba({ width: 300, height: 200 }, touched.paint);
    const colour = (x: number): string => Buffer.from(rgba.subarray((100 * 300 + x) * 4, (100 * 300 + x) * 4 + 4)).toString('hex'); // prettier-ignore
    expect(colour(82)).toBe('ff0000ff');
    // Wiped out again: what the rule says.
    expect(colour(95)).toBe('102030ff');
    // The wall had no colour; the brush went across it. Paper between the lines stays as it is.
    expect(colour(150)).toBe('ff0000ff');
    expect(colour(130)).toBe('00000000');
    // What stands apart is measured with what was painted.
    expect(touched.rgb[at(90, 100)]! >>> 16).toBeGreaterThan(plain.rgb[at(90, 100)]! >>> 16);
    expect(touched.rgb[at(150, 100)]).toBeGreaterThan(0);
    expect(plain.rgb[at(150, 100)]).toBe(-1);
  });

  test('of the surroundings are the mean of what is coloured within the radius', () => {
    const { data, rgb, ...size } = rooms.input.flats();
    const mean = meanAround({ data, rgb, ...size }, 9);
    for (const [x, y] of [
      [148, 100],
      [44, 44],
      [262, 100],
    ] as const) {
      // prettier-ignore
      let [red, count] = [0, 0];
      for (let py = y - 9; py <= y + 9; py++) {
        for (let px = x - 9; px <= x + 9; px++) {
          const value = data[py * 300 + px]!;
          if ((px - x) ** 2 + (py - y) ** 2 > 81 || value === 0) continue;
          red += rgb[value - 1]! >>> 16;
          count++;
        }
      }
      expect(Math.abs((mean(x, y) >>> 16) - red / count)).toBeLessThanOrEqual(0.5);
    }
    expect(mean(10, 10)).toBe(-1);
  });

  test('come back from OKLab and HSL as they are', () => {
    for (const rgb of [0, 0xffffff, 0x3366aa, 0xcc4422, 0x00ff00, 0x123456, 0xff00ff])
      expect(rgbOfOklab(oklabOf(rgb))).toBe(rgb);
    expect([rgbOfHsl(0, 1, 0.5), rgbOfHsl(120, 1, 0.25), rgbOfHsl(-120, 0, 0.5)]).toEqual([
      0xff0000, 0x008000, 0x808080,
    ]);
    // Out of the gamut chroma goes, hue and lightness stay.
    const dark = oklabOf(darkenOklab(oklabOf(0x0000ff), -0.6));
    expect(dark.l).toBeCloseTo(oklabOf(0x0000ff).l * 1.6, 1);
  });

  test('leave the alpha of the line art alone, pixel for pixel', () => {
    const { paint: painted } = paint([{ all: true }, '#2040c0']);
    const rgba = lineRgba({ width: 300, height: 200 }, rooms.survey.inkAlpha, painted);
    rooms.survey.inkAlpha.forEach((alpha, k) => {
      if (rgba[k * 4 + 3] !== alpha || (alpha > 0 && rgba[k * 4] !== 0x20)) throw new Error(`pixel ${k}`);
    });
  });
});

describe('contrast', () => {
  test('is measured to both sides, and a lightness is proposed that passes', () => {
    const painted = paint([{ inside: 'coat' }, '#3a6db0'], [{ between: ['coat', 'hat'] }, '#000000']);
    const { pieces, input } = rooms;
    const all = measureContrast(pieces, input.sides, painted, input.rgbOf);
    expect(all.map(({ piece }) => piece).sort()).toEqual([at(90, 100), at(150, 100)].sort());
    const low = findLowContrast(pieces, input.sides, input.parts, painted, input.rgbOf, {
      difference: 18,
      darkContours: false,
    });
    expect(low.map(({ piece }) => piece)).toEqual([at(90, 100)]);
    expect(low[0]!.difference[0]).toBeLessThan(18);
    const mended = paint([{ inside: 'coat' }, `#${low[0]!.proposed!.toString(16).padStart(6, '0')}`]);
    expect(
      findLowContrast(pieces, input.sides, input.parts, mended, input.rgbOf, { difference: 18, darkContours: false }),
    ).toEqual([]);
  });

  test('keeps contours darker than inner lines where the job says so', () => {
    const painted = paint([{ contourOf: 'ana' }, '#777777'], [{ inside: 'coat' }, '#101010']);
    const { pieces, input } = rooms;
    const low = findLowContrast(pieces, input.sides, input.parts, painted, input.rgbOf, {
      difference: 5,
      darkContours: true,
    });
    expect(low.map(({ piece }) => piece).sort()).toEqual([at(40, 100), at(260, 100)].sort());
  });
});

test.each([
  [{ lines: { within: [[1, 1], [2, 2]] }, colour: '#000000' }, /within.*3 to 5000 corners/],
  [{ lines: { all: true }, colour: 'blue' }, /colour.*#a0b1c2/],
  [{ lines: { all: true }, colour: { darken: 2 } }, /darken must be a number from 0 to 1/],
  [{ lines: { all: true, inside: 'x' }, colour: '#000000' }, /one of all, inside/],
  [{ lines: { some: 1 }, colour: '#000000' }, /one of all, inside/],
  [{ lines: { all: true } }, /colour/],
])('refuses %j', (rule, words) => {
  expect(() => checkRecord('rule', holdRuleOfFile, rule)).toThrow(words);
}); // prettier-ignore
