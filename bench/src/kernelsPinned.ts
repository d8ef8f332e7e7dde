import {
  DEFAULT_PREP,
  NO_GAPS_PREP,
  openSurvey,
  ruleSurvey,
  type GreyRaster,
  type WorkingPage,
  type Prep,
  type SurveyStep,
} from '@jumble/core';
import { largePage } from './largePage.ts';
import { naiveSurvey } from './naiveSurvey.ts';
import { tiledPage } from './tiledPage.ts';

/** Runs alone in a process pinned to one core; prints one line of JSON. */
const RUNS = 9;
/** Pages at two thirds of their size hold as many loose ends as dense pages do. */
const DENSE_ACROSS = 1.5;
const HAND_CLOSURES = [
  ['redraw', '2300,500-2300,900'],
  ['redrawBackground', '0,60-4124,60'],
] as const;

const grey = await largePage();
const copy = new Uint8Array(grey.data.length);
const best: Record<string, number> = {};
const keep = (step: string, ms: number): void => {
  best[step] = Math.min(best[step] ?? Infinity, ms);
};
const timed = (step: string, work: () => void): void => {
  const started = performance.now();
  work();
  keep(step, performance.now() - started);
};

/** Page-sized memory is made once: what is timed is the reading. */
const pool: ArrayBuffer[] = [];
const openWith = (
  page: GreyRaster,
  prep: Prep,
  onStep: (step: SurveyStep, ms: number) => void,
): [WorkingPage, number] => {
  for (const memory of pool) new Uint8Array(memory).fill(0);
  let slot = 0;
  const started = performance.now();
  let last = started;
  const opened = openSurvey(page, prep, {
    allocate: (bytes) => (pool[slot] ??= new ArrayBuffer(bytes)) && pool[slot++]!,
    onStep: (step) => {
      const now = performance.now();
      onStep(step, now - last);
      last = now;
    },
  });
  return [opened, performance.now() - started];
};

const totals: number[] = [];
let regions = 0;
let gapRegions = 0;
let closures = 0;
for (let run = 0; run < RUNS; run++) {
  timed('copy', () => copy.set(grey.data));
  const [{ survey }, total] = openWith(grey, NO_GAPS_PREP, keep);
  totals.push(total);
  regions = survey.regions.count;
  // The same with gaps, then what a ruling, the gap control and a closure drawn by hand cost.
  const [opened, withGaps] = openWith(grey, DEFAULT_PREP, () => undefined);
  keep('withGaps', withGaps);
  gapRegions = opened.survey.regions.count;
  closures = opened.survey.closures.length;
  const { maxGapPx } = opened.survey;
  for (let k = 1; k <= 3; k++) timed('rule', () => ruleSurvey(opened.survey, maxGapPx - k * 10, new Map()));
  // Across one shape, and across the background from the page's edge to its middle.
  for (const [step, key] of HAND_CLOSURES) {
    const { cellCount } = opened.survey;
    timed(step, () => opened.cut([key], maxGapPx, new Map()));
    if (opened.survey.cellCount <= cellCount) throw new Error(`${key} parts nothing`);
    timed(step, () => opened.cut([], maxGapPx, new Map()));
  }
}
timed('naive', () => naiveSurvey(grey));

const dense = (await tiledPage(DENSE_ACROSS)).ink;
let looseEnds = 0;
for (let run = 0; run < RUNS; run++) {
  keep('dense', openWith(dense, NO_GAPS_PREP, () => undefined)[1]);
  const [{ survey }, withGaps] = openWith(dense, DEFAULT_PREP, () => undefined);
  keep('denseWithGaps', withGaps);
  ({ looseEnds } = survey);
}
process.stdout.write(`${JSON.stringify({ best, totals, regions, gapRegions, closures, looseEnds })}\n`);
