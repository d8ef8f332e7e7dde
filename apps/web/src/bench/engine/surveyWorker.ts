import {
  autoMaxGap,
  coarsePaper,
  contourGroups,
  buildPyramid,
  describeRegions,
  findChanges,
  findPanels,
  findTouching,
  greyAround,
  joinBoxes,
  measureLineArt,
  editsOfSpread,
  measureSkew,
  neighbourRegions,
  panelOfPoints,
  proposeFromExamples,
  readKeyInTurns,
  registerKey,
  solveMarks,
  openSurvey,
  readInk,
  redrawSurvey,
  refreshPyramid,
  ruleSurvey,
  silhouetteInLoop,
  splitByKey,
  spreadFrom,
  traceLeak,
  unpackCuts,
  type Change,
  type OpenSurvey,
  type OtherInk,
  type PixelBox,
  type PyramidLevel,
  type StoredCuts,
  type Survey,
  type SurveyStep,
} from '@jumble/core';
import { problemOf } from '../../api/http.ts';
import { rehearseClosures } from './rehearseClosures.ts';
import type { DivideBy, ReadFrom, ShownSurvey, SurveyAnswer, SurveyRequest } from './messages.ts';

const STEP: Record<SurveyStep, { text: string; share: number }> = {
  ink: { text: 'The trap is worked out', share: 0.45 },
  trap: { text: 'The lines are measured', share: 0.6 },
  measure: { text: 'The gaps are found', share: 0.65 },
  gaps: { text: 'The regions are found', share: 0.85 },
  label: { text: 'The regions are divided', share: 0.9 },
  divide: { text: 'The page is made ready to be shown', share: 0.95 },
};

/** How often it is told how far a key is read. */
const KEY_STEP_MS = 60;
/** What was asked for is no longer wanted. */
class Stopped extends Error {}

let open: OpenSurvey | undefined;
let levels: PyramidLevel[] = [];
let drawn = '';
/** The paper that has other cells than when a division was last answered. */
let changed: PixelBox | null = null;
let readFrom: ReadFrom | undefined;
const shared = (bytes: number): SharedArrayBuffer => new SharedArrayBuffer(bytes);
const plain = (bytes: number): ArrayBuffer => new ArrayBuffer(bytes);
const answer = (message: SurveyAnswer): void => postMessage(message);

self.onmessage = (event: MessageEvent<SurveyRequest>) => {
  const request = event.data;
  run(request).catch((error: unknown) => {
    answer({ kind: 'failed', id: request.id, message: error instanceof Error ? error.message : String(error) });
  });
};

