import { describe, expect, test } from '@jest/globals';
import { regionAt } from '../fills/assignRegions.ts';
import { contourGroups } from '../fills/silhouetteInLoop.ts';
import { DEFAULT_PREP } from '../model/PageDocument.ts';
import { surveyPage } from '../survey/surveyPage.ts';
import { randomArt, strokes } from '../tests/textGrid.ts';
import { renderParts } from '../trap/renderParts.ts';
import { middleTrap } from '../trap/RegionTrap.ts';
import { checkFlats } from './checkFlats.ts';
import { FlatsBuilder } from './FlatsBuilder.ts';
import { HALF, type CheckedFlats } from './FlatsColours.ts';
import { DEFAULT_CHECK_RULES, type CheckRules, type Finding } from '../model/Finding.ts';
import { labelBlobs } from './labelBlobs.ts';
import { wholeFileFindings } from './wholeFileFindings.ts';

const [WIDTH, HEIGHT] = [300, 200];
/** Two rooms side by side with a wall between them, in lines six px wide. */
const ROOMS = surveyPage(
  strokes(WIDTH, HEIGHT, 6, [
    [40, 40, 260, 40],
    [260, 37, 260, 160],
    [263, 160, 40, 160],
    [40, 163, 40, 37],
    [150, 40, 150, 160],
  ]),
  DEFAULT_PREP,
);
const [SKY, COAT, HAT] = [0xaaccee, 0x3366aa, 0xcc4422];
const RGB = [SKY, COAT, HAT];
const PALETTE = new Set(RGB);

function flatsOf(survey = ROOMS, numbers = roomNumbers()): CheckedFlats & { readonly rgb: number[] } {
  const { data, width, height } = renderParts(survey, numbers, 3, middleTrap(survey.regions.count));
  return { width, height, data, rgb: [...RGB] };
}

function roomNumbers(): Int32Array {
  const numbers = new Int32Array(ROOMS.regions.count).fill(0);
  numbers[regionAt(ROOMS, 90, 100)!] = 1;
  numbers[regionAt(ROOMS, 200, 100)!] = 2;
  return numbers;
}

const check = (
  flats: CheckedFlats,
  palette: ReadonlySet<number> | null = PALETTE,
  rules: Partial<CheckRules> = {},
  page = ROOMS,
): Finding[] => checkFlats({ page, flats, regionOfCell: contourGroups(page, 2).ofCell, palette, rules });

function planted(plant: (set: (x0: number, y0: number, x1: number, y1: number, value: number) => void) => void) {
  const flats = flatsOf();
  plant((x0, y0, x1, y1, value) => {
    for (let y = y0; y < y1; y++) flats.data.fill(value, y * WIDTH + x0, y * WIDTH + x1);
  });
  return flats;
}
const briefly = (findings: readonly Finding[]): unknown[] =>
  findings.map(({ kind, x, y, width, height, areaPx }) => [kind, x, y, width, height, areaPx]);

describe('flats as they are rendered', () => {
  test('have no findings, with a palette or without', () => {
    expect(check(flatsOf())).toEqual([]);
    expect(check(flatsOf(), null)).toEqual([]);
  });

  test.each([1, 2, 3, 4, 5, 6])('of random drawing %i have none either', (seed) => {
    const survey = surveyPage(randomArt(seed, 220, 180), DEFAULT_PREP);
    const numbers = Int32Array.from({ length: survey.regions.count }, (_, region) => (region * 7 + seed) % 3);
    expect(briefly(check(flatsOf(survey, numbers), PALETTE, {}, survey))).toEqual([]);
  });
});

