import {
  DEFAULT_PREP,
  NO_GAPS_PREP,
  openSurvey,
  redrawSurvey,
  ruleSurvey,
  surveyPage,
  type OpenSurvey,
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

const totals: number[] = [];
const pool: ArrayBuffer[] = [];
let regions = 0;
for (let run = 0; run < RUNS; run++) {
  timed('copy', () => copy.set(grey.data));
  let last = performance.now();
  let slot = 0;
  const started = last;
  const survey = surveyPage(grey, NO_GAPS_PREP, {
    // Page-sized memory is made once: what is timed is the reading.
    allocate: (bytes) => (pool[slot] ??= new ArrayBuffer(bytes)) && pool[slot++]!,
    onStep: (step) => {
      const now = performance.now();
      // Without gaps these steps are empty.
      if (step !== 'gaps' && step !== 'divide') keep(step, now - last);
      last = now;
    },
  });
  totals.push(performance.now() - started);
  regions = survey.regions.count;
}
// The same with gaps, then what a ruling, the gap control and a closure drawn by hand cost.
let gapRegions = 0;
let closures = 0;
for (let run = 0; run < RUNS; run++) {
  let last = performance.now();
  const opened = openSurvey(grey, DEFAULT_PREP, {
    onStep: (step) => {
      const now = performance.now();
      if (step === 'gaps' || step === 'divide') keep(step, now - last);
      last = now;
    },
  });
  gapRegions = opened.survey.regions.count;
  closures = opened.survey.closures.length;
  const { maxGapPx } = opened.survey;
  for (let k = 1; k <= 3; k++) timed('rule', () => ruleSurvey(opened.survey, maxGapPx - k * 10, new Map()));
  // Across one shape, and across the background from the page's edge to its middle.
  for (const [step, key] of HAND_CLOSURES) {
    let drawn: OpenSurvey = opened;
    timed(step, () => (drawn = redrawSurvey(opened, [key], maxGapPx, new Map())));
    if (drawn.survey.cellCount <= opened.survey.cellCount) throw new Error(`${key} parts nothing`);
    timed(step, () => redrawSurvey(drawn, [], maxGapPx, new Map()));
  }
}
timed('naive', () => naiveSurvey(grey));

const dense = (await tiledPage(DENSE_ACROSS)).ink;
let looseEnds = 0;
for (let run = 0; run < RUNS; run++) {
  let gaps = 0;
  let last = 0;
  const { survey } = openSurvey(dense, DEFAULT_PREP, {
    onStep: (step) => {
      const now = performance.now();
      if (step === 'gaps' || step === 'divide') gaps += now - last;
      last = now;
    },
  });
  keep('dense', gaps);
  ({ looseEnds } = survey);
}
process.stdout.write(`${JSON.stringify({ best, totals, regions, gapRegions, closures, looseEnds })}\n`);
