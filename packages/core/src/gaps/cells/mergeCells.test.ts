import { describe, expect, test } from '@jest/globals';
import { seeded } from '../../tests/textGrid.ts';
import type { Cut } from '../../model/Cut.ts';
import { STROKE_FEATURES } from '../proposals/strokeFeatures.ts';
import type { CellPairs } from '../../model/CellGraph.ts';
import type { Ruling } from '../../model/Ruling.ts';
import { type Merged, mergeCells } from './mergeCells.ts';
import type { Scoring } from './mergeComponent.ts';
import { OPENING_FEATURES } from './rateOpening.ts';

const LINE_WIDTH = 6;
/** A plain sum, so that what is tested is the merging. */
const WEIGHTS = new Map([
  ['base', -4],
  ['end', 2.5],
  ['secondEnd', 1.5],
  ['aim', 2],
  ['inkedShare', -0.5],
  ['width', -0.5],
]);
const SCORING: Scoring = {
  rate: (features) => features.reduce((sum, feature, k) => sum + feature * (WEIGHTS.get(OPENING_FEATURES[k]!) ?? 0), 0),
  boundsScore: -1,
};
const strokeFeatures = (end: number, secondEnd: number, aim: number): number[] =>
  STROKE_FEATURES.map((feature) => ({ end, secondEnd, aim })[feature as string] ?? 0);

interface Edge {
  readonly a: number;
  readonly b: number;
  readonly cut: Partial<Cut>;
  readonly inkedPx: number;
}

/** Merges cells given by their areas, with one opening or more between some of them. */
function merge(
  areas: readonly number[],
  edges: readonly Edge[],
  rulings = new Map<number, Ruling>(),
  limitPx = 100,
  scoring = SCORING,
): Merged {
  const numbers = new Map<string, number>();
  const [a, b, inked]: [number[], number[], number[]] = [[], [], []];
  const ofCut = edges.map((edge) => {
    const key = `${edge.a},${edge.b}`;
    if (!numbers.has(key)) {
      numbers.set(key, a.length);
      a.push(edge.a);
      b.push(edge.b);
      inked.push(edge.inkedPx);
    }
    return numbers.get(key)!;
  });
  const pairs: CellPairs = {
    count: a.length,
    a: Int32Array.from(a),
    b: Int32Array.from(b),
    inkedPx: Float64Array.from(inked),
    ofCut: Int32Array.from(ofCut),
  };
  const cuts = edges.map(({ cut }): Cut => ({
    from: [0, 0],
    to: [9, 0],
    curve: null,
    widthPx: 8,
    kind: 'ends',
    strokeFeatures: strokeFeatures(1, 1, 1),
    ...cut,
  }));
  const facts = {
    count: areas.length,
    areaPx: Uint32Array.from(areas),
    radiusPx: Float64Array.from(areas, (area) => Math.sqrt(area) / 3),
    wallsPx: wallsOf(areas.length, pairs),
  };
  const texture = new Float64Array(cuts.length);
  const ruled = cuts.map((_, k) => rulings.get(k));
  return mergeCells(facts, pairs, cuts, texture, LINE_WIDTH, limitPx, ruled, undefined, scoring);
}
/** As if cells had no borders but those with openings. */
function wallsOf(count: number, pairs: CellPairs): Float64Array {
  const walls = new Float64Array(count);
  pairs.inkedPx.forEach((px, p) => {
    walls[pairs.a[p]!]! += px;
    walls[pairs.b[p]!]! += px;
  });
  return walls;
}
const good = (a: number, b: number, more: Partial<Cut> = {}): Edge => ({ a, b, cut: more, inkedPx: 300 });
const poor = (a: number, b: number): Edge => ({
  a,
  b,
  cut: { kind: 'neck', strokeFeatures: strokeFeatures(0, 0, 0), widthPx: 40 },
  inkedPx: 10,
});

