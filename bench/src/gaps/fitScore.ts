import { DEFAULT_PREP, NO_GAPS_PREP, surveyPage, type GreyRaster } from '@jumble/core';
import { mergeCells, scoreAt, SCORE_TERMS } from '@jumble/core/gaps';
import { renderInk } from '@jumble/demo';
import { fitLogistic, type Sample } from '../fitLogistic.ts';
import { generateDrawing, STYLES } from './generateDrawing.ts';
import { partsIn } from './partsIn.ts';

/**
 * Fits the weights of the closure score by logistic regression on generated drawings (seeds 1 to 24,
 * which nothing is measured on) and the demo pages: `node --import tsx bench/src/gaps/fitScore.ts`.
 */
const samples: Sample[] = [];
/** Closures as the present weights rate them, for the calibration. */
const ruled: { score: number; parts: boolean }[] = [];
for (let seed = 1; seed <= 24; seed++) {
  for (const style of STYLES) {
    const gapWidths = [0, 0.5, 1, 2, 4][seed % 5]!;
    const { ink, shut } = await generateDrawing(seed, style, { gapWidths, gapShare: 0.6 });
    collect(ink, shut, 1);
  }
}
for (const page of [1, 2]) collect(await renderInk(page), await renderInk(page, 1, true), 2);

function collect(ink: GreyRaster, shut: GreyRaster, weight: number): void {
  const survey = surveyPage(ink, DEFAULT_PREP);
  const truth = surveyPage(shut, NO_GAPS_PREP);
  const { graph, lineWidthPx, maxGapPx } = survey;
  const votes = new Float64Array(graph.pairs.count);
  for (const closure of survey.closures)
    ruled.push({ score: scoreAt(closure.confidence), parts: partsIn(truth, closure) });
  graph.cuts.forEach((cut, k) => {
    const pair = graph.pairs.ofCut[k]!;
    if (pair >= 0) votes[pair] = votes[pair]! + cut.widthPx * (partsIn(truth, cut) ? 1 : -1);
  });
  mergeCells(
    graph.facts,
    graph.pairs,
    graph.cuts,
    graph.texture,
    lineWidthPx.median,
    maxGapPx,
    () => undefined,
    (pairs, terms) => {
      const vote = pairs.reduce((sum, pair) => sum + votes[pair]!, 0);
      samples.push({ terms, right: vote > 0, weight });
    },
  );
}

/** Weights found on natural drawings, which the fit may leave only for good reason. */
const START = [-2.95, -0.19, 1.55, -0.19, -1.37, 0.4, -1, 0, 0, 0];
const PRIOR = 12;

/** Bins of score that the calibration has a knot for each of. */
const BINS = [-9, -4, -3, -2.4, -1.9, -1.5, -1.1, -0.7, -0.3, 0.1, 0.5, 1, 1.6, 2.4, 3.4, 9];

/** Share of true closures by score, never falling: pools of neighbouring bins (Ayer et al. 1955). */
function calibrate(): (readonly [number, number])[] {
  const pools: { count: number; right: number; score: number }[] = [];
  for (let k = 0; k + 1 < BINS.length; k++) {
    const inBin = ruled.filter(({ score }) => score >= BINS[k]! && score < BINS[k + 1]!);
    if (inBin.length === 0) continue;
    pools.push({
      count: inBin.length,
      right: inBin.filter((one) => one.parts).length,
      score: inBin.reduce((sum, one) => sum + one.score, 0),
    });
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
  return pools.map(({ count, right, score }) => [score / count, right / count] as const);
}

const w = fitLogistic(samples, START, PRIOR);
const positive = samples.filter((sample) => sample.right).length;
process.stdout.write(`${samples.length} decisions, ${positive} of them true closures\n`);
process.stdout.write(`${SCORE_TERMS.map((term, k) => `${term} ${w[k]!.toFixed(2)}`).join(', ')}\n`);
process.stdout.write(`[${w.map((v) => v.toFixed(2)).join(', ')}]\n`);
process.stdout.write(
  `calibration of the present weights: ${calibrate()
    .map(([score, share]) => `[${score.toFixed(2)}, ${share.toFixed(3)}]`)
    .join(', ')}\n`,
);
for (let band = 0; band < 10; band++) {
  const inBand = samples.filter(({ terms }) => {
    const p = 1 / (1 + Math.exp(-terms.reduce((sum, term, k) => sum + term * w[k]!, 0)));
    return p >= band / 10 && p < (band + 1) / 10;
  });
  if (inBand.length > 0)
    process.stdout.write(
      `band ${(band / 10).toFixed(1)}: ${inBand.length} decisions, ${(inBand.filter((one) => one.right).length / inBand.length).toFixed(2)} right\n`,
    );
}
