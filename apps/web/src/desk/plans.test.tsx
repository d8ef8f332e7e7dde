import { describe, expect, test } from '@jest/globals';
import type { PagePlan } from '@jumble/contracts';
import { render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { DeskSentences } from './DeskSentences.tsx';
import { fitLine } from './JobCharts.tsx';
import { dayWords, forecastWords, hoursText, nextStep, openPages, stageStates, whatIf } from './plans.ts';
import { FACTS, someJob, somePage } from './tests/somePlans.ts';
import { ALL_PAGES, isShown } from './WallTools.tsx';

test('the stages of a page say what is open, what is done, and what nobody knows yet', () => {
  const words = (over: Partial<PagePlan>): string[] => stageStates(somePage(over)).map((one) => one.words);
  expect(words({ facts: null, regionCount: 0, filledCount: 0 })).toEqual(['not known yet', 'not known yet', 'not known yet', 'nothing filled', 'not known yet', 'not known yet', 'not yet']); // prettier-ignore
  expect(words({ facts: { ...FACTS, openGaps: 6, trapFaults: 2, faintLines: 0 }, filledCount: 38 })).toEqual(['done', '6 to rule on', '2 open', '2 to mend', 'done', 'to be checked', 'not yet']); // prettier-ignore
  const done = stageStates(somePage({ facts: { ...FACTS, trapFaults: 0, faintLines: 0, isCertified: true }, handedOff: 'now' })); // prettier-ignore
  expect(done.map(({ open }) => open)).toEqual([0, 0, 0, 0, 0, 0, 0]);
  expect(words({ handedOff: 'before' }).at(-1)).toBe('changed since');
});

test('a line is fitted through points by least squares', () => {
  const line = fitLine([[100, 31], [200, 49], [300, 71], [400, 89]]); // prettier-ignore
  expect(line.map(([x]) => x)).toEqual([100, 400]);
  // Slope .196, through the middle at (250, 60).
  expect(line[0]![1]).toBeCloseTo(60 - 150 * 0.196, 1);
  expect(line[1]![1]).toBeCloseTo(60 + 150 * 0.196, 1);
  expect(fitLine([[100, 30]])).toEqual([]);
  expect(fitLine([[100, 30], [100, 50]])).toEqual([]); // prettier-ignore
});

describe('what is next on a page', () => {
  test.each([
    [{ facts: { ...FACTS, openGaps: 6 }, filledCount: 0 }, 'gaps', '6 gaps to rule on'],
    [{ facts: { ...FACTS, openGaps: 6 }, filledCount: 39 }, 'flats', '1 region without a part'],
    [{ facts: { ...FACTS, openGaps: 1 } }, 'gaps', '1 gap to rule on'],
    [{}, 'check', 'to be checked'],
    [{ facts: { ...FACTS, isCertified: true } }, 'handoff', 'to be handed off'],
    [{ facts: { ...FACTS, isCertified: true }, handedOff: 'before' }, 'handoff', 'changed since it was handed off'],
  ] as const)('of %j is %s: %s', (over, stage, words) => {
    expect(nextStep(somePage(over))).toEqual({ stage, words });
  });
  test('is nothing once it is handed off as it is', () => {
    expect(nextStep(somePage({ handedOff: 'now' }))).toBeNull();
  });
});

describe('the desk in words', () => {
  test('begins with what is due first', () => {
    const jobs = [
      someJob([somePage({ id: 'a' }), somePage({ id: 'b', dueOn: '2026-12-01' })]),
      someJob([
        somePage({ id: 'c', dueOn: '2026-11-20' }),
        somePage({ id: 'd', handedOff: 'now', dueOn: '2026-01-01' }),
      ]),
    ];
    expect(openPages(jobs).map((one) => one.page.id)).toEqual(['c', 'b', 'a']);
    render(
      <MemoryRouter>
        <DeskSentences plans={jobs} />
      </MemoryRouter>,
    );
    expect(screen.getAllByRole('link', { name: 'Page 1 of Night tram' })[0]!.getAttribute('href')).toBe('/jobs/j/pages/c/check'); // prettier-ignore
  });

  test('says when a job is done, in a band, and against its deadline', () => {
    const forecast = { minutesLeft: 900, minutesADay: 120, pace: 'last days', doneOn: '2026-12-09', earliest: '2026-12-08', latest: '2026-12-10' } as const; // prettier-ignore
    const said = forecastWords(someJob([somePage()], { forecast, dueOn: '2026-12-07' }));
    expect(said).toBe('About 15 h are left; at 2 h a day (the last five working days) it is done on 9 Dec, between 8 Dec and 10 Dec: 2 days late.'); // prettier-ignore
    expect(forecastWords(someJob([somePage()], { forecast, dueOn: '2026-12-10' }))).toMatch(/1 day to spare\.$/);
    expect(forecastWords(someJob([]))).toBe('It has no pages yet.');
    expect(forecastWords(someJob([somePage({ handedOff: 'now' })]))).toMatch(/handed off as they are/);
    expect([hoursText(4), hoursText(60), hoursText(95.4)]).toEqual(['4 min', '1 h', '1 h 35 min']);
    expect([dayWords('2026-12-01', '2026-11-30'), dayWords('2026-11-28', '2026-11-30')]).toEqual(['Tue 1 Dec (tomorrow)', 'Sat 28 Nov (2 days ago)']); // prettier-ignore
  });

  test('says what slips when pages are added, somebody is away, or another pace holds', () => {
    const left = { minutes: 300, deviation: 0 };
    const plan = someJob([somePage({ left }), somePage({ left })], { lastDays: [60, 60], forecast: { minutesLeft: 600, minutesADay: 60, pace: 'last days', doneOn: null, earliest: null, latest: null } }); // prettier-ignore
    // 2026-11-30 is a Monday: ten working days of an hour.
    const on = '2026-11-30';
    expect(whatIf(plan, { pages: 0, daysAway: 0, pace: 'last days' }, on).doneOn).toBe('2026-12-11');
    expect(whatIf(plan, { pages: 1, daysAway: 0, pace: 'last days' }, on).doneOn).toBe('2026-12-18');
    expect(whatIf(plan, { pages: 0, daysAway: 3, pace: 'last days' }, on).doneOn).toBe('2026-12-16');
    expect(whatIf(plan, { pages: 0, daysAway: 0, pace: 'calendar' }, on).doneOn).toBe('2026-12-01');
  });

  test('shows pages of the wall by what is next, by who, and those that are late', () => {
    const plan = someJob([], { dueOn: '2020-01-01' });
    const one = somePage({ person: 'Ada' });
    expect(isShown(plan, one, ALL_PAGES)).toBe(true);
    expect(isShown(plan, one, { ...ALL_PAGES, stage: 'flats' })).toBe(false);
    expect(isShown(plan, one, { ...ALL_PAGES, person: 'Béla' })).toBe(false);
    expect(isShown(plan, one, { stage: 'check', person: 'Ada', late: true })).toBe(true);
    expect(isShown(plan, somePage({ handedOff: 'now' }), { ...ALL_PAGES, late: true })).toBe(false);
  });
});
