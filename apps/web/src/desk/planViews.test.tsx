import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { JobPlan, LogEntryView, PagePlan, WorkTimeView } from '@jumble/contracts';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { person } from '../api/person.ts';
import { AnsweringServer } from '../tests/AnsweringServer.ts';
import { showView } from '../tests/showView.tsx';
import { LogbookPage } from './LogbookPage.tsx';
import { PagesPlanDialog } from './PagesPlanDialog.tsx';
import { PersonButton } from './PersonButton.tsx';
import { PlanDialog } from './PlanDialog.tsx';
import { TimePage } from './TimePage.tsx';
import { today } from './plans.ts';
import { someJob, somePage } from './tests/somePlans.ts';
import { ALL_PAGES, WallTools } from './WallTools.tsx';

const user = userEvent.setup();
let server: AnsweringServer;
beforeEach(() => {
  // Charts measure their texts on a canvas, which the simulated browser lacks.
  HTMLCanvasElement.prototype.getContext = () => null;
  server = new AnsweringServer();
});
afterEach(() => {
  cleanup();
  localStorage.clear();
});

const page = (id: string, over: Partial<PagePlan> = {}): PagePlan =>
  somePage({
    ...{ id, name: `Page ${id}`, position: Number(id), filledCount: 10, seconds: { flats: 600 } },
    estimate: { minutes: 60, deviation: 10, drivers: [] },
    left: { minutes: 50, deviation: 9 },
    ...over,
  });
const plan = (over: Partial<JobPlan> = {}): JobPlan =>
  someJob([page('1'), page('2', { person: 'Ada', dueOn: '2026-12-04' })], {
    forecast: { minutesLeft: 100, minutesADay: 360, pace: 'calendar', doneOn: '2026-12-01', earliest: '2026-12-01', latest: '2026-12-02' }, // prettier-ignore
    ...over,
  });

describe('the plan of a job', () => {
  test('is sent as a whole, the deadline where it changed', async () => {
    const [onClose, onChanged] = [jest.fn(), jest.fn()];
    showView(<PlanDialog plan={plan()} onClose={onClose} onChanged={onChanged} />);
    await user.type(screen.getByLabelText('Client'), 'Fern & Root');
    await user.type(screen.getByLabelText('Due on'), '2026-12-24');
    await user.click(screen.getByLabelText('Paid'));
    await user.click(screen.getByRole('option', { name: 'per panel' }));
    await user.type(screen.getByLabelText(/^Rate/), '7.5');
    await user.click(screen.getByLabelText('Sa'));
    await user.type(screen.getByLabelText(/^Days off/), '2026-12-25 2026-12-26');
    await user.click(screen.getByRole('button', { name: 'Set' }));
    await waitFor(() => expect(onChanged).toHaveBeenCalled());
    expect(server.asked.map(({ url, body }) => [url, body])).toEqual([
      ['/api/jobs/j', { dueOn: '2026-12-24' }],
      [
        '/api/jobs/j/plan',
        {
          series: '',
          client: 'Fern & Root',
          rate: { per: 'panel', amount: 7.5, currency: 'EUR' },
          calendar: { weekdays: [1, 2, 3, 4, 5, 6], hoursADay: 6, daysOff: ['2026-12-25', '2026-12-26'] },
        },
      ],
    ]);
    expect(onClose).toHaveBeenCalled();
  });

  test('says what is wrong with it, and stays', async () => {
    const onClose = jest.fn();
    showView(<PlanDialog plan={plan()} onClose={onClose} onChanged={jest.fn()} />);
    const idle = screen.getByLabelText(/Minutes without/);
    await user.clear(idle);
    await user.type(idle, '99');
    await user.click(screen.getByRole('button', { name: 'Set' }));
    expect((await screen.findByRole('alert')).textContent).toMatch(/from 1 to 30/);
    await user.clear(idle);
    await user.type(idle, '5');
    server.answers.set('PATCH /api/jobs/j/plan', {
      status: 400,
      body: { detail: 'hoursADay must not be greater than 24' },
    });
    await user.click(screen.getByRole('button', { name: 'Set' }));
    expect(await screen.findByText(/greater than 24/)).toBeTruthy();
    expect(localStorage.getItem('jumble.idleMinutes')).toBe('5');
    expect(onClose).not.toHaveBeenCalled();
  });
});

