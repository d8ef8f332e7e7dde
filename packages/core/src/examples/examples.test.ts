import { describe, expect, test } from '@jest/globals';
import { DEFAULT_PREP } from '../model/PageDocument.ts';
import { openSurvey } from '../survey/surveyPage.ts';
import { strokes } from '../tests/textGrid.ts';
import { type RegionTraits, TRAITS, describeRegions } from './describeRegions.ts';
import { type ExamplePage, proposeFromExamples } from './proposeFromExamples.ts';

const box = (x0: number, y0: number, x1: number, y1: number): [number, number, number, number][] => [
  [x0, y0, x1, y0],
  [x1, y0, x1, y1],
  [x1, y1, x0, y1],
  [x0, y1, x0, y0],
];
const panels = [
  {
    points: [
      [0, 0],
      [300, 0],
      [300, 200],
      [0, 200],
    ] as const,
  },
];

describe('the traits of regions', () => {
  test('are the same at twice the size', () => {
    const small = openSurvey(strokes(300, 200, 4, [...box(40, 40, 120, 160), ...box(180, 60, 260, 100)]), DEFAULT_PREP);
    const large = openSurvey(
      strokes(600, 400, 8, [...box(80, 80, 240, 320), ...box(360, 120, 520, 200)]),
      DEFAULT_PREP,
    );
    const [one, two] = [describeRegions(small, panels), describeRegions(large, [{ points: panels[0]!.points.map(([x, y]) => [2 * x, 2 * y] as const) }])]; // prettier-ignore
    expect(two.count).toBe(one.count);
    one.values.forEach((value, k) => expect(Math.abs(value - two.values[k]!)).toBeLessThan(0.12));
    expect(one.values.length).toBe(one.count * TRAITS);
    expect(one.panels).toEqual(one.panels.map(() => 0));
  });
});

test('a region is told by what lies around it as well', () => {
  // Two boxes of one size: one inside another box, one in the open.
  const page = openSurvey(strokes(300, 200, 4, [...box(30, 30, 150, 170), ...box(70, 70, 110, 110), ...box(200, 70, 240, 110)]), DEFAULT_PREP); // prettier-ignore
  const { values, count } = describeRegions(page, panels);
  const alike = Array.from({ length: count }, (_, r) => values.slice(r * TRAITS, (r + 1) * TRAITS))
    .sort((a, b) => a[0]! - b[0]!)
    .slice(0, 2);
  expect(alike[0]![0]).toBeCloseTo(alike[1]![0]!, 2);
  // How much larger the neighbour is that it touches longest.
  const larger = alike.map((traits) => traits[12]!).sort((a, b) => a - b);
  expect(larger[1]! - larger[0]!).toBeGreaterThan(0.5);
});

/** A page of regions told by one number each, in a row where each touches the next. */
function row(numbers: readonly number[]): RegionTraits {
  return {
    count: numbers.length,
    values: numbers.flatMap((value) => Array.from({ length: TRAITS }, () => value)),
    pairs: numbers.slice(1).flatMap((_, k) => [k, k + 1, 400]),
    panels: numbers.map(() => 0),
  };
}
const all = (): boolean => true;

describe('proposals from examples', () => {
  test('go by what is most alike, with more confidence where nothing else is', () => {
    const done: ExamplePage = { traits: row([0, 1, 0.05, 1.05]), parts: ['coat', 'hair', 'coat', 'hair'] };
    const proposals = proposeFromExamples(row([0.02, 1.02, 0.5]), all, [done]);
    expect(proposals.map(({ part }) => part).slice(0, 2)).toEqual(['coat', 'hair']);
    expect(proposals[0]!.confidence).toBeGreaterThan(0.7);
    expect(proposals[2]!.confidence).toBeLessThan(proposals[0]!.confidence);
  });

  test('let neighbours decide between parts that look alike', () => {
    // Cap and boot look alike; the cap touches hair, the boot touches the ground.
    const done: ExamplePage = {
      traits: row([3, 0, 3, 0, 5, 0, 5, 0, 5]),
      parts: ['hair', 'cap', 'hair', null, 'ground', 'boot', 'ground', 'boot', 'ground'],
    };
    const [first] = proposeFromExamples(row([0, 5]), all, [done]);
    expect(first!.part).toBe('boot');
    expect(proposeFromExamples(row([0, 3]), all, [done])[0]!.part).toBe('cap');
  });

  test('are surer where more pages say the same', () => {
    const done: ExamplePage = { traits: row([0, 0.4]), parts: ['coat', 'hair'] };
    const confidences = [1, 2, 6].map(
      (pages) =>
        proposeFromExamples(
          row([0.18]),
          all,
          Array.from({ length: pages }, () => done),
        )[0]!.confidence,
    );
    expect(confidences[1]).toBeGreaterThan(confidences[0]!);
    expect(confidences[2]).toBeGreaterThan(confidences[1]!);
    expect(confidences[2]).toBeLessThan(1);
  });

  test('are not sure of a region that no example is like', () => {
    const done: ExamplePage = { traits: row([0, 0.1]), parts: ['coat', 'coat'] };
    const [only] = proposeFromExamples(row([2]), all, [done]);
    expect(only!.confidence).toBeLessThan(0.2);
  });

  test('are made for those wanted alone, and for none without examples', () => {
    const done: ExamplePage = { traits: row([0]), parts: ['coat'] };
    expect(proposeFromExamples(row([0, 0]), (region) => region === 1, [done]).map((one) => one.region)).toEqual([1]);
    expect(proposeFromExamples(row([0]), all, [])).toEqual([]);
    expect(proposeFromExamples(row([0]), all, [{ traits: row([0]), parts: [null] }])).toEqual([]);
  });
});
