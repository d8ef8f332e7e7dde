import { describe, expect, test } from '@jest/globals';
import { absorbTexture, closedPairs } from './absorbTexture.ts';
import type { CellFacts, TextureBorders } from '../../model/CellGraph.ts';
import { TEXTURE_FEATURES, type TextureScoring } from './rateTexture.ts';
import { cutOfKey } from '../proposals/handCut.ts';

const LINE_WIDTH = 5;

interface Border {
  readonly between: readonly [number, number];
  readonly px: number;
  readonly thinPx?: number;
  readonly texturePx?: number;
  readonly width: number;
  readonly row?: number;
}

function bordersOf(list: readonly Border[]): TextureBorders {
  const column = (read: (border: Border) => number): Float64Array => Float64Array.from(list, read);
  return {
    count: list.length,
    a: Int32Array.from(list, ({ between }) => Math.min(...between)),
    b: Int32Array.from(list, ({ between }) => Math.max(...between)),
    px: column(({ px }) => px),
    thinPx: column(({ thinPx = 0 }) => thinPx),
    texturePx: column(({ texturePx = 0 }) => texturePx),
    widths: column(({ px, width }) => px * width),
    squares: column(({ px, width }) => px * width * width),
    narrowest: column(({ width }) => width),
    rows: column(({ px, row = 0 }) => px * row),
  };
}

/** A row of spaces: half of the border of each is an outline, with a large cell beyond it. */
const SPACES = 6;
const LARGE = 6;
const BEYOND = 7;
const facts: Omit<CellFacts, 'wallsPx'> = {
  count: 8,
  areaPx: Uint32Array.of(400, 400, 400, 400, 400, 400, 60_000, 80_000),
  radiusPx: Float64Array.of(5, 5, 5, 5, 5, 5, 90, 110),
};
const first = Int32Array.of(700, 710, 720, 730, 740, 750, 690, 0);
const stroke = (a: number, b: number): Border => ({ between: [a, b], px: 60, texturePx: 60, width: 0.5, row: 15 });
const HATCHED: Border[] = [
  ...Array.from({ length: SPACES }, (_, k) => stroke(k, k + 1 === SPACES ? LARGE : k + 1)),
  stroke(0, LARGE),
  ...Array.from({ length: SPACES }, (_, k): Border => ({ between: [k, BEYOND], px: 14, width: 1 })),
];

interface Options {
  readonly borders?: readonly Border[];
  readonly keep?: readonly number[];
  readonly scoring?: TextureScoring;
  readonly order?: readonly number[];
}

/** The group of each cell, named by its lowest cell. @param order the number each cell has. */
function groupsOf({ borders = HATCHED, keep = [], scoring, order = [...first.keys()] }: Options) {
  const placed = <T extends Uint32Array | Float64Array | Int32Array>(values: T): T => {
    const moved = values.slice() as T;
    order.forEach((to, cell) => (moved[to] = values[cell]!));
    return moved;
  };
  const group = Int32Array.from(order, (_, cell) => cell);
  const kept = new Uint8Array(facts.count);
  for (const cell of keep) kept[order[cell]!] = 1;
  const moved = borders.map((one) => ({ ...one, between: [order[one.between[0]]!, order[one.between[1]]!] as const }));
  const pairs = {
    count: 0,
    a: new Int32Array(0),
    b: new Int32Array(0),
    inkedPx: new Float64Array(0),
    ofCut: new Int32Array(0),
  };
  const moreFacts = {
    count: facts.count,
    areaPx: placed(facts.areaPx as Uint32Array),
    radiusPx: placed(facts.radiusPx as Float64Array),
  };
  const closed = closedPairs(pairs, [], new Uint8Array(0));
  absorbTexture(moreFacts, bordersOf(moved), closed, placed(first), group, kept, LINE_WIDTH, undefined, scoring);
  return order.map((own) => order.findIndex((other) => group[other] === group[own]));
}

describe('spaces between strokes', () => {
  test('join what the strokes lie in, and not what lies beyond the outline', () => {
    expect(groupsOf({})).toEqual([0, 0, 0, 0, 0, 0, 0, BEYOND]);
  });

  test('stay where lines as wide as the outline part them', () => {
    const bars = HATCHED.map((border) => ({ ...border, texturePx: 0, width: 1, row: 0 }));
    expect(groupsOf({ borders: bars })).toEqual([...first.keys()]);
  });

  test('stay where somebody parted them by hand', () => {
    const groups = groupsOf({ keep: [2] });
    expect(groups[2]).toBe(2);
    expect(groups[3]).toBe(groups[LARGE]);
    // A large cell that was parted from another one takes spaces in as before.
    expect(groupsOf({ keep: [LARGE, BEYOND] })).toEqual(groupsOf({}));
  });

  test('are the same however the cells are numbered', () => {
    expect(groupsOf({ order: [7, 3, 5, 1, 0, 2, 4, 6] })).toEqual(groupsOf({}));
  });
});

describe('a pair of groups', () => {
  const feature = (features: Float64Array, name: (typeof TEXTURE_FEATURES)[number]): number =>
    features[TEXTURE_FEATURES.indexOf(name)]!;

  test('is rated by the smaller one, with what was joined to it so far', () => {
    const asked: Float64Array[] = [];
    const scoring = {
      rate: (features: Float64Array): number => {
        asked.push(features);
        return feature(features, 'texture') > 0.9 && feature(features, 'otherArea') < 5 ? 1 : -1;
      },
      joinsFrom: 0,
    };
    // Among themselves only: the large cell is too large.
    expect(groupsOf({ scoring })).toEqual([0, 0, 0, 0, 0, 0, LARGE, BEYOND]);
    const last = asked.at(-1)!;
    expect(feature(last, 'area')).toBeCloseTo(Math.log((SPACES * 400) / 25), 5);
    expect(feature(last, 'common')).toBeCloseTo(Math.log(121 / LINE_WIDTH), 5);
    expect(feature(last, 'ownTexture')).toBeCloseTo(120 / (120 + SPACES * 14), 5);
    expect(feature(last, 'width')).toBeCloseTo(0.5, 5);
    expect(feature(last, 'rows')).toBeCloseTo(15, 5);
  });
});

test('closures between two groups count together', () => {
  const cut = cutOfKey('0,0-8,0');
  const pairs = {
    count: 2,
    a: Int32Array.of(0, 1),
    b: Int32Array.of(1, 2),
    inkedPx: new Float64Array(2),
    ofCut: Int32Array.of(0, 0, 1, -1),
  };
  const { closedPx } = closedPairs(pairs, [cut, cut, cut, cut], Uint8Array.of(1, 1, 0, 0));
  expect([...closedPx]).toEqual([2 * cut.widthPx, 0]);
});