describe('the plan of pages', () => {
  test('of several changes only what was touched', async () => {
    const onChanged = jest.fn();
    showView(<PagesPlanDialog plan={plan()} pageIds={['1', '2']} onClose={jest.fn()} onChanged={onChanged} />);
    expect(screen.queryByLabelText('Number in the book')).toBeNull();
    // They differ: neither of them stands there.
    expect(screen.getByLabelText('Who works on it')).toHaveProperty('value', '');
    await user.type(screen.getByLabelText('What was agreed'), 'in lamplight');
    await user.click(screen.getByRole('button', { name: 'Set' }));
    await waitFor(() => expect(onChanged).toHaveBeenCalled());
    expect(server.asked[0]!.body).toEqual({ pageIds: ['1', '2'], agreed: 'in lamplight' });
  });

  test('of one has its number in the book, and whether it is a spread', async () => {
    showView(<PagesPlanDialog plan={plan()} pageIds={['2']} onClose={jest.fn()} onChanged={jest.fn()} />);
    expect(screen.getByLabelText('Who works on it')).toHaveProperty('value', 'Ada');
    await user.type(screen.getByLabelText('Number in the book'), '12-13');
    await user.click(screen.getByLabelText(/A spread/));
    await user.clear(screen.getByLabelText('Due on'));
    await user.click(screen.getByRole('button', { name: 'Set' }));
    await waitFor(() => expect(server.asked).toHaveLength(1));
    expect(server.asked[0]!.body).toEqual({ pageIds: ['2'], dueOn: null, bookNumber: '12-13', isSpread: true });
  });
});

test('the wall is filtered, and what is chosen is planned and handed off', async () => {
  const calls = { onFilter: jest.fn(), onChooseAll: jest.fn(), onChooseNone: jest.fn(), onSet: jest.fn(), onCheck: jest.fn(), onHandOff: jest.fn() }; // prettier-ignore
  const own = { ...plan({ series: 'Issue 4', client: 'Fern & Root' }), ...{} };
  showView(<WallTools plan={own} filter={ALL_PAGES} chosen={new Set()} {...calls} />);
  expect(screen.getByText(/^Issue 4, for Fern & Root\. About 1 h 40 min are left/)).toBeTruthy();
  await user.selectOptions(screen.getByLabelText('Who'), 'Ada');
  expect(calls.onFilter).toHaveBeenLastCalledWith({ ...ALL_PAGES, person: 'Ada' });
  await user.click(screen.getByLabelText(/Late alone/));
  expect(calls.onFilter).toHaveBeenLastCalledWith({ ...ALL_PAGES, late: true });
  await user.click(screen.getByRole('button', { name: 'Choose all' }));
  expect(calls.onChooseAll).toHaveBeenCalled();
  cleanup();
  showView(<WallTools plan={own} filter={ALL_PAGES} chosen={new Set(['1', '2'])} {...calls} />);
  expect(screen.getByRole('status').textContent).toBe('2 pages chosen');
  for (const name of ['Plan them', 'Check them', 'Hand them off', 'Choose none']) await user.click(screen.getByRole('button', { name })); // prettier-ignore
  expect([calls.onSet, calls.onCheck, calls.onHandOff, calls.onChooseNone].map((one) => one.mock.calls.length)).toEqual([1, 1, 1, 1]); // prettier-ignore
});

test('who works here is a name of this browser, and goes with what is done', async () => {
  showView(<PersonButton />);
  await user.click(screen.getByRole('button', { name: 'Working as Me' }));
  await user.type(screen.getByRole('dialog').querySelector('input')!, 'Béla');
  await user.click(screen.getByRole('button', { name: 'That is me' }));
  expect(screen.getByRole('button', { name: 'Working as Béla' })).toBeTruthy();
  expect(person()).toBe('Béla');
});