describe('openings between cells', () => {
  test('with two ends that face each other and an inked border close, with confidence', () => {
    const { groupOfCell, score, bounds } = merge([9000, 20_000], [good(0, 1)]);
    expect(groupOfCell[0]).not.toBe(groupOfCell[1]);
    expect(score[0]).toBeGreaterThan(2);
    expect(bounds[0]).toBe(1);
  });

  test('that are wide and bare are open', () => {
    const { groupOfCell, score, bounds } = merge([9000, 20_000], [poor(0, 1)]);
    expect(groupOfCell[0]).toBe(groupOfCell[1]);
    expect(score[0]).toBeLessThan(SCORING.boundsScore);
    expect(bounds[0]).toBe(0);
  });

  test('of one pair are judged together', () => {
    const alone = merge([9000, 20_000], [good(0, 1)]).score[0]!;
    const both = merge([9000, 20_000], [good(0, 1), { ...poor(0, 1), inkedPx: 300 }]);
    expect(both.score[0]).toBe(both.score[1]);
    expect(both.score[0]!).toBeLessThan(alone);
  });

  test('ruled on are as ruled, whatever they look like', () => {
    const opened = merge([9000, 20_000], [good(0, 1)], new Map([[0, 'open']]));
    expect(opened.groupOfCell[0]).toBe(opened.groupOfCell[1]);
    const closed = merge([9000, 20_000], [poor(0, 1)], new Map([[0, 'closed']]));
    expect(closed.groupOfCell[0]).not.toBe(closed.groupOfCell[1]);
  });

  test('wider than the limit are open; drawn by hand they are closed', () => {
    const wide = merge([9000, 20_000], [good(0, 1, { widthPx: 30 })], new Map(), 20);
    expect(wide.groupOfCell[0]).toBe(wide.groupOfCell[1]);
    const hand = merge([9000, 20_000], [good(0, 1, { widthPx: 30, kind: 'hand' })], new Map(), 20);
    expect(hand.groupOfCell[0]).not.toBe(hand.groupOfCell[1]);
  });

  test('that lead around a closed one leave it parting nothing', () => {
    // 0 and 1 are parted by a good closure, but both are open to 2.
    const around: Edge[] = [good(0, 1), poor(0, 2), poor(1, 2)];
    const open = new Map<number, Ruling>([
      [1, 'open'],
      [2, 'open'],
    ]);
    const { groupOfCell, score, bounds } = merge([9000, 9000, 30_000], around, open);
    expect(merge([9000, 9000], [good(0, 1)]).score[0]).toBeGreaterThan(2);
    expect(score[0]).toBeLessThan(SCORING.boundsScore);
    expect([...groupOfCell]).toEqual([0, 0, 0]);
    expect([...bounds]).toEqual([0, 0, 0]);
    // With one of the ways around shut it parts again, and stands where groups differ.
    const shut = merge([9000, 9000, 30_000], around, new Map(open).set(2, 'closed'));
    expect(shut.groupOfCell[0]).toBe(shut.groupOfCell[2]);
    expect(shut.groupOfCell[1]).not.toBe(shut.groupOfCell[0]);
    expect([...shut.bounds]).toEqual([1, 0, 1]);
  });

  test('are told by their features, their width and what is inked', () => {
    const scoreOf = (edge: Edge): number => merge([9000, 20_000], [edge]).score[0]!;
    const base = scoreOf(good(0, 1));
    expect(scoreOf(good(0, 1, { strokeFeatures: strokeFeatures(1, 0, 1) }))).toBeCloseTo(base - 1.5, 5);
    expect(scoreOf(good(0, 1, { strokeFeatures: strokeFeatures(1, 1, 0) }))).toBeCloseTo(base - 2, 5);
    expect(scoreOf({ ...good(0, 1), inkedPx: 3 })).toBeLessThan(base);
    expect(scoreOf(good(0, 1, { widthPx: 60 }))).toBeLessThan(base);
  });
});

describe('merging many cells', () => {
  const random = seeded(21);
  const areas = Array.from({ length: 120 }, () => 50 + Math.floor(random() * 20_000));
  const edges: Edge[] = [];
  for (let a = 0; a < 120; a++) {
    for (let k = 0; k < 3; k++) {
      const b = a + 1 + Math.floor(random() * 12);
      if (b >= 120) continue;
      edges.push({
        a,
        b,
        cut: { strokeFeatures: strokeFeatures(random(), random() * random(), random()), widthPx: 2 + random() * 60 },
        inkedPx: random() * 200,
      });
    }
  }
  const merged = merge(areas, edges);

  test('gives every cell a group, and a cut bounds exactly where its groups differ', () => {
    edges.forEach(({ a, b }, k) => {
      expect(merged.bounds[k] === 1).toBe(merged.groupOfCell[a] !== merged.groupOfCell[b]);
      expect(merged.confidence[k]).toBeGreaterThanOrEqual(0);
      expect(merged.confidence[k]).toBeLessThanOrEqual(1);
    });
    const groups = new Set(merged.groupOfCell);
    expect(groups.size).toBeGreaterThan(1);
    expect(groups.size).toBeLessThan(120);
  });

  test('leaves no boundary that is weaker than the bound', () => {
    edges.forEach((_, k) => {
      if (merged.bounds[k] === 1) expect(merged.score[k]).toBeGreaterThanOrEqual(SCORING.boundsScore);
    });
  });

  test('is the same every time, and a ruling on one changes no group far away', () => {
    expect([...merge(areas, edges).groupOfCell]).toEqual([...merged.groupOfCell]);
    const first = edges.findIndex((_, k) => merged.bounds[k] === 1);
    const ruled = merge(areas, edges, new Map([[first, 'closed']]));
    expect(ruled.groupOfCell[edges[first]!.a]).not.toBe(ruled.groupOfCell[edges[first]!.b]);
  });

  test('with a smaller limit only ever opens', () => {
    const groupsAt = (limitPx: number): number => new Set(merge(areas, edges, new Map(), limitPx).groupOfCell).size;
    expect(groupsAt(1)).toBeLessThanOrEqual(groupsAt(20));
    expect(merge(areas, edges, new Map(), 0).bounds.every((one) => one === 0)).toBe(true);
  });
});

