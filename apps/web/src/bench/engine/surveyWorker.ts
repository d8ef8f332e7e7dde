import { buildPyramid, findTouching, surveyPage, type Survey, type SurveyStep } from '@jumble/core';
import type { SurveyAnswer, SurveyRequest } from './messages.ts';

const STEP: Record<SurveyStep, { text: string; share: number }> = {
  ink: { text: 'The regions are found', share: 0.45 },
  label: { text: 'The trap is worked out', share: 0.5 },
  trap: { text: 'The lines are measured', share: 0.6 },
  measure: { text: 'The gaps are found', share: 0.7 },
  gaps: { text: 'The regions are divided', share: 0.9 },
  divide: { text: 'The page is made ready to be shown', share: 0.95 },
};

let survey: Survey | undefined;
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
    if (survey === undefined) throw new Error('The page is not read yet.');
    answer({ kind: 'touching', id: request.id, pairs: findTouching(survey) });
    return;
  }
  const { id, width, height } = request;
  answer({ kind: 'step', id, text: 'The line art is fetched', share: 0.05 });
  const response = await fetch(request.url);
  if (!response.ok) throw new Error('The line art could not be fetched. Reload the page.');
  const data = new Uint8Array(await response.arrayBuffer());
  answer({ kind: 'step', id, text: 'The ink is read', share: 0.25 });
  survey = surveyPage({ width, height, data }, request.prep, {
    allocate: shared,
    onStep: (step) => answer({ kind: 'step', id, ...STEP[step] }),
  });
  answer({ kind: 'surveyed', id, survey, levels: buildPyramid(survey, shared) });
}
