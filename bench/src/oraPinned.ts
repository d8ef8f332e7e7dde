import { DEFAULT_PREP, DEFAULT_JOB_TRAP, findTrapInk, openSurvey, trapOfRegions } from '@jumble/core';
import { buildOpenRaster, preparePage } from '@jumble/formats';
import { encodeRgba } from '@jumble/raster-io';
import { largePage } from './largePage.ts';

/** Runs alone in a process pinned to one core; prints one line of JSON. */
const RUNS = 3;
const PARTS = 15;

const grey = await largePage();
let openingMs = Infinity;
let buildMs = Infinity;
let open = openSurvey(grey, DEFAULT_PREP);
for (let run = 0; run < RUNS; run++) {
  const started = performance.now();
  open = openSurvey(grey, DEFAULT_PREP);
  openingMs = Math.min(openingMs, performance.now() - started);
}
const { survey } = open;
const parts = Array.from({ length: PARTS }, (_, k) => ({ id: String(k), name: `Part ${k}`, rgb: 0x203040 + k * 0x0a0f14, empty: false })); // prettier-ignore
const partOfRegion = Array.from({ length: survey.regions.count }, (_, r) => String(r % PARTS));
const page = { trap: null, areas: new Map(), panels: null };
const trap = trapOfRegions(survey, { job: DEFAULT_JOB_TRAP, page, parts, partOfRegion, dpi: 600 });
let bytes = 0;
for (let run = 0; run < RUNS; run++) {
  const started = performance.now();
  const prepared = preparePage({
    survey,
    partOfRegion,
    groups: [{ name: 'All', parts }],
    trap,
    trapInk: findTrapInk(survey, trap),
    underlapPx: 0,
    split: 'part',
    dpi: 600,
    scratch: false,
  });
  bytes = (await buildOpenRaster(prepared, { encodeRgba })).length;
  buildMs = Math.min(buildMs, performance.now() - started);
}
const peakMb = process.resourceUsage().maxRSS / 1024;
process.stdout.write(`${JSON.stringify({ openingMs, buildMs, bytes, peakMb, layers: PARTS })}\n`);
