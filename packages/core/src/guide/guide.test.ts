import { describe, expect, test } from '@jest/globals';
import { DEFAULT_PREP, NO_GAPS_PREP } from '../model/PageDocument.ts';
import { surveyPage } from '../survey/surveyPage.ts';
import type { Survey } from '../model/Survey.ts';
import { seeded, strokes } from '../tests/textGrid.ts';
import { type GuidePart, proposeFromGuide, readGuideInTurns } from './proposeFromGuide.ts';
import { type GuideRaster, registerGuide } from './register/registerGuide.ts';
import { splitByGuide } from './splitByGuide.ts';

type Line = [number, number, number, number];
/** A page of 12 rooms of uneven sizes. */
const XS = [20, 130, 300, 420, 580];
const YS = [20, 150, 260, 420];
const lines: Line[] = [...XS.map((x): Line => [x, YS[0]!, x, YS[3]!]), ...YS.map((y): Line => [XS[0]!, y, XS[4]!, y])];
const page = surveyPage(strokes(600, 440, 5, lines), NO_GAPS_PREP);
const PARTS: GuidePart[] = [
  { id: 'coat', rgb: 0x3f6f6b },
  { id: 'scarf', rgb: 0xe2b04a },
  { id: 'lining', rgb: 0xb8483e },
  { id: 'paper', rgb: 0xffffff },
];
const partAt = (region: number): GuidePart => PARTS[region === 0 ? 3 : (region * 7) % 3]!;

/** Taken out: in a test every look at a global costs much. */
const { floor, max, min, round } = Math;

/** The page painted by its regions, a quarter of its size or another part of it, averaged and shifted by page px. */
function keyOf(
  survey: Survey,
  dx: number,
  dy: number,
  colourOf = (region: number) => partAt(region).rgb,
  part = 4,
): GuideRaster {
  const [width, height] = [floor(survey.width / part), floor(survey.height / part)];
  const rgb = new Uint8Array(width * height * 3);
  for (let ky = 0; ky < height; ky++) {
    for (let kx = 0; kx < width; kx++) {
      let [red, green, blue] = [0, 0, 0];
      for (let k = 0; k < 36; k++) {
        const x = max(0, min(survey.width - 1, floor(kx * part) + (k % 6) - 1 - dx));
        const y = max(0, min(survey.height - 1, floor(ky * part) + floor(k / 6) - 1 - dy));
        let cell = survey.field[y * survey.width + x]!;
        if (cell < 0) cell = survey.field[~cell]!;
        const word = colourOf(survey.regions.ofCell[cell]!);
        red += word >> 16;
        green += (word >> 8) & 255;
        blue += word & 255;
      }
      rgb.set([red / 36, green / 36, blue / 36].map(round), (ky * width + kx) * 3);
    }
  }
  return { width, height, rgb };
}

