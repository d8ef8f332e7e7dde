import {
  autoMaxGap,
  coarsePaper,
  buildPyramid,
  findTouching,
  openSurvey,
  redrawSurvey,
  refreshPyramid,
  ruleSurvey,
  traceLeak,
  type OpenSurvey,
  type PyramidLevel,
  type SurveyStep,
} from '@jumble/core';
import type { DivideBy, SurveyAnswer, SurveyRequest } from './messages.ts';

const STEP: Record<SurveyStep, { text: string; share: number }> = {
  ink: { text: 'The regions are found', share: 0.45 },
  label: { text: 'The trap is worked out', share: 0.5 },
  trap: { text: 'The lines are measured', share: 0.6 },
  measure: { text: 'The gaps are found', share: 0.7 },
  gaps: { text: 'The regions are divided', share: 0.9 },
  divide: { text: 'The page is made ready to be shown', share: 0.95 },
};

let open: OpenSurvey | undefined;
let levels: PyramidLevel[] = [];
let drawn = '';
const shared = (bytes: number): SharedArrayBuffer => new SharedArrayBuffer(bytes);
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
    answer({ kind: 'divided', id: request.id, survey: opened().survey });
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
  const { id, width, height } = request;
  answer({ kind: 'step', id, text: 'The line art is fetched', share: 0.05 });
  const response = await fetch(request.url);
  if (!response.ok) throw new Error('The line art could not be fetched. Reload the page.');
  const data = new Uint8Array(await response.arrayBuffer());
  answer({ kind: 'step', id, text: 'The ink is read', share: 0.25 });
  open = openSurvey({ width, height, data }, request.prep, {
    allocate: shared,
    onStep: (step) => answer({ kind: 'step', id, ...STEP[step] }),
    rulings: request.by.rulings,
    drawn: request.by.drawn,
  });
  drawn = request.by.drawn.join(' ');
  levels = buildPyramid(open.survey, shared);
  answer({ kind: 'surveyed', id, survey: open.survey, levels });
}

function opened(): OpenSurvey {
  if (open === undefined) throw new Error('The page is not read yet.');
  return open;
}

/** Rulings change tables; a closure drawn by hand cuts the paper itself anew. */
function divide({ maxGapPx, rulings, drawn: closures }: DivideBy): void {
  const { base, survey } = opened();
  const limit = maxGapPx === 'auto' ? autoMaxGap(survey.lineWidthPx.median, survey.width, survey.height) : maxGapPx;
  const next = closures.join(' ');
  if (next === drawn) open = { base, survey: ruleSurvey(survey, limit, rulings) };
  else {
    open = redrawSurvey(opened(), closures, limit, rulings);
    drawn = next;
    refreshPyramid(levels);
  }
}