async function run(request: SurveyRequest): Promise<void> {
  if (request.kind === 'touching') {
    answer({ kind: 'touching', id: request.id, pairs: findTouching(opened().survey) });
    return;
  }
  if (request.kind === 'divide') {
    divide(request.by);
    answer({ kind: 'divided', id: request.id, survey: shown(opened().survey), changed });
    changed = null;
    return;
  }
  if (request.kind === 'contours') {
    answer({ kind: 'contoured', id: request.id, groups: contourGroups(opened().survey, request.holdFrom) });
    return;
  }
  if (request.kind === 'silhouette') {
    const { loop, share, holdFrom, mayTake } = request;
    const found = silhouetteInLoop(opened().survey, holdFrom, loop, share, (region) => mayTake?.[region] !== 0);
    answer({ kind: 'silhouetted', id: request.id, ...found });
    return;
  }
  if (request.kind === 'marks') {
    const { document, options, panel, preview } = request;
    const within = panel === null ? null : insidePanel(panel, opened().survey.width);
    const solved = solveMarks(opened(), document, options, within);
    if (solved.drawn.length > 0 && preview) {
      // The paper was cut on the way: it goes back to what is decided.
      const { maxGapPx } = solved.open.survey;
      const { changed: back, ...redrawn } = redrawSurvey(solved.open, document.drawn, maxGapPx, document.rulings);
      open = redrawn;
      changed = joinBoxes(changed, joinBoxes(solved.changed, back));
    } else if (solved.drawn.length > 0) {
      // The page is cut anew already: what comes next divides it by the same closures.
      open = solved.open;
      drawn = [...document.drawn, ...solved.drawn].sort().join(' ');
      if (solved.changed !== null) refreshPyramid(levels, solved.changed);
      changed = joinBoxes(changed, solved.changed);
    }
    let stamp = 0;
    for (const fill of document.fills.values()) stamp = Math.max(stamp, fill.stamp + 1);
    const edits = editsOfSpread(document, solved, stamp);
    answer({ kind: 'marked', id: request.id, edits, drawn: solved.drawn });
    return;
  }
  if (request.kind === 'key') {
    const { survey } = opened();
    const { key, place, parts, stop } = request;
    const isStopped = new Int32Array(stop);
    let told = 0;
    const onStep = (share: number): void => {
      if (Atomics.load(isStopped, 0) !== 0) throw new Stopped();
      if (performance.now() < told + KEY_STEP_MS) return;
      told = performance.now();
      answer({ kind: 'step', id: request.id, text: 'The key is read', share });
    };
    try {
      onStep(0);
      const match = registerKey(survey, key);
      const at = place ?? match.place;
      const laid = { id: request.id, match: { ...match, place: at } };
      for (const reading of readKeyInTurns(survey, key, at, parts, onStep)) {
        if (!reading.isWhole) answer({ kind: 'keySeen', ...laid, reading });
        else answer({ kind: 'keyRead', ...laid, reading, splits: splitByKey(survey, key, at, parts) });
      }
    } catch (error) {
      if (!(error instanceof Stopped)) throw error;
      answer({ kind: 'dropped', id: request.id });
    }
    return;
  }
  if (request.kind === 'examples') {
    const { inkAlpha, width, height } = opened().survey;
    const traits = describeRegions(opened(), request.panels ?? findPanels(inkAlpha, width, height));
    const own = request.own === null ? [] : [{ traits, parts: request.own }];
    const wanted = new Set(request.wanted);
    const proposals = proposeFromExamples(traits, (region) => wanted.has(region), [...request.examples, ...own]);
    answer({ kind: 'exampled', id: request.id, proposals });
    return;
  }
  if (request.kind === 'neighbours') {
    answer({ kind: 'neighbours', id: request.id, pairs: neighbourRegions(opened()) });
    return;
  }
  if (request.kind === 'trace') {
    const { base, survey } = opened();
    // Where no gaps are looked for, the distances are measured now.
    const { paper, paperFactor } = base.found ?? coarsePaper(base.bounds, survey.width, survey.height);
    const trace = traceLeak(survey, paper, paperFactor, request.from, request.to);
    answer({ kind: 'traced', id: request.id, trace });
    return;
  }
  if (request.kind === 'spread') {
    const { base, survey } = opened();
    const { paper, paperFactor } = base.found ?? coarsePaper(base.bounds, survey.width, survey.height);
    answer({ kind: 'spread', id: request.id, spread: spreadFrom(survey, paper, paperFactor, request.at) });
    return;
  }
  if (request.kind === 'stopDescribing') {
    describing = 0;
    return;
  }
  if (request.kind === 'describe') {
    await describe(request.id, request.panels, request.ruledSolids);
    return;
  }
  if (request.kind === 'grey') {
    answer({ kind: 'greyFound', id: request.id, grey: greyAround(opened().base.grey, request.x, request.y) });
    return;
  }
  if (request.kind === 'changes') {
    answer({ kind: 'changed', id: request.id, changes: await changesSince(request.url) });
    return;
  }
  const { id, from, by, cutsUrl } = request;
  const { width, height } = from;
  describing = 0;
  answer({ kind: 'step', id, text: 'The line art is fetched', share: 0.05 });
  const cuts = cutsUrl === null ? null : cutsAt(cutsUrl, width * height);
  const data = await rasterAt(from.url);
  const others: OtherInk[] = [];
  for (const { url, bounds } of from.others)
    others.push({ grey: { width, height, data: await rasterAt(url) }, bounds });
  for (const url of rasters.keys())
    if (url !== from.url && !from.others.some((one) => one.url === url)) rasters.delete(url);
  answer({ kind: 'step', id, text: 'The ink is read', share: 0.25 });
  readFrom = from;
  open = openSurvey({ width, height, data }, from.prep, {
    allocate: shared,
    onStep: (step) => answer({ kind: 'step', id, ...STEP[step] }),
    known: await cuts,
    rulings: by.rulings,
    drawn: by.drawn,
    others,
    ownBounds: from.ownBounds,
    solids: from.solids,
  });
  drawn = by.drawn.join(' ');
  changed = null;
  levels = buildPyramid(open.survey, shared);
  answer({ kind: 'surveyed', id, survey: shown(open.survey), levels, original: data });
  if (!isRehearsed) setTimeout(() => void rehearse(), REHEARSE_AFTER_MS);
  isRehearsed = true;
}

