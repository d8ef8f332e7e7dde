import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { JobView } from '@jumble/contracts';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import dayjs from 'dayjs';
import { Route, Routes } from 'react-router';
import { AnsweringServer } from '../tests/AnsweringServer.ts';
import { showView } from '../tests/showView.tsx';
import { DeskPage } from './DeskPage.tsx';
import { DeskSentences } from './DeskSentences.tsx';
import { JobCharts } from './JobCharts.tsx';
import { today } from './plans.ts';
import { FACTS, someJob, somePage } from './tests/somePlans.ts';

const user = userEvent.setup();
let server: AnsweringServer;
beforeEach(() => {
  server = new AnsweringServer();
  // Charts measure their texts on a canvas, which the simulated browser lacks.
  HTMLCanvasElement.prototype.getContext = () => null;
});
afterEach(cleanup);
/** So many days from today on. */
const inDays = (days: number): string => dayjs(today()).add(days, 'day').format('YYYY-MM-DD');

describe('the desk in sentences', () => {
  const said = (): string => screen.getByRole('region', { name: 'What to do' }).textContent ?? '';

  test('names the one page that is due next, and counts several', () => {
    const plan = someJob([somePage({ id: 'a', name: 'Page 4', dueOn: inDays(1) }), somePage({ id: 'b', dueOn: inDays(9) })]); // prettier-ignore
    showView(<DeskSentences plans={[plan]} />);
    expect(said()).toMatch(/Due next: Page 4 of Night tram, .* \(tomorrow\)\.Nothing is late\.$/);
    expect(screen.getAllByRole('link')).toHaveLength(2);
    cleanup();
    showView(<DeskSentences plans={[someJob([somePage({ id: 'a' }), somePage({ id: 'b' })], { dueOn: inDays(3) })]} />);
    expect(said()).toMatch(/Due next: 2 pages of Night tram, .* \(in 3 days\)/);
  });

  test('lists what is late, at most four of it', () => {
    const pages = Array.from({ length: 6 }, (_, k) =>
      somePage({ id: `${k}`, name: `Page ${k}`, dueOn: inDays(k - 9) }),
    );
    showView(<DeskSentences plans={[someJob(pages)]} />);
    expect(said()).toMatch(/^Now: Page 0 of Night tram, to be checked\.Late: Page 0 .* \(9 days ago\), Page 1 .* and 2 more\.$/); // prettier-ignore
  });

  test('says nothing where all is handed off', () => {
    showView(<DeskSentences plans={[someJob([somePage({ handedOff: 'now' })])]} />);
    expect(screen.queryByRole('region', { name: 'What to do' })).toBeNull();
  });
});

describe('the first page', () => {
  const jobs = [{ id: 'j', name: 'Night tram', dueOn: '2026-12-24', createdAt: '', trim: null, pages: [] }] satisfies JobView[]; // prettier-ignore
  const open = (): void =>
    showView(
      <Routes>
        <Route path="/" element={<DeskPage />} />
        <Route path="/jobs/:jobId" element="The job" />
      </Routes>,
    );

  test('without jobs says how one is begun, and goes to it', async () => {
    open();
    expect(await screen.findByText('No jobs yet')).toBeTruthy();
    await user.click(screen.getAllByRole('button', { name: 'New job' })[0]!);
    server.answers.set('POST /api/jobs', { status: 201, body: jobs[0] });
    await user.type(screen.getByLabelText(/Name of the comic/), 'Night tram{Enter}');
    expect(await screen.findByText('The job')).toBeTruthy();
  });

  test('asks once before a job is deleted', async () => {
    server.answers.set('GET /api/jobs', { body: jobs });
    server.answers.set(`GET /api/plans?today=${today()}`, { body: [someJob([])] });
    open();
    const row = (await screen.findByRole('link', { name: 'Night tram' })).closest('li')!;
    await waitFor(() => expect(within(row).getByText('It has no pages yet.')).toBeTruthy());
    expect(within(row).getByText('due 24 Dec')).toBeTruthy();
    await user.click(within(row).getByRole('button', { name: 'Delete Night tram' }));
    expect(server.asked).toEqual([]);
    await user.click(screen.getByRole('button', { name: 'Delete the job' }));
    await waitFor(() => expect(server.asked).toEqual([{ method: 'DELETE', url: '/api/jobs/j', body: null }]));
  });

  test('says what the server says', async () => {
    server.answers.set('GET /api/jobs', { status: 500, body: { detail: 'The disk cannot be read.' } });
    open();
    expect(await screen.findByText('The disk cannot be read.')).toBeTruthy();
  });
});