describe('a key', () => {
  test('is laid where it fits, shifted as it may be', () => {
    for (const [dx, dy] of [
      [9, -6],
      [-12, 10],
    ] as const) {
      const { place, explained, elsewhere } = registerGuide(page, keyOf(page, dx, dy));
      // Where the page's middle comes to lie, in page px.
      const middle = (300 * place.scaleX + place.shiftX) / place.scaleX - 300;
      expect(Math.abs(middle - dx)).toBeLessThan(2.5);
      expect(Math.abs((220 * place.scaleY + place.shiftY) / place.scaleY - 220 - dy)).toBeLessThan(2.5);
      expect(explained).toBeGreaterThan(elsewhere + 0.1);
    }
  });

  test('tells what it knows before all is weighed, and all of it at the end', () => {
    const guide = keyOf(page, 6, -4);
    const { place } = registerGuide(page, guide);
    const turns = [...readGuideInTurns(page, guide, place, PARTS)];
    expect(turns.map(({ isWhole }) => isWhole)).toEqual([false, true]);
    for (const { proposals } of turns) expect(proposals).toHaveLength(page.regions.count);
    expect(turns[1]).toEqual({ ...proposeFromGuide(page, guide, place, PARTS), isWhole: true });
    expect([...readGuideInTurns(page, guide, place, [])]).toEqual([{ proposals: [], unknown: [], isWhole: true }]);
  });

  test('gives every region the part whose colour it shows', () => {
    const guide = keyOf(page, 6, -4);
    const { proposals, unknown } = proposeFromGuide(page, guide, registerGuide(page, guide).place, PARTS);
    expect(proposals.map(({ part }) => part)).toEqual(
      Array.from({ length: page.regions.count }, (_, region) => partAt(region).id),
    );
    expect(Math.min(...proposals.map((one) => one.confidence))).toBeGreaterThan(0.5);
    expect(unknown).toEqual([]);
  });

  test('nearly as large as the page is read as well, and known at a glance', () => {
    const guide = keyOf(page, 3, 2, undefined, 1.4);
    for (const { proposals } of readGuideInTurns(page, guide, registerGuide(page, guide).place, PARTS))
      for (const { region, part } of proposals) expect(part).toBe(partAt(region).id);
  });

  test('is read step by step, and left where that is asked for', () => {
    const guide = keyOf(page, 6, -4);
    const { place } = registerGuide(page, guide);
    const shares: number[] = [];
    const told = proposeFromGuide(page, guide, place, PARTS, (share) => shares.push(share));
    expect(told).toEqual(proposeFromGuide(page, guide, place, PARTS));
    expect(shares.length).toBeGreaterThan(1);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares[0]).toBeGreaterThan(0);
    expect(shares.at(-1)).toBeLessThanOrEqual(1);
    for (const last of [shares[0]!, shares.at(-1)!]) {
      const leave = (share: number): void => {
        if (share >= last) throw new Error('no longer wanted');
      };
      expect(() => proposeFromGuide(page, guide, place, PARTS, leave)).toThrow('no longer wanted');
    }
  });

  test('takes parts of one group where this is at home, where a small region shows too little to tell', () => {
    // Two halves, each with specks smaller than a px of the key, in colours that are nearly alike.
    const specks = [60, 100, 140, 460, 500, 540].map((x) => [x, 220] as const);
    const art = strokes(600, 440, 5, [
      [300, 0, 300, 440],
      ...specks.flatMap(([x, y]): Line[] => [
        [x - 5, y - 5, x + 6, y - 5],
        [x + 6, y - 5, x + 6, y + 6],
        [x + 6, y + 6, x - 5, y + 6],
        [x - 5, y + 6, x - 5, y - 5],
      ]),
    ]);
    const halves = surveyPage(art, { ...NO_GAPS_PREP, crumbLimitPx2: 4 });
    const parts: GuidePart[] = [
      { id: 'wren-coat', rgb: 0x3f6f6b, group: 'wren' },
      { id: 'wren-button', rgb: 0xe2b04a, group: 'wren' },
      { id: 'ilo-wing', rgb: 0xb98ea7, group: 'ilo' },
      { id: 'ilo-ring', rgb: 0xe6b44e, group: 'ilo' },
    ];
    const { width, regions } = halves;
    const isLeft = (region: number): boolean => regions.anchor[region]! % width < 300;
    const partOf = (region: number): number => (isLeft(region) ? 0 : 2) + (regions.areaPx[region]! < 400 ? 1 : 0);
    const guide = keyOf(halves, 0, 0, (region) => parts[partOf(region)]!.rgb);
    const place = { scaleX: 0.25, scaleY: 0.25, shiftX: 0, shiftY: 0 };
    const { proposals } = proposeFromGuide(halves, guide, place, parts);
    expect(proposals.map(({ part }) => part)).toEqual(proposals.map(({ region }) => parts[partOf(region)]!.id));
  });

  test('of another page explains nothing here', () => {
    const random = seeded(5);
    const { width, height } = keyOf(page, 0, 0);
    const rgb = new Uint8Array(width * height * 3);
    // Blots that have nothing to do with the rooms.
    for (let k = 0; k < 60; k++) {
      const [cx, cy, r, tone] = [random() * width, random() * height, 8 + random() * 14, random() * 255];
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++)
          if ((x - cx) ** 2 + (y - cy) ** 2 < r * r) rgb.fill(tone, (y * width + x) * 3, (y * width + x) * 3 + 3);
    }
    const { explained, elsewhere } = registerGuide(page, { width, height, rgb });
    expect(explained).toBeLessThan(elsewhere + 0.1);
  });

  test('names the colour of a small region that no part has, where two parts are as far from it', () => {
    const box = surveyPage(
      strokes(600, 440, 5, [
        [280, 200, 320, 200],
        [320, 200, 320, 240],
        [320, 240, 280, 240],
        [280, 240, 280, 200],
      ]),
      NO_GAPS_PREP,
    );
    const small = box.regions.areaPx.indexOf(Math.min(...box.regions.areaPx));
    const guide = keyOf(box, 0, 0, (region) => (region === small ? 0x7030d0 : 0x3f6f6b));
    const place = { scaleX: 0.25, scaleY: 0.25, shiftX: 0, shiftY: 0 };
    const twice = PARTS.flatMap((part) => [part, { ...part, id: `${part.id} too` }]);
    const { unknown } = proposeFromGuide(box, guide, place, twice);
    expect(unknown.map(({ regions }) => regions)).toEqual([[small]]);
  });

  test('names colours that no part has', () => {
    const guide = keyOf(page, 0, 0, (region) => (region === 4 ? 0x7030d0 : partAt(region).rgb));
    const { unknown } = proposeFromGuide(page, guide, registerGuide(page, guide).place, PARTS);
    expect(unknown.length).toBe(1);
    expect(unknown[0]!.regions).toEqual([4]);
  });

  test('without parts proposes nothing', () => {
    const guide = keyOf(page, 0, 0);
    expect(proposeFromGuide(page, guide, registerGuide(page, guide).place, []).proposals).toEqual([]);
  });

  test('that shows two colours in one region says which cuts part them', () => {
    const rooms = (door: Line[]) =>
      strokes(420, 260, 6, [[40, 40, 380, 40], [380, 40, 380, 220], [380, 220, 40, 220], [40, 220, 40, 40], ...door]);
    // Somebody ruled the door open; the key was painted as if it was shut.
    const art = rooms([
      [210, 40, 210, 118],
      [210, 142, 210, 220],
    ]);
    const door = surveyPage(art, DEFAULT_PREP).closures.find((one) => one.accepted)!;
    const open = surveyPage(art, DEFAULT_PREP, { rulings: new Map([[door.key, 'open']]) });
    const shut = surveyPage(rooms([[210, 40, 210, 220]]), NO_GAPS_PREP);
    const guide = keyOf(shut, 0, 0, (region) => PARTS[region === 0 ? 3 : region === 1 ? 0 : 1]!.rgb);
    const at = (x: number, y: number): number => open.regions.ofCell[open.field[y * open.width + x]!]!;
    expect(at(100, 100)).toBe(at(300, 100));
    const splits = splitByGuide(open, guide, registerGuide(open, guide).place, PARTS);
    expect(splits.map((one) => one.region)).toEqual([at(100, 100)]);
    expect(splits[0]!.closures).toContain(door.key);
    expect(new Set(splits[0]!.pieces.map((piece) => piece.part))).toEqual(new Set(['coat', 'scarf']));
  });
});
