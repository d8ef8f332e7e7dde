import { expect, test } from '@jest/globals';
import { NO_GAPS_PREP } from '../../model/PageDocument.ts';
import { surveyPage } from '../../survey/surveyPage.ts';
import { randomArt } from '../../tests/textGrid.ts';
import { findNecks } from './findNecks.ts';
import { type InkGrid, paperDistances } from '../../skeleton/InkGrid.ts';

const [WIDTH, HEIGHT] = [150, 120];

/** The ink nearest to each place where two floods meet that have both been wider, flooding every pixel by itself. */
function meetings({ nearest }: InkGrid): string[] {
  const step = Array.from(nearest, (source, at) => {
    if (source >= 0) return 0;
    const [dx, dy] = [(at % WIDTH) - (~source % WIDTH), Math.floor(at / WIDTH) - Math.floor(~source / WIDTH)];
    return 1 + Math.floor(Math.sqrt(dx * dx + dy * dy) * 4);
  });
  const order = step.map((_, at) => at).filter((at) => step[at]! > 0);
  order.sort((a, b) => step[b]! - step[a]! || a - b);
  const parent = new Map<number, number>();
  const rootOf = (at: number): number => {
    let root = at;
    while (parent.get(root) !== root) root = parent.get(root)!;
    return root;
  };
  const found: string[] = [];
  for (const at of order) {
    parent.set(at, at);
    const [x, y] = [at % WIDTH, Math.floor(at / WIDTH)];
    const inside = x > 0 && y > 0 && x < WIDTH - 1 && y < HEIGHT - 1;
    const straight = [
      [-1, 0],
      [1, 0],
      [0, -1],
      [0, 1],
    ];
    const diagonal = [
      [-1, -1],
      [1, -1],
      [-1, 1],
      [1, 1],
    ];
    for (const [dx, dy] of inside ? [...straight, ...diagonal] : straight) {
      const [px, py] = [x + dx!, y + dy!];
      const other = py * WIDTH + px;
      if (px < 0 || py < 0 || px >= WIDTH || py >= HEIGHT || !parent.has(other)) continue;
      const [one, two] = [rootOf(other), rootOf(at)];
      if (one === two) continue;
      // A flood is named by its deepest pixel.
      const [high, low] = step[one]! >= step[two]! ? [one, two] : [two, one];
      if (step[low]! >= step[at]! * 1.08 + 1)
        found.push(`${~nearest[at]! % WIDTH},${Math.floor(~nearest[at]! / WIDTH)}`);
      parent.set(low, high);
    }
  }
  return found;
}

test.each([1, 2, 3, 4, 5])('necks lie where floods meet, as if every pixel were flooded (drawing %i)', (seed) => {
  const { inkAlpha } = surveyPage(randomArt(seed, WIDTH, HEIGHT), NO_GAPS_PREP);
  const paper = paperDistances(inkAlpha.slice(), WIDTH, HEIGHT);
  const expected = meetings(paper);
  // A neck that has no ink on its other side within the limit is left out: the others come in the same order.
  let next = 0;
  const necks = findNecks(paper, 60);
  for (const neck of necks) {
    next = expected.indexOf(`${neck.x0},${neck.y0}`, next) + 1;
    expect(next).toBeGreaterThan(0);
  }
  expect(expected.length).toBeGreaterThan(0);
  expect(necks.length).toBeGreaterThan(expected.length / 2);
});
