import { EXAMPLE_WEIGHTS, voteFromExamples, type ExampleWeights } from '@jumble/core';
import { range } from '../gaps/lessons.ts';
import { demoTasks, stagedTasks, type ExampleTask } from './examplePages.ts';

/**
 * Finds the weights that regions of done pages are compared by, from those there are, and what a share of the votes is
 * worth: `node --import tsx bench/src/flats/fitExamples.ts`. Nothing is measured on the staged pages it learns from.
 */
const SEEDS = range(1, 6);
const ROUNDS = 2;
const FACTORS = [0.7, 0.85, 1.2, 1.4];
/** What is better by less is no better. */
const LEAST_GAIN = 5e-4;
/** What certainty counts beside being right. */
const BY_LIKELIHOOD = 0.3;
const LEAST_SHARE = 0.02;
const EDGES = [0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 0.97, 1.001];

const demo = await demoTasks();
const { few, more } = await stagedTasks(SEEDS);

let best = EXAMPLE_WEIGHTS;
let most = worth(best);
for (let round = 0; round < ROUNDS; round++) {
  for (const other of variations()) {
    const changed = other(best);
    const value = worth(changed);
    if (value > most + LEAST_GAIN) [best, most] = [changed, value];
  }
}
process.stdout.write(`${JSON.stringify(best, (_, value: unknown) => rounded(value))}\n`);
for (const [name, tasks] of [
  ['demo', demo],
  ['staged', few],
  ['staged, more done', more],
] as const) {
  const { right, likelihood } = judge(tasks, best);
  process.stdout.write(`${name}: ${right.toFixed(3)} right, log likelihood ${likelihood.toFixed(3)}\n`);
}
process.stdout.write('share of the votes, right with one done page, two, and six\n');
const columns = [demo, few, more].map(rightByShare);
for (let k = 0; k + 1 < EDGES.length; k++) {
  const rights = columns.map((bins) => (bins[k]!.right / bins[k]!.count).toFixed(2));
  process.stdout.write(`${(columns[1]![k]!.share / columns[1]![k]!.count).toFixed(2)}: ${rights.join(', ')}\n`);
}

function rightByShare(tasks: readonly ExampleTask[]): { count: number; share: number; right: number }[] {
  const bins = EDGES.slice(1).map(() => ({ count: 0, share: 0, right: 0 }));
  for (const { share, right } of tasks.flatMap((task) => votesOf(task, best))) {
    const bin = bins[EDGES.findIndex((edge) => edge > share) - 1]!;
    bin.count++;
    bin.share += share;
    if (right) bin.right++;
  }
  return bins;
}

function* variations(): Generator<(weights: ExampleWeights) => ExampleWeights> {
  for (const factor of FACTORS) {
    for (let t = 0; t < EXAMPLE_WEIGHTS.spread.length; t++)
      yield (weights) => ({ ...weights, spread: weights.spread.map((one, k) => (k === t ? one * factor : one)) });
    yield (weights) => ({ ...weights, neighbours: weights.neighbours * factor });
    yield (weights) => ({ ...weights, softPx: weights.softPx * factor });
    yield (weights) => ({ ...weights, nothing: weights.nothing * factor });
  }
}

function worth(weights: ExampleWeights): number {
  return [demo, few].reduce((sum, tasks) => {
    const { right, likelihood } = judge(tasks, weights);
    return sum + right + BY_LIKELIHOOD * likelihood;
  }, 0);
}

function judge(tasks: readonly ExampleTask[], weights: ExampleWeights): { right: number; likelihood: number } {
  const votes = tasks.flatMap((task) => votesOf(task, weights));
  let [right, likelihood] = [0, 0];
  for (const vote of votes) {
    if (vote.right) right++;
    const share = vote.right ? vote.share : 1 - vote.share;
    likelihood += Math.log(Math.max(LEAST_SHARE, Math.min(1 - LEAST_SHARE, share)));
  }
  return { right: right / votes.length, likelihood: likelihood / votes.length };
}

function votesOf({ page, done }: ExampleTask, weights: ExampleWeights): { share: number; right: boolean }[] {
  return voteFromExamples(page.traits, () => true, done, weights).map(({ region, part, share }) => ({
    share,
    right: part === page.parts[region],
  }));
}

function rounded(value: unknown): unknown {
  return typeof value === 'number' ? Number(value.toPrecision(2)) : value;
}