let isRehearsed = false;
/** The page is looked at before anybody draws; and whatever is asked for goes between two steps. */
const REHEARSE_AFTER_MS = 1500;
const REHEARSE_EVERY_MS = 20;

async function rehearse(): Promise<void> {
  for (const _ of rehearseClosures()) await new Promise((resolve) => setTimeout(resolve, REHEARSE_EVERY_MS));
}

/** Measuring that is under way; another number means that it is to stop. */
let describing = 0;

/** Measures step by step: what the flatter asks for comes first. */
async function describe(
  id: number,
  panels: Parameters<typeof measureLineArt>[1],
  ruledSolids: Parameters<typeof measureLineArt>[2],
): Promise<void> {
  describing = id;
  const { base, survey } = opened();
  const { blackPoint, whitePoint } = survey.inkPoints;
  const steps = measureLineArt(opened(), panels, ruledSolids);
  for (;;) {
    const step = steps.next();
    if (step.done === true) {
      // A page that was turned is level now: what is left to turn is measured on it.
      const skew = measureSkew(base.grey, (blackPoint + whitePoint) >> 1);
      answer({ kind: 'described', id, facts: step.value, skew });
      return;
    }
    answer({ kind: 'measuring', id, ...step.value });
    await new Promise((resolve) => setTimeout(resolve, 0));
    if (describing !== id) {
      answer({ kind: 'dropped', id });
      return;
    }
  }
}

/** Rasters of the page's files, by address: settings change more often than files. */
const rasters = new Map<string, Uint8Array>();

async function rasterAt(url: string): Promise<Uint8Array> {
  const known = rasters.get(url);
  if (known !== undefined) return known;
  const response = await fetch(url);
  if (!response.ok) throw await problemOf(response);
  const bytes = await response.arrayBuffer();
  // Shared with the drawing worker, which shows it beside the result.
  const data = new Uint8Array(shared(bytes.byteLength));
  data.set(new Uint8Array(bytes));
  rasters.set(url, data);
  return data;
}

/** Gaps that were found before; null where they cannot be had: they are found again. */
async function cutsAt(url: string, pixels: number): Promise<StoredCuts | null> {
  try {
    const response = await fetch(url);
    return response.ok ? unpackCuts(await response.text(), pixels) : null;
  } catch {
    return null;
  }
}

async function changesSince(url: string): Promise<readonly Change[]> {
  const { survey } = opened();
  const { width, height } = survey;
  const grey = { width, height, data: await rasterAt(url) };
  // Only the page's own file was replaced: the others would be the same on both sides.
  const before = readInk(grey, { ...readFrom!.prep, inkPoints: 'auto' }, [], true, plain).printed;
  const own = { width, height, data: await rasterAt(readFrom!.url) };
  const after = readFrom!.others.length === 0 ? survey.inkAlpha : readInk(own, readFrom!.prep, [], true, plain).printed;
  rasters.delete(url);
  return findChanges(before, after, width, height, survey.lineWidthPx.median);
}

function insidePanel(points: readonly (readonly [number, number])[], width: number): (anchor: number) => boolean {
  return (anchor) => panelOfPoints([{ points, framed: true }], Int32Array.of(anchor), width)[0] === 0;
}

function opened(): OpenSurvey {
  if (open === undefined) throw new Error('The page is not read yet.');
  return open;
}

function shown({ graph: _, ...rest }: Survey): ShownSurvey {
  return rest;
}

/** Rulings change tables; a closure drawn by hand cuts the paper itself anew. */
function divide({ maxGapPx, rulings, drawn: closures }: DivideBy): void {
  const { base, survey } = opened();
  const limit = maxGapPx === 'auto' ? autoMaxGap(survey.lineWidthPx.median, survey.width, survey.height) : maxGapPx;
  const next = closures.join(' ');
  if (next === drawn) open = { base, survey: ruleSurvey(survey, limit, rulings) };
  else {
    const { changed: box, ...redrawn } = redrawSurvey(opened(), closures, limit, rulings);
    open = redrawn;
    drawn = next;
    if (box !== null) refreshPyramid(levels, box);
    changed = joinBoxes(changed, box);
  }
}