describe('a second rating', () => {
  /** As the first one, less what the best rival is worth above nothing. */
  const again: Scoring = {
    rate: (features) => SCORING.rate(features) - 2 * Math.max(0, features[OPENING_FEATURES.indexOf('rival')]!),
    boundsScore: SCORING.boundsScore,
  };
  const apart = { from: [0, 90], to: [9, 90] } as const;
  const areas = [90_000, 6000, 5000];
  const wide = { widthPx: 40 };

  test('takes away what stops where a better one does', () => {
    const edges = [good(0, 1), good(0, 2, wide)];
    expect([...merge(areas, edges).bounds]).toEqual([1, 1]);
    const twice = merge(areas, edges, undefined, undefined, { ...SCORING, again });
    expect([...twice.bounds]).toEqual([1, 0]);
    expect(twice.score[1]).toBeLessThan(merge(areas, edges).score[1]!);
  });

  test('leaves what stops elsewhere', () => {
    const edges = [good(0, 1), good(0, 2, { ...wide, ...apart })];
    expect(merge(areas, edges, undefined, undefined, { ...SCORING, again })).toEqual(merge(areas, edges));
  });

  test('sees no rival in what is ruled open', () => {
    const edges = [good(0, 1), good(0, 2, wide)];
    const rulings = new Map<number, Ruling>([[0, 'open']]);
    expect([...merge(areas, edges, rulings, undefined, { ...SCORING, again }).bounds]).toEqual([0, 1]);
  });
});

describe('what came of cells that hang together', () => {
  const random = seeded(5);
  /** Twelve parts of six cells in a ring. */
  const CELLS = 72;
  const cuts = Array.from({ length: CELLS }, (_, k): Cut => ({
    from: [k, 0],
    to: [k, 9],
    curve: null,
    widthPx: 2 + random() * 50,
    kind: 'ends',
    strokeFeatures: strokeFeatures(random(), random(), random()),
  }));
  const inkedPx = Float64Array.from(cuts, () => random() * 300);
  const neighbour = (k: number): number => (k % 6 === 5 ? k - 5 : k + 1);
  const pairs: CellPairs = {
    count: CELLS,
    a: Int32Array.from(cuts, (_, k) => Math.min(k, neighbour(k))),
    b: Int32Array.from(cuts, (_, k) => Math.max(k, neighbour(k))),
    inkedPx,
    ofCut: Int32Array.from(cuts.keys()),
  };
  const areas = Array.from({ length: CELLS }, () => 100 + Math.floor(random() * 30_000));
  interface Change {
    readonly rulings?: ReadonlyMap<number, Ruling>;
    readonly limitPx?: number;
    readonly areaOf9?: number;
  }
  const own = ({ rulings = new Map(), limitPx = 100, areaOf9 = areas[9]! }: Change, of: readonly Cut[]): Merged => {
    const areaPx = Uint32Array.from(areas, (area, k) => (k === 9 ? areaOf9 : area));
    const radiusPx = Float64Array.from(areaPx, (area) => Math.sqrt(area) / 3);
    const facts = { count: CELLS, areaPx, radiusPx, wallsPx: wallsOf(CELLS, pairs) };
    const ruled = of.map((_, k) => rulings.get(k));
    return mergeCells(facts, pairs, of, new Float64Array(CELLS), LINE_WIDTH, limitPx, ruled);
  };
  /** The same with nothing known of the cuts. */
  const fresh = (change: Change): Merged =>
    own(
      change,
      cuts.map((cut) => ({ ...cut })),
    );

  test.each<[string, Change]>([
    ['a ruling', { rulings: new Map<number, Ruling>([[20, 'open']]) }],
    ['the opposite ruling', { rulings: new Map<number, Ruling>([[20, 'closed']]) }],
    ['no ruling', {}],
    ['another limit', { limitPx: 12 }],
    ['a cell of another size', { areaOf9: 7 }],
  ])('is not taken over after %s', (_, change) => {
    own({}, cuts);
    expect(own(change, cuts)).toEqual(fresh(change));
    expect(own({}, cuts)).toEqual(fresh({}));
  });

  test('is parted and joined as it would be alone', () => {
    const { groupOfCell, bounds } = own({}, cuts);
    expect(bounds).toContain(1);
    expect(bounds).toContain(0);
    groupOfCell.forEach((group, cell) => expect(Math.floor(group / 6)).toBe(Math.floor(cell / 6)));
  });
});
