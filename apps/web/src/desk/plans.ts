import type { JobPlan, PagePlan, TimeStage } from '@jumble/contracts';
import { forecast, workingDaysFrom, type Forecast } from '@jumble/core';
import dayjs from 'dayjs';
import useSWR, { type SWRResponse } from 'swr';
import { counted, countText } from '../measures.ts';

export const today = (): string => dayjs().format('YYYY-MM-DD');

export const usePlans = (): SWRResponse<JobPlan[], Error> => useSWR<JobPlan[], Error>(`/api/plans?today=${today()}`);
export const usePlan = (jobId: string): SWRResponse<JobPlan, Error> =>
  useSWR<JobPlan, Error>(`/api/jobs/${jobId}/plan?today=${today()}`, { refreshInterval: 15_000 });

/** What is to be done next on a page. */
export interface NextStep {
  readonly stage: TimeStage;
  /** "6 gaps to rule on". */
  readonly words: string;
}

/** The first stage of a page with something open; null once it is handed off as it is. */
export function nextStep({ facts, regionCount, filledCount, handedOff }: PagePlan): NextStep | null {
  if (handedOff === 'now') return null;
  if (facts !== null && facts.openGaps > 0 && filledCount === 0)
    return { stage: 'gaps', words: `${counted(facts.openGaps, 'gap')} to rule on` };
  if (filledCount < regionCount)
    return { stage: 'flats', words: `${counted(regionCount - filledCount, 'region')} without a part` };
  if (facts !== null && facts.openGaps > 0)
    return { stage: 'gaps', words: `${counted(facts.openGaps, 'gap')} to rule on` };
  if (facts?.isCertified !== true) return { stage: 'check', words: 'to be checked' };
  return { stage: 'handoff', words: handedOff === null ? 'to be handed off' : 'changed since it was handed off' };
}

/** How much is open in a stage of a page: 0 is done, null is not known yet. */
export interface StageState {
  readonly stage: TimeStage;
  readonly open: number | null;
  /** "12 to rule on". */
  readonly words: string;
}

/** What is open and what is done on a page, stage by stage, as on the rail above it. */
export function stageStates({ facts, regionCount, filledCount, handedOff }: PagePlan): StageState[] {
  const state = (stage: TimeStage, open: number | null | undefined, todo: (open: number) => string): StageState => ({
    stage,
    open: open ?? null,
    words: open === null || open === undefined ? 'not known yet' : open === 0 ? 'done' : todo(open),
  });
  return [
    state('lineart', facts === null ? null : 0, String),
    state('gaps', facts?.openGaps, (open) => `${countText(open)} to rule on`),
    state('flats', facts === null ? null : regionCount - filledCount, (open) => `${countText(open)} open`),
    filledCount === 0
      ? { stage: 'trap', open: null, words: 'nothing filled' }
      : state('trap', facts?.trapFaults, (open) => `${countText(open)} to mend`),
    state('holds', facts?.faintLines, (open) => `${countText(open)} too faint`),
    state('check', facts === null ? null : Number(!facts.isCertified), () => 'to be checked'),
    state('handoff', Number(handedOff !== 'now'), () => (handedOff === null ? 'not yet' : 'changed since')),
  ];
}

/** When a page is due: on its own day, or with its job. */
export const dueOf = (job: Pick<JobPlan, 'dueOn'>, page: Pick<PagePlan, 'dueOn'>): string | null =>
  page.dueOn ?? job.dueOn;

export const isLate = (due: string | null, on: string): boolean => due !== null && due < on;

/** A page of a job with what is open on it. */
export interface OpenPage {
  readonly job: JobPlan;
  readonly page: PagePlan;
  readonly step: NextStep;
  readonly due: string | null;
}

/** Pages with something open, those due first before the others. */
export function openPages(jobs: readonly JobPlan[]): OpenPage[] {
  return jobs
    .flatMap((job) =>
      job.pages.flatMap((page): OpenPage[] => {
        const step = nextStep(page);
        return step === null ? [] : [{ job, page, step, due: dueOf(job, page) }];
      }),
    )
    .sort((a, b) => compareDue(a.due, b.due) || a.page.position - b.page.position);
}

