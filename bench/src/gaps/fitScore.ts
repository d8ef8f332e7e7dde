import { DEFAULT_PREP, NO_GAPS_PREP, surveyPage, type GreyRaster } from '@jumble/core';
import { CALIBRATION, mergeCells, SCORE_TERMS } from '@jumble/core/gaps';
import { renderInk } from '@jumble/demo';
import { generateDrawing, STYLES } from './generateDrawing.ts';
import { partsIn } from './partsIn.ts';

/**
 * Fits the weights of the closure score by logistic regression on generated drawings (seeds 1 to 24,
 * which nothing is measured on) and the demo pages: `node --import tsx bench/src/gaps/fitScore.ts`.
 */
interface Sample {
  readonly terms: readonly number[];
  readonly parts: boolean;
  readonly weight: number;
}

const samples: Sample[] = [];
/** Closures as the present weights rate them, for the calibration. */
const ruled: { confidence: number; parts: boolean }[] = [];
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
  for (const closure of survey.closures) ruled.push({ confidence: closure.confidence, parts: partsIn(truth, closure) });
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
      samples.push({ terms, parts: vote > 0, weight });
    },
  );
}

/** Weights found on natural drawings, which the fit may leave only for good reason. */
const START = [-2.95, -0.19, 1.55, -0.19, -1.37, 0.4, -1, 0, 0, 0];
const PRIOR = 12;

/** Newton's method on the penalised likelihood. */
function fit(): number[] {
  const n = SCORE_TERMS.length;
  let w = new Array<number>(n).fill(0);
  for (let round = 0; round < 30; round++) {
    const gradient = w.map((v, k) => -PRIOR * (v - START[k]!));
    const hessian = Array.from({ length: n }, (_, i) => Array.from({ length: n }, (_, j) => (i === j ? PRIOR : 0)));
    for (const { terms, parts, weight } of samples) {
      const p = 1 / (1 + Math.exp(-terms.reduce((sum, term, k) => sum + term * w[k]!, 0)));
      for (let i = 0; i < n; i++) {
        gradient[i]! += weight * ((parts ? 1 : 0) - p) * terms[i]!;
        for (let j = 0; j < n; j++) hessian[i]![j]! += weight * p * (1 - p) * terms[i]! * terms[j]!;
      }
    }
    const step = solve(hessian, gradient);
    w = w.map((v, k) => v + step[k]!);
  }
  return w;
}

function solve(matrix: number[][], right: number[]): number[] {
  const rows = matrix.map((row, k) => [...row, right[k]!]);
  const n = rows.length;
  for (let c = 0; c < n; c++) {
    const pivot = rows
      .slice(c)
      .reduce((best, row, k) => (Math.abs(row[c]!) > Math.abs(rows[best]![c]!) ? c + k : best), c);
    [rows[c], rows[pivot]] = [rows[pivot]!, rows[c]!];
    for (let r = 0; r < n; r++) {
      if (r === c) continue;
      const factor = rows[r]![c]! / rows[c]![c]!;
      for (let k = c; k <= n; k++) rows[r]![k]! -= factor * rows[c]![k]!;
    }
  }
  return rows.map((row, k) => row[n]! / row[k]!);
}

/** Slope and shift that make the score of single closures a log-odds (Platt 1999). */
function calibrate(): number[] {
  let w = [1, 0];
  for (let round = 0; round < 40; round++) {
    const gradient = [0, 0];
    const hessian = [
      [1e-6, 0],
      [0, 1e-6],
    ];
    for (const { confidence, parts } of ruled) {
      const c = Math.min(0.999, Math.max(0.001, confidence));
      // Back from the confidence to the score.
      const terms = [(Math.log(c / (1 - c)) - CALIBRATION.shift) / CALIBRATION.slope, 1];
      const p = 1 / (1 + Math.exp(-terms.reduce((sum, term, k) => sum + term * w[k]!, 0)));
      for (let i = 0; i < 2; i++) {
        gradient[i]! += ((parts ? 1 : 0) - p) * terms[i]!;
        for (let j = 0; j < 2; j++) hessian[i]![j]! += p * (1 - p) * terms[i]! * terms[j]!;
      }
    }
    const step = solve(hessian, gradient);
    w = w.map((v, k) => v + step[k]!);
  }
  return w;
}

const w = fit();
const positive = samples.filter((sample) => sample.parts).length;
process.stdout.write(`${samples.length} decisions, ${positive} of them true closures\n`);
process.stdout.write(`${SCORE_TERMS.map((term, k) => `${term} ${w[k]!.toFixed(2)}`).join(', ')}\n`);
process.stdout.write(`[${w.map((v) => v.toFixed(2)).join(', ')}]\n`);
process.stdout.write(
  `calibration of the present weights: slope and shift ${calibrate()
    .map((v) => v.toFixed(2))
    .join(', ')}\n`,
);
for (let band = 0; band < 10; band++) {
  const inBand = samples.filter(({ terms }) => {
    const p = 1 / (1 + Math.exp(-terms.reduce((sum, term, k) => sum + term * w[k]!, 0)));
    return p >= band / 10 && p < (band + 1) / 10;
  });
  if (inBand.length > 0)
    process.stdout.write(
      `band ${(band / 10).toFixed(1)}: ${inBand.length} decisions, ${(inBand.filter((one) => one.parts).length / inBand.length).toFixed(2)} right\n`,
    );
}
