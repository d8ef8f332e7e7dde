import {
  buildPyramid,
  checkFlats,
  compileTrap,
  contourGroups,
  compose,
  DEFAULT_JOB_TRAP,
  DEFAULT_PREP,
  findLinePieces,
  findPieceSides,
  findTrapFaults,
  findTrapInk,
  NO_TRAP_INK,
  NO_GAPS_PREP,
  holdInputOf,
  openSurvey,
  paintHolds,
  paintOfRegions,
  renderParts,
  ruleSurvey,
  trapOfRegions,
  type GreyRaster,
  type JobTrap,
  type RegionTrap,
  type WorkingPage,
  type Prep,
  type SurveyStep,
} from '@jumble/core';
import { largePage } from './largePage.ts';
import { naiveSurvey } from './naiveSurvey.ts';
import { tiledPage } from './tiledPage.ts';

/** Runs alone in a process pinned to one core; prints one line of JSON. */
const RUNS = 9;
const HOLD_RUNS = 3;
/** Pages at two thirds of their size hold as many loose ends as dense pages do. */
const DENSE_ACROSS = 1.5;
/** Parts that the regions of the page are shared out among where trap is measured. */
const TRAP_PARTS = 12;
const SCREEN = { width: 900, height: 740 };
/** The whole page, and true pixels in its middle. */
const VIEWS = [
  { x: 0, y: 0, scale: 0.11 },
  { x: 1800, y: 3000, scale: 1 },
];
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
// Trap on the page as it is opened: what is handed off, under each rule, and a changed rule on the screen.
const { survey: opened } = openWith(grey, DEFAULT_PREP, () => undefined)[0];
const partOfRegion = Array.from({ length: opened.regions.count }, (_, r) => String(r % TRAP_PARTS));
const numbers = Int32Array.from(partOfRegion, Number);
const parts = Array.from({ length: TRAP_PARTS }, (_, k) => ({ id: String(k), empty: false }));
const TRAP_RULES: readonly [string, JobTrap][] = [
  ['trapMiddle', DEFAULT_JOB_TRAP],
  ['trapDepth', { ...DEFAULT_JOB_TRAP, rule: { rule: 'depth', depthPx: 4 } }],
  ['trapMax', { ...DEFAULT_JOB_TRAP, rule: { rule: 'max', marginPx: 1 } }],
  ['trapSolids', { ...DEFAULT_JOB_TRAP, solids: { rule: 'edge' } }],
];
const levels = buildPyramid(opened);
const flats = new ArrayBuffer(2 * opened.width * opened.height);
new Uint8Array(flats).fill(0);
const screen = new Uint32Array(SCREEN.width * SCREEN.height);
const decide = (job: JobTrap): RegionTrap =>
  trapOfRegions(opened, { job, page: { trap: null, areas: new Map(), panels: null }, parts, partOfRegion, dpi: 600 });
for (let run = 0; run < RUNS; run++) {
  for (const [step, job] of TRAP_RULES) {
    let ink = NO_TRAP_INK;
    // Once for a page, whatever the rules.
    timed(step === 'trapSolids' ? 'trapInkSolids' : 'trapInk', () => (ink = findTrapInk(opened, decide(job))));
    timed(step, () => renderParts(opened, numbers, TRAP_PARTS, decide(job), ink, undefined, () => flats));
    for (const view of VIEWS) {
      timed(`screen ${step} ${view.scale}`, () => {
        const table = compileTrap(opened, decide(job), ink);
        const paint = paintOfRegions(opened, numbers, new Uint32Array(TRAP_PARTS).fill(0xff808080), table);
        compose(levels, paint, { ...SCREEN, ...view }, screen, { trapMapPx: 1 });
      });
    }
  }
  timed('trapFaults', () => {
    const trap = decide(TRAP_RULES[1]![1]);
    findTrapFaults(opened, numbers, trap, findTrapInk(opened, trap));
  });
}
// Lines of the same page: divided, coloured by the blurred surroundings, and a changed rule on the screen.
const [linePage] = openWith(grey, DEFAULT_PREP, () => undefined);
const groups = [{ parts: parts.map((part, k) => ({ ...part, rgb: 0x203040 + k * 0x0a0f14 })) }];
for (let run = 0; run < HOLD_RUNS; run++) {
  let pieces = findLinePieces(linePage.base, linePage.survey);
  timed('linePieces', () => (pieces = findLinePieces(linePage.base, linePage.survey)));
  const raster = { width: opened.width, height: opened.height, data: new Uint16Array(flats), rgb: groups[0]!.parts.map(({ rgb }) => rgb) }; // prettier-ignore
  const sides = findPieceSides(pieces, linePage.survey);
  const input = holdInputOf({ pieces, sides, groups, partOfRegion, flats: () => raster });
  timed('holdBlur', () =>
    paintHolds(input, [{ lines: { all: true }, colour: { around: { radiusPx: 40, darken: 0.4 } } }]),
  );
  timed('holdScreen', () => {
    const { paint: holds } = paintHolds(input, [{ lines: { all: true }, colour: { darken: 0.4 } }]);
    const table = compileTrap(opened, decide(DEFAULT_JOB_TRAP), NO_TRAP_INK);
    const paint = paintOfRegions(opened, numbers, new Uint32Array(TRAP_PARTS).fill(0xff808080), table);
    compose(levels, { ...paint, holds }, { ...SCREEN, ...VIEWS[1]! }, screen);
  });
}
// Flats of any origin against the same ink, already opened.
const checked = {
  page: opened,
  flats: {
    width: opened.width,
    height: opened.height,
    data: new Uint16Array(flats),
    rgb: groups[0]!.parts.map(({ rgb }) => rgb),
  },
  regionOfCell: contourGroups(opened, 2).ofCell,
  palette: null,
};
for (let run = 0; run < HOLD_RUNS; run++) timed('check', () => void checkFlats(checked));
best.trapScreen = Math.max(...Object.entries(best).flatMap(([step, ms]) => (step.startsWith('screen ') ? [ms] : [])));
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