const compareDue = (a: string | null, b: string | null): number =>
  a === b ? 0 : a === null ? 1 : b === null ? -1 : a < b ? -1 : 1;

/** "Fri 4 Dec". */
export const dayText = (day: string): string => dayjs(day).format('ddd D MMM');

/** "Fri 4 Dec (in 4 days)". */
export function dayWords(day: string, on: string): string {
  const days = dayjs(day).diff(dayjs(on), 'day');
  const far =
    days === 0 ? 'today' : days === 1 ? 'tomorrow' : days > 0 ? `in ${days} days` : `${counted(-days, 'day')} ago`;
  return `${dayText(day)} (${far})`;
}

/** "7 h 20 min". */
export function hoursText(minutes: number): string {
  const whole = Math.round(minutes);
  return whole < 60 ? `${whole} min` : `${Math.floor(whole / 60)} h${whole % 60 === 0 ? '' : ` ${whole % 60} min`}`;
}

/** When a job is done at this pace, against its deadline, in a sentence or two. */
export function forecastWords({ forecast, dueOn, pages }: JobPlan): string {
  if (pages.length === 0) return 'It has no pages yet.';
  if (forecast.minutesLeft === 0) return 'All of its pages are handed off as they are.';
  const { doneOn, earliest, latest, minutesADay, minutesLeft, pace } = forecast;
  const left = `About ${hoursText(minutesLeft)} are left`;
  if (doneOn === null) return `${left}; no day is worked, so nobody can say when it is done.`;
  const at = `at ${hoursText(minutesADay)} a day (${pace === 'calendar' ? 'as the calendar says' : 'the last five working days'})`;
  const short = (day: string | null): string => (day === null ? 'later' : dayjs(day).format('D MMM'));
  const band = earliest === latest ? '' : `, between ${short(earliest)} and ${short(latest)}`;
  const slack = dueOn === null ? null : dayjs(dueOn).diff(dayjs(doneOn), 'day');
  const against = slack === null ? '' : slack < 0 ? `: ${counted(-slack, 'day')} late` : slack === 0 ? ': on its last day' : `: ${counted(slack, 'day')} to spare`; // prettier-ignore
  return `${left}; ${at} it is done on ${short(doneOn)}${band}${against}.`;
}

export function minutesOf({ seconds }: Pick<PagePlan, 'seconds'>): number {
  return Object.values(seconds).reduce((sum, one) => sum + one, 0) / 60;
}

export const STAGE_WORDS: Readonly<Record<TimeStage, string>> = {
  lineart: 'Line art',
  gaps: 'Gaps',
  flats: 'Flats',
  trap: 'Trap',
  holds: 'Holds',
  check: 'Check',
  handoff: 'Hand off',
};

/** What could be otherwise than it is. */
export interface WhatIf {
  /** Pages that are added, each like those of the job. */
  readonly pages: number;
  /** Working days from today on that nobody works. */
  readonly daysAway: number;
  readonly pace: Forecast['pace'];
}

/** The forecast of a job if something were otherwise. */
export function whatIf(
  { pages, calendar, lastDays }: JobPlan,
  { pages: more, daysAway, pace }: WhatIf,
  on: string,
): Forecast {
  const left = pages.flatMap((page) => page.left ?? []);
  const estimates = pages.flatMap(({ estimate, left: own }) => estimate ?? own ?? []);
  const mean = (of: (one: { minutes: number; deviation: number }) => number): number =>
    estimates.length === 0 ? 0 : estimates.reduce((sum, one) => sum + of(one), 0) / estimates.length;
  const added = Array.from({ length: more }, () => ({
    minutes: mean((one) => one.minutes),
    deviation: mean((one) => one.deviation),
  }));
  return forecast({
    left: [...left, ...added],
    lastDays: pace === 'calendar' ? [] : lastDays,
    calendar: { ...calendar, daysOff: [...calendar.daysOff, ...workingDaysFrom(calendar, on, daysAway)] },
    from: on,
  });
}
