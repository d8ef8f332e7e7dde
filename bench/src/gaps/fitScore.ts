import { writeFile } from 'node:fs/promises';
import { FIRST_BOUNDS_SCORE, mergeCells, compileForest, rate, OPENING_FEATURES, type Scoring } from '@jumble/core/gaps';
import type { Sample } from '../fitLogistic.ts';
import { GIVEN_SCORING } from './givenMethod.ts';
import { STYLES } from './generateDrawing.ts';
import { growForest } from './growForest.ts';
import { careless, demoSheets, prepareLesson, range, sheetsOf, type Lesson } from './lessons.ts';

/**
 * Grows the trees that closures are rated by on generated drawings and the demo pages, finds on others what
 * their scores are worth, and writes both to the core: `node --import tsx bench/src/gaps/fitScore.ts`.
 * Nothing is measured on any of these drawings.
 */
const FILE = new URL('../../../packages/core/src/gaps/cells/gapTrees.ts', import.meta.url);
/** Seeds to learn from, and seeds to find the confidence by. */
const LEARN = [...range(1, 24), ...range(45, 96), ...range(121, 150)];
const CALIBRATE = [...range(25, 44), ...range(109, 120), ...range(216, 275), ...range(481, 580)];
const DEMO_WEIGHT = 2;
const GROW = { trees: 200, rate: 0.1, leastInLeaf: 20, sees: 0.5 };
const ROUNDS = 2;
/** What a drawing was rated at first is learnt from by trees that never saw it: the lessons go in so many parts. */
const FOLDS = 4;
/** Fewest closures, and fewest true ones, that a step of confidence is read from. */
const LEAST_IN_BIN = 200;
const LEAST_OF_EACH = 20;
/** From this score on a closure is right for sure; below its negative for sure not. */
const LAST_SCORE = 9;

const lessons: Lesson[] = [];
for await (const sheet of sheetsOf(LEARN, STYLES, careless)) lessons.push(prepareLesson(sheet, 1));
for (const sheet of await demoSheets()) lessons.push(prepareLesson(sheet, DEMO_WEIGHT));

const foldOf = (lesson: number): number => Math.floor(lesson / STYLES.length) % FOLDS;
const firstOf = Array.from({ length: FOLDS }, (_, fold) => {
  const trees = growFrom((lesson, before) => (foldOf(lesson) === fold ? null : (before ?? GIVEN_SCORING)));
  process.stdout.write(`first trees ${fold + 1} of ${FOLDS}\n`);
  return trees;
});
const trees = growFrom((lesson, before) => {
  const first = scoringOf(firstOf[foldOf(lesson)]!);
  return { ...first, again: before ?? first };
});
const [firstTrees] = firstOf as [number[][]];

/** Closures with their scores, for the confidence. */
const ruled: { score: number; parts: boolean }[] = [];
for await (const sheet of sheetsOf(CALIBRATE)) {
  const { survey, truth } = prepareLesson(sheet, 1);
  const { cuts, pairs } = survey.graph;
  const { score } = merge(survey, { ...scoringOf(firstTrees), again: scoringOf(trees) });
  cuts.forEach(({ widthPx }, k) => {
    const pair = pairs.ofCut[k]!;
    if (pair < 0 || widthPx > survey.maxGapPx) return;
    ruled.push({ score: score[k]!, parts: truth.areApart(pairs.a[pair]!, pairs.b[pair]!) });
  });
}
const knots = calibrate();
await writeFile(
  FILE,
  `/** Made by \`node --import tsx bench/src/gaps/fitScore.ts\`: what openings are rated by at first, a tree a row. */
// prettier-ignore
export const FIRST_TREES: readonly (readonly number[])[] = [
${rowsOf(firstTrees)}
];

/** What they are rated by once it is known how all were. */
// prettier-ignore
export const TREES: readonly (readonly number[])[] = [
${rowsOf(trees)}
];

/** Scores with the share of closures found right there. */
export const CALIBRATION: readonly (readonly [score: number, confidence: number])[] = [
${knots.map(([score, share]) => `  [${Number(score.toFixed(2))}, ${Number(share.toFixed(3))}],`).join('\n')}
];
`,
);
const asked = OPENING_FEATURES.map(
  (feature, k) =>
    [feature, trees.reduce((sum, tree) => sum + tree.slice(0, 7).filter((at) => at === k).length, 0)] as const,
);
process.stdout.write(`asked: ${asked.map(([feature, times]) => `${feature} ${times}`).join(', ')}\n`);