describe('a planted fault is found once, where it is', () => {
  test.each<
    [string, (set: (x0: number, y0: number, x1: number, y1: number, value: number) => void) => void, unknown[]]
  >([
    ['half-transparent pixels', (set) => set(80, 80, 84, 82, HALF), ['soft', 80, 80, 4, 2, 8]],
    ['a corner without colour', (set) => set(44, 44, 50, 48, 0), ['missed-corner', 44, 44, 6, 4, 24]],
    ['a slip of the pen', (set) => set(90, 90, 92, 92, 3), ['stray', 90, 90, 2, 2, 4]],
    ['a thin strip of another colour', (set) => set(80, 90, 100, 92, 1), ['sliver', 80, 90, 20, 2, 40]],
    ['a colour through the line', (set) => set(148, 90, 156, 100, 2), ['show-through', 154, 90, 2, 10, 20]],
  ])('%s', (_, plant, expected) => {
    const found = briefly(check(planted(plant)));
    expect(found).toHaveLength(1);
    // Ink has edges of its own: the place may lie a px further in.
    const [kind, ...numbers] = found[0] as [string, ...number[]];
    expect(kind).toBe(expected[0]);
    numbers.forEach((number, k) => expect(Math.abs(number - (expected[k + 1] as number))).toBeLessThanOrEqual(k === 4 ? 12 : 2)); // prettier-ignore
  });

  test('an empty region, and one that is to be left empty', () => {
    const numbers = roomNumbers();
    numbers[regionAt(ROOMS, 200, 100)!] = -1;
    const flats = flatsOf(ROOMS, numbers);
    const found = check(flats);
    expect(found).toMatchObject([{ kind: 'empty', expectedRgb: -1 }]);
    expect(found[0]!.areaPx).toBeGreaterThan(10_000);
    const regionOfCell = contourGroups(ROOMS, 2).ofCell;
    const leftEmpty = new Uint8Array(ROOMS.cellCount);
    leftEmpty[regionOfCell[ROOMS.field[100 * WIDTH + 200]!]!] = 1;
    expect(checkFlats({ page: ROOMS, flats, regionOfCell, palette: PALETTE, leftEmpty })).toEqual([]);
  });

  test('a soft edge without colour', () => {
    const flats = flatsOf();
    const soft: number[] = [];
    for (let y = 80; y < 100; y++)
      for (let x = 140; x < 150; x++) {
        const at = y * WIDTH + x;
        if (ROOMS.inkAlpha[at]! > 0 && ROOMS.inkAlpha[at]! < 255) soft.push(at);
      }
    for (const at of soft) flats.data[at] = 0;
    expect(soft.length).toBeGreaterThan(0);
    expect(briefly(check(flats))).toMatchObject([['halo', expect.anything(), 80, expect.anything(), 20, soft.length]]);
  });

  test('colours: none of the palette, one digit beside another, a blend of two', () => {
    const off = planted((set) => set(60, 60, 80, 80, 4));
    off.rgb.push(0x00ff00);
    expect(check(off)).toMatchObject([{ kind: 'off-palette', x: 60, y: 60, areaPx: 400, rgb: 0x00ff00 }]);
    // Without a palette a colour is as good as another.
    expect(check(off, null)).toEqual([]);
    const near = planted((set) => set(60, 60, 80, 80, 4));
    near.rgb.push(0x3366ab);
    expect(check(near, null)).toMatchObject([{ kind: 'near-colours', areaPx: 400, rgb: 0x3366ab, expectedRgb: COAT }]);
    expect(check(near, null, { nearColours: 0.1 })).toEqual([]);
    expect(check(near, null, { off: ['near-colours'] })).toEqual([]);
    const blend = planted((set) => {
      set(60, 60, 80, 80, 3);
      set(60, 80, 80, 81, 4);
    });
    blend.rgb.push(0x805566);
    expect(check(blend)).toMatchObject([{ kind: 'soft', x: 60, y: 80, width: 20, height: 1 }]);
    expect(check(blend, null)).toMatchObject([{ kind: 'soft', x: 60, y: 80, width: 20, height: 1 }]);
  });

  test('flats that lie beside the ink', () => {
    const { data, rgb } = flatsOf();
    const shifted = new Uint16Array(data.length);
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) shifted[y * WIDTH + x] = data[Math.max(0, y - 2) * WIDTH + Math.max(0, x - 5)]!;
    const found = check({ width: WIDTH, height: HEIGHT, data: shifted, rgb });
    const register = found.filter(({ kind }) => kind === 'register');
    expect(register).toHaveLength(1);
    expect(register[0]!.message).toMatch(/move them [456] px to the left and [123] px up/);
  });
});

test('a place is called by the first kind that fits, and what the rules leave out is not looked for', () => {
  const flats = planted((set) => {
    set(44, 44, 50, 48, 0);
    set(90, 90, 92, 92, 3);
  });
  expect(check(flats).map(({ kind }) => kind)).toEqual(['missed-corner', 'stray']);
  expect(check(flats, PALETTE, { off: ['stray'] }).map(({ kind }) => kind)).toEqual(['missed-corner']);
});

test('pixels of one class hang together at corners where they are to', () => {
  const rows = ['a.a', '.a.', 'bba'];
  const classesOf = (y: number, classes: Float64Array): void =>
    [...rows[y]!].forEach((one, x) => void (classes[x] = '.ab'.indexOf(one)));
  const blobs = labelBlobs(3, 3, classesOf, true);
  expect([...blobs.of]).toEqual([1, 2]);
  expect([[...blobs.areaPx], [...blobs.box]]).toEqual([[4, 2], [0, 0, 3, 3, 0, 2, 2, 3]]); // prettier-ignore
  expect(labelBlobs(3, 3, classesOf, false).count).toBe(5);
  expect([...labelBlobs(3, 3, classesOf, false).edgePx]).toEqual([4, 4, 4, 6, 4]);
});

test('layers are laid over each other, the topmost first; white is paper where nothing can be transparent', () => {
  const builder = new FlatsBuilder(2, 2);
  const picture = (words: number[]) => ({ width: 2, height: 1, data: new Uint8Array(Uint32Array.from(words).buffer) });
  builder.add({ x: 0, y: 0, ...picture([0xff0000ff, 0x80ff0000]) }, false);
  builder.add({ x: 0, y: 1, ...picture([0xffffffff, 0xff00ff00]) }, true);
  builder.add({ x: -1, y: 0, ...picture([0xff00ff00, 0xff00ff00]) }, false);
  const { data, rgb } = builder.build();
  expect([[...data], rgb]).toEqual([
    [1, HALF, 0, 2],
    [0xff0000, 0x00ff00],
  ]);
});

test('resolution and colour mode are what the rules ask for', () => {
  const rules = { ...DEFAULT_CHECK_RULES, minDpi: 600, mode: 'cmyk' } as const;
  const file = { width: 10, height: 10, dpi: 300, mode: 'RGB + transparency' };
  expect(wholeFileFindings(file, rules).map(({ kind }) => kind)).toEqual(['resolution', 'mode']);
  expect(wholeFileFindings({ ...file, dpi: 600, mode: 'CMYK' }, rules)).toEqual([]);
  expect(wholeFileFindings({ ...file, dpi: null }, { ...rules, off: ['mode'] })[0]!.message).toMatch(/no resolution/);
});