describe('the figures of the charts', () => {
  /** What a chart's button gives, row by row. */
  async function csvOf(title: string): Promise<string[]> {
    const made: Blob[] = [];
    URL.createObjectURL = (blob) => (made.push(blob as Blob), 'blob:figures');
    URL.revokeObjectURL = () => undefined;
    HTMLAnchorElement.prototype.click = jest.fn();
    await user.click(screen.getByRole('button', { name: `Figures of ${title} as CSV` }));
    const text = await new Promise<string>((resolve) => {
      const reader = new FileReader();
      reader.onload = () => resolve(reader.result as string);
      reader.readAsText(made[0]!);
    });
    return text.trim().split(/\r?\n/);
  }
  const estimate = { minutes: 60, deviation: 10, drivers: [] };
  const pages = [
    somePage({ id: '1', name: 'Page 1', regionCount: 100, seconds: { flats: 1800, gaps: 600 }, handedOff: 'now', estimate }),
    somePage({ id: '2', name: 'Page 2', regionCount: 300, seconds: { flats: 3600 }, handedOff: 'now', estimate }),
    somePage({ id: '3', name: 'Page 3', regionCount: 200, facts: { ...FACTS, openGaps: 2 }, estimate }),
  ]; // prettier-ignore
  const plan = someJob(pages, {
    dueOn: inDays(5),
    days: [
      { day: inDays(-3), minutes: 40 },
      { day: inDays(-2), minutes: 60 },
    ],
    forecast: { minutesLeft: 50, minutesADay: 50, pace: 'last days', doneOn: inDays(1), earliest: inDays(1), latest: inDays(2) }, // prettier-ignore
    rate: { amount: 24, per: 'page', currency: 'EUR' },
    pay: { total: 72, perHourSoFar: 28.8, perHourExpected: 24 },
  });

  test('are what was left each day, what is left today, the band and the deadline', async () => {
    showView(<JobCharts plan={plan} jobs={[plan]} />);
    const rows = await csvOf('Minutes left, by day');
    expect(rows.slice(0, 4)).toEqual(['day,minutes left', `${inDays(-3)},110`, `${inDays(-2)},50`, `${today()},50`]);
    expect(rows.slice(-4)).toEqual([`done on,${inDays(1)}`, `earliest,${inDays(1)}`, `latest,${inDays(2)}`, `due,${inDays(5)}`]); // prettier-ignore
  });

  test('are the minutes of each page with the line through those that are done', async () => {
    showView(<JobCharts plan={plan} jobs={[plan]} />);
    const rows = await csvOf('Minutes against regions, by page');
    expect(rows.slice(1, 4)).toEqual(['Page 1,100,40,60', 'Page 2,300,60,60', 'Page 3,200,0,60']);
    expect(rows.slice(-2)).toEqual([',100,40,', ',300,60,']);
  });

  test('are the minutes of the stages, and pay beside jobs in the same currency', async () => {
    const other = someJob([], { ...plan, id: 'o', name: 'Day tram', days: [], pages: [] });
    const abroad = someJob([], { ...other, id: 'x', name: 'Ferry', rate: { ...plan.rate!, currency: 'CHF' } });
    showView(<JobCharts plan={plan} jobs={[plan, other, abroad]} />);
    expect((await csvOf('Minutes by stage')).filter((row) => !row.endsWith(',0'))).toEqual(['stage,minutes', 'Gaps,10', 'Flats,90']); // prettier-ignore
    const rows = await csvOf('Pay per hour by job, EUR');
    expect(rows.slice(1)).toEqual(['Night tram,28.8,24', 'Day tram,28.8,24']);
  });

  test('has no pay where no rate was agreed', () => {
    const unpaid = { ...plan, rate: null, pay: null };
    showView(<JobCharts plan={unpaid} jobs={[unpaid]} />);
    expect(screen.queryByText(/Pay per hour/)).toBeNull();
  });
});