function scoringOf(rows: readonly (readonly number[])[]): Scoring {
  const forest = compileForest(rows);
  return { rate: (features) => rate(forest, features), boundsScore: FIRST_BOUNDS_SCORE };
}

function rowsOf(forest: readonly (readonly number[])[]): string {
  return forest.map((tree) => `  [${tree.join(', ')}],`).join('\n');
}

/**
 * Trees from what the lessons come upon. What is asked depends on what was joined before: each round adds what the
 * last one's trees come upon.
 *
 * @param scoringFor a lesson, by its number and what the last round grew; null leaves it out.
 */
function growFrom(scoringFor: (number: number, before: Scoring | undefined) => Scoring | null): number[][] {
  const samples: Sample[] = [];
  let grown: number[][] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const before = round === 0 ? undefined : scoringOf(grown);
    lessons.forEach((lesson, k) => {
      const scoring = scoringFor(k, before);
      if (scoring !== null) learn(lesson, scoring, samples);
    });
    grown = growForest(samples, GROW);
  }
  return grown;
}

function learn(lesson: Lesson, scoring: Scoring, samples: Sample[]): void {
  const { survey, weight } = lesson;
  const { pairs, cuts } = survey.graph;
  const truth = lesson.truth.copy();
  // What is wider than the limit is open before anything is decided.
  cuts.forEach(({ widthPx }, k) => {
    const pair = pairs.ofCut[k]!;
    if (pair >= 0 && widthPx > survey.maxGapPx) truth.join(pairs.a[pair]!, pairs.b[pair]!);
  });
  merge(survey, scoring, ([pair], features, joined) => {
    const [a, b] = [pairs.a[pair!]!, pairs.b[pair!]!];
    samples.push({ features: [...features], right: truth.areApart(a, b), weight });
    if (joined) truth.join(a, b);
  });
}

function merge(
  { graph, lineWidthPx, maxGapPx }: Lesson['survey'],
  scoring: Scoring,
  onDecision?: (pairs: readonly number[], features: Float64Array, joined: boolean) => void,
): ReturnType<typeof mergeCells> {
  return mergeCells(
    graph.facts,
    graph.pairs,
    graph.cuts,
    graph.texture,
    lineWidthPx.median,
    maxGapPx,
    [],
    onDecision,
    scoring,
  );
}

/** Share of true closures by score, never falling: pools of neighbouring bins (Ayer et al. 1955). */
function calibrate(): (readonly [number, number])[] {
  const sorted = ruled.sort((a, b) => a.score - b.score);
  const pools: { count: number; right: number; score: number }[] = [];
  // Small bins where it matters: those of the sure ones hold many true closures, those of the others few.
  for (let from = 0; from < sorted.length;) {
    let to = from;
    let [right, wrong] = [0, 0];
    while (to < sorted.length && (to - from < LEAST_IN_BIN || (right < LEAST_OF_EACH && wrong < 40 * LEAST_OF_EACH))) {
      if (sorted[to]!.parts) right++;
      else wrong++;
      to++;
    }
    const bin = sorted.slice(from, to);
    from = to;
    pools.push({ count: bin.length, right, score: bin.reduce((sum, one) => sum + one.score, 0) });
    for (;;) {
      const [before, last] = pools.slice(-2);
      if (last === undefined || before!.right / before!.count <= last.right / last.count) break;
      pools.splice(-2, 2, {
        count: before!.count + last.count,
        right: before!.right + last.right,
        score: before!.score + last.score,
      });
    }
  }
  const inner = pools.map(({ count, right, score }) => [score / count, right / count] as const);
  return [
    [-LAST_SCORE, 0],
    ...inner.filter(([score, share]) => Math.abs(score) < LAST_SCORE && share > 0 && share < 1),
    [LAST_SCORE, 1],
  ];
}