describe('the logbook', () => {
  const entry: LogEntryView = { entry: 'step/7', at: '2026-11-30T10:00:00Z', kind: 'decision', what: 'Let a halo stay', who: 'Ada', why: null, pageId: '1', pageName: 'Page 1' }; // prettier-ignore
  const open = (): void =>
    showView(
      <Routes>
        <Route path="/jobs/:jobId/logbook" element={<LogbookPage />} />
      </Routes>,
      '/jobs/j/logbook',
    );
  test('links to pages, is told why, and is searched', async () => {
    localStorage.setItem('jumble.person', 'Béla');
    server.answers.set(`GET /api/jobs/j/plan?today=${today()}`, { body: plan() });
    server.answers.set('GET /api/jobs/j/logbook', { body: [entry, { ...entry, entry: 'log/1', pageName: null, what: 'Added' }] }); // prettier-ignore
    server.answers.set('GET /api/jobs/j/logbook?search=halo', { body: [entry] });
    open();
    const [first] = await screen.findAllByRole('listitem');
    expect(within(first!).getByRole('link', { name: 'Page 1' }).getAttribute('href')).toBe('/jobs/j/pages/1/flats');
    await user.type(within(first!).getByLabelText('Why: Let a halo stay'), 'printed on grey{Enter}');
    expect(server.asked).toEqual([
      { method: 'PUT', url: '/api/jobs/j/logbook/step/7/why', body: { why: 'printed on grey' } },
    ]);
    expect(server.who).toBe('B%C3%A9la');
    await user.type(screen.getByLabelText('Search'), 'halo');
    await waitFor(() => expect(screen.getAllByRole('listitem')).toHaveLength(1));
    expect(screen.getByRole('link', { name: 'As PDF' }).getAttribute('href')).toBe('/api/jobs/j/logbook.pdf?search=halo'); // prettier-ignore
  });
});

describe('time', () => {
  const time: WorkTimeView = { pageId: '1', pageName: 'Page 1', stage: 'flats', person: 'Ada', day: '2026-11-30', byHand: false, seconds: 4500, note: null }; // prettier-ignore
  const open = (own: JobPlan, times: WorkTimeView[]): void => {
    server.answers.set(`GET /api/jobs/j/plan?today=${today()}`, { body: own });
    server.answers.set('GET /api/jobs/j/time', { body: times });
    showView(
      <Routes>
        <Route path="/jobs/:jobId/time" element={<TimePage />} />
      </Routes>,
      '/jobs/j/time',
    );
  };
  test('stands by week with corrections apart, and says what the job pays', async () => {
    const pay = { total: 80, perHourSoFar: null, perHourExpected: 48.5 };
    const corrected = { ...time, byHand: true, seconds: -900, note: 'lunch' };
    open(plan({ pay, rate: { per: 'page', amount: 40, currency: 'EUR' } }), [time, corrected, { ...time, day: '2026-11-27' }]); // prettier-ignore
    expect(await screen.findByText('Week of 30 Nov: 1 h')).toBeTruthy();
    expect(screen.getByText('Week of 23 Nov: 1 h 15 min')).toBeTruthy();
    expect(screen.getByRole('cell', { name: 'by hand: lunch' })).toBeTruthy();
    expect(screen.getByRole('cell', { name: '−15 min' })).toBeTruthy();
    expect(screen.getByText('The job pays 80 EUR; that will be 48.5 EUR an hour.')).toBeTruthy();
  });

  test('is corrected by hand in whole minutes, and what if is answered at once', async () => {
    open(plan(), []);
    expect(await screen.findByText(/No time is written down yet/)).toBeTruthy();
    const writeDown = screen.getByRole('button', { name: 'Write down' });
    await user.type(screen.getByLabelText('Minutes, − takes off'), '1.5');
    expect(writeDown).toHaveProperty('disabled', true);
    await user.clear(screen.getByLabelText('Minutes, − takes off'));
    await user.type(screen.getByLabelText('Minutes, − takes off'), '-20');
    await user.type(screen.getByLabelText('Note'), 'counted twice');
    await user.click(writeDown);
    expect(server.asked[0]).toMatchObject({ url: '/api/pages/1/time/corrections', body: { person: 'Me', stage: 'flats', minutes: -20, note: 'counted twice', day: today() } }); // prettier-ignore
    const group = screen.getByRole('group', { name: 'What if' });
    const before = group.textContent;
    await user.type(within(group).getByLabelText('Pages more'), '40');
    expect(group.textContent).not.toBe(before);
  });

  test('of a job without a page, or handed off, needs no forecast', async () => {
    open(plan({ pages: [], forecast: { ...plan().forecast, minutesLeft: 0 } }), []);
    expect(await screen.findByText('It has no pages yet.')).toBeTruthy();
    expect(screen.queryByRole('group', { name: 'What if' })).toBeNull();
    expect(screen.queryByRole('button', { name: 'Write down' })).toBeNull();
  });
});
