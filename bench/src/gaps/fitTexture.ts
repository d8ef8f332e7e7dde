import { writeFile } from 'node:fs/promises';
import {
  absorbTexture,
  closedPairs,
  mergeCells,
  compileForest,
  rate,
  TEXTURE_FEATURES,
  type TextureScoring,
} from '@jumble/core/gaps';
import type { Sample } from '../fitLogistic.ts';
import { STYLES } from './generateDrawing.ts';
import { generateBars, generatePatch, PATCH_KINDS } from './generatePatch.ts';
import { growForest } from './growForest.ts';
import { careless, covering, demoSheets, prepareLesson, range, sheetsOf, type Lesson } from './lessons.ts';

/**
 * Grows the trees that tell ink of hatching that bounds nothing from ink that does, after those of the gaps
 * (`fitScore.ts`): `node --import tsx bench/src/gaps/fitTexture.ts`. Nothing is measured on any of these drawings.
 */
const FILE = new URL('../../../packages/core/src/gaps/spaces/textureTrees.ts', import.meta.url);
const HATCHED = ['hatched', 'feathered', 'textured', 'detailed', 'lettered'] as const;
const HATCHED_SEEDS = [...range(1, 96), ...range(121, 170)];
const OTHER_SEEDS = range(1, 15);
const PATCH_SEEDS = range(1, 60);
const BAR_SEEDS = range(1, 60);
/** Few drawings have lines side by side that bound something. */
const BAR_WEIGHT = 2;
const DEMO_WEIGHT = 1;
/** Drawings and patches with thicker or thinner hatching than those it is measured on are among them. */
const THICK = [1, 0.7, 1, 1.4, 1, 1.8, 1];
const PATCH_THICK = [1, 0.8, 1.3, 1, 1.6, 1.9];
const among = (list: readonly number[], seed: number): number => list[seed % list.length]!;
const GROW = { trees: 200, rate: 0.1, leastInLeaf: 15 };
const ROUNDS = 3;
/** Joining two shapes costs more than a click: they are joined from these odds on. */
const JOINS_FROM = Math.log(1.5);
/** Spaces below this many px count little. */
const SMALL_PX = 30;
const SMALL_WEIGHT = 0.2;

interface Decision extends Sample {
  readonly joined: boolean;
}

const lessons: Lesson[] = [];
for await (const sheet of sheetsOf(HATCHED_SEEDS, HATCHED, (seed) => ({
  textureWidth: among(THICK, seed),
  ...careless(seed),
})))
  lessons.push(prepareLesson(sheet, 1));
const others = STYLES.filter((style) => !HATCHED.some((hatched) => hatched === style));
for await (const sheet of sheetsOf(OTHER_SEEDS, others, covering)) lessons.push(prepareLesson(sheet, 1));
for (const kind of PATCH_KINDS)
  for (const seed of PATCH_SEEDS)
    lessons.push(prepareLesson(await generatePatch(kind, seed, among(PATCH_THICK, seed)), 0.5));
for (const seed of BAR_SEEDS) lessons.push(prepareLesson(await generateBars(seed), BAR_WEIGHT));
for (const sheet of await demoSheets()) lessons.push(prepareLesson(sheet, DEMO_WEIGHT));
process.stdout.write(`${lessons.length} lessons\n`);

// What is asked depends on what was joined before: each round adds what the last one's trees come upon.
const samples: Decision[] = [];
let trees: number[][] = [];
for (let round = 0; round < ROUNDS; round++) {
  const scoring: TextureScoring =
    round === 0 ? { rate: (features) => features[1]! - 0.8, joinsFrom: 0 } : scoringOf(trees);
  const before = samples.length;
  for (const lesson of lessons) learn(lesson, scoring);
  const fresh = samples.slice(before);
  const right = fresh.filter(({ right, joined }) => right === joined).length;
  const wrong = fresh.filter(({ right, joined }) => joined && !right).length;
  process.stdout.write(
    `round ${round}: ${fresh.length} decisions, ${right} right, ${wrong} joined wrongly, ${fresh.length - right - wrong} left apart wrongly\n`,
  );
  trees = growForest(samples, GROW);
}
await writeFile(
  FILE,
  `/** Made by \`node --import tsx bench/src/gaps/fitTexture.ts\`: groups of cells are one from this score on. */
export const TEXTURE_JOINS_FROM = ${JOINS_FROM.toFixed(3)};

/** What ink between them is rated by, a tree a row. */
// prettier-ignore
export const TEXTURE_TREES: readonly (readonly number[])[] = [
${trees.map((tree) => `  [${tree.join(', ')}],`).join('\n')}
];
`,
);
const asked = TEXTURE_FEATURES.map(
  (feature, k) =>
    [feature, trees.reduce((sum, tree) => sum + tree.slice(0, 7).filter((at) => at === k).length, 0)] as const,
);
process.stdout.write(`asked: ${asked.map(([feature, times]) => `${feature} ${times}`).join(', ')}\n`);

function scoringOf(rows: readonly (readonly number[])[]): TextureScoring {
  const forest = compileForest(rows);
  return { rate: (features) => rate(forest, features), joinsFrom: JOINS_FROM };
}

function learn({ survey, truth, parts, weight }: Lesson, scoring: TextureScoring): void {
  const { graph, lineWidthPx, maxGapPx } = survey;
  const { facts, pairs, cuts, texture } = graph;
  const { groupOfCell, bounds } = mergeCells(facts, pairs, cuts, texture, lineWidthPx.median, maxGapPx, []);
  const known = truth.copy();
  const meant = parts?.copy();
  groupOfCell.forEach((group, cell) => {
    known.join(group, cell);
    meant?.join(group, cell);
  });
  const kept = new Uint8Array(facts.count);
  const closed = closedPairs(pairs, cuts, bounds);
  absorbTexture(
    facts,
    graph.textureBorders,
    closed,
    graph.cells.first,
    groupOfCell.slice(),
    kept,
    lineWidthPx.median,
    (a, b, features, joined) => {
      // Where a line was drawn between two of the same part nobody knows whether it was meant to bound anything.
      const apart = known.areApart(a, b);
      if (meant === undefined || meant.areApart(a, b) === apart) {
        const small = Math.min(known.areaOf(a), known.areaOf(b)) < SMALL_PX;
        samples.push({
          features: [...features],
          right: !apart,
          weight: small ? weight * SMALL_WEIGHT : weight,
          joined,
        });
      }
      if (joined) {
        known.join(a, b);
        meant?.join(a, b);
      }
    },
    scoring,
  );
}
