import { fitLogistic, type Sample } from '../fitLogistic.ts';
import { FIRST_BOUNDS_SCORE, FIRST_FOREST, mergeCells, OWN_FOREST, BOUNDS_SCORE, OUTLINE_FEATURES, OUTLINE_WEIGHTS, rate, type Scoring } from '@jumble/core/gaps'; // prettier-ignore
import { generateOutline, OUTLINE_KINDS } from './generateOutline.ts';
import { covering, prepareLesson, range, sheetsOf, type Lesson } from './lessons.ts';
import { STYLES } from './generateDrawing.ts';

/**
 * Fits what chords of open outlines are rated by, on generated drawings nothing is measured on, and prints the weights
 * for `rateOutline.ts`: `node --import tsx bench/src/gaps/fitOutlines.ts`.
 */
const LEARN = range(1, 90);
/** Drawings without any open outline: what looks like one there is none. */
const OTHERS = range(1, 20);
const ROUNDS = 4;
const PRIOR = 1;

const lessons: Lesson[] = [];
for (const seed of LEARN)
  for (const kind of OUTLINE_KINDS) lessons.push(prepareLesson(await generateOutline(seed, kind), 1));
for await (const sheet of sheetsOf(OTHERS, STYLES, covering)) lessons.push(prepareLesson(sheet, 1));

let weights = OUTLINE_WEIGHTS;
for (let round = 0; round < ROUNDS; round++) {
  const samples = lessons.flatMap((lesson) => samplesOf(lesson, weights));
  weights = fitLogistic(samples, OUTLINE_FEATURES.map(() => 0), PRIOR); // prettier-ignore
  const right = samples.filter(({ right }) => right).length;
  const asRuled = samples.filter(
    ({ features, right }) => 1 / (1 + Math.exp(-features.reduce((sum, v, k) => sum + v * weights[k]!, 0))) >= 0.4 === right,
  ).length; // prettier-ignore
  process.stdout.write(`${samples.length} chords, ${right} right, ${asRuled} ruled as meant\n`);
}
process.stdout.write(`[${weights.map((w) => Number(w.toFixed(3))).join(', ')}]\n`);

/** What the merge comes upon with some weights, and whether the chord parts what was meant to be apart. */
function samplesOf({ survey, truth: whole }: Lesson, outlineWeights: readonly number[]): Sample[] {
  const { graph, lineWidthPx, maxGapPx } = survey;
  const { pairs } = graph;
  const truth = whole.copy();
  const samples: Sample[] = [];
  const scoring: Scoring = {
    rate: (features) => rate(FIRST_FOREST, features),
    boundsScore: FIRST_BOUNDS_SCORE,
    outlineWeights,
    again: { rate: (features) => rate(OWN_FOREST, features), boundsScore: BOUNDS_SCORE, outlineWeights },
  };
  mergeCells(graph.facts, pairs, graph.cuts, graph.texture, lineWidthPx.median, maxGapPx, [], (merged, features, joined, byOutline) => {
    const [a, b] = [pairs.a[merged[0]!]!, pairs.b[merged[0]!]!];
    if (byOutline) samples.push({ features: [...features], right: truth.areApart(a, b), weight: 1 });
    if (joined) truth.join(a, b);
  }, scoring); // prettier-ignore
  return samples;
}
