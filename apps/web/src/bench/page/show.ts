import type { JobView } from '@jumble/contracts';
import { scenesOfPage } from '@jumble/core';
import type { ShownSurvey } from '../engine/messages.ts';
import type { Bench } from '../state/Bench.ts';
import type { ShowMode, StageName } from '../state/benchState.ts';
import type { StageHooks } from '../state/StageHooks.ts';
import { outlinePointed, refreshView, setOptions } from './look.ts';
import { correctionsOn, showPainted } from './painted.ts';
import { followPanels } from './panels.ts';
import { wordsOfParts } from './partColours.ts';
import { shownColours, summarise } from './summarise.ts';
import { followTrapInk, trapOfPage } from './trap.ts';

/** What the stage that is shown does. */
const stageShown = (bench: Bench): StageHooks | undefined =>
  bench.stages.find(({ name }) => name === bench.state.stage);

/** Works out who has which region, and shows it. */
export function refresh(bench: Bench): void {
  const { survey, document: page, cast } = bench.state;
  if (survey === null || page === null || cast === null) return;
  const { scenes, ofRegion } = scenesOfPage(survey, page);
  const words = scenes.map((scene) => wordsOfParts(bench.state, scene));
  const { resolved, openRegions, lookRegions, regionsOfPart, colours } = summarise(
    survey,
    page,
    cast,
    words,
    ofRegion,
    correctionsOn(bench),
  );
  const { current, show, partId } = bench.state;
  const trap = trapOfPage(survey, page, cast, resolved, bench.state.page?.dpi ?? null);
  bench.set({
    trap,
    resolved,
    openRegions,
    lookRegions,
    regionsOfPart,
    current: current !== null && current < survey.regions.count ? current : null,
  });
  bench.engine.paint(shownColours(show, colours, resolved, partId), trap);
  followTrapInk(bench);
  showPainted(bench);
  outlinePointed(bench);
  followPanels(bench);
  for (const stage of bench.stages) stage.partsChanged?.(bench);
  stageShown(bench)?.preview?.(bench);
  drawOver(bench);
}

/** Puts the marks of the stage that is shown over the page. */
export function drawOver(bench: Bench): void {
  bench.engine.overlay(stageShown(bench)?.overlay?.(bench.state) ?? null);
}

/** Takes regions that were divided anew; `by` says by what, when it is decided and no preview. */
export function showSurvey(bench: Bench, survey: ShownSurvey, by?: string, refreshes = true): void {
  if (bench.isClosed) return;
  if (by !== undefined) bench.set({ dividedBy: by });
  bench.set({ survey, hovered: null, current: null });
  for (const stage of bench.stages) stage.divided?.(bench, by !== undefined);
  bench.engine.showDivision(survey);
  if (refreshes) refresh(bench);
  else drawOver(bench);
}

/** Shows all of the page, or a part of it alone. */
export function setShow(bench: Bench, show: ShowMode): void {
  bench.set({ show });
  setOptions(bench, { showInk: show !== 'flats', showFlats: show !== 'ink' });
  refresh(bench);
}

export function setStage(bench: Bench, stage: StageName): void {
  if (bench.state.stage === stage) return;
  const previewed = stageShown(bench)?.preview !== undefined;
  bench.set({ stage, current: null, leak: null, leakAsked: null, comparing: false, pointing: null });
  // What a stage proposes shows while it is shown alone.
  if (previewed || stageShown(bench)?.preview !== undefined) refresh(bench);
  refreshView(bench);
  drawOver(bench);
}

/** What the job says about its pages. */
export function setJob(bench: Bench, { name, trim }: Pick<JobView, 'name' | 'trim'>): void {
  const isSame = name === bench.state.jobName && JSON.stringify(trim) === JSON.stringify(bench.state.trim);
  if (isSame) return;
  bench.set({ jobName: name, trim });
  drawOver(bench);
}
