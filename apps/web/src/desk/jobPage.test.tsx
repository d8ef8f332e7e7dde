import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { JobView, PackageView, PagePlan, PageView } from '@jumble/contracts';
import { FIRST_DELIVERIES } from '@jumble/core';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { AnsweringServer } from '../tests/AnsweringServer.ts';
import { showView } from '../tests/showView.tsx';
import { JobPage } from './JobPage.tsx';
import { today } from './plans.ts';
import { someJob, somePage } from './tests/somePlans.ts';

const user = userEvent.setup();
let server: AnsweringServer;
beforeEach(() => void (server = new AnsweringServer()));
afterEach(cleanup);

const page = (id: string): PageView =>
  ({
    ...{ id, jobId: 'j', name: `Page ${id}`, position: Number(id), width: 2060, height: 3130, dpi: 300, full: null },
    ...{ revision: 3, filledCount: 40, regionCount: 40, thumbnailHash: null, previousGreyHash: null },
  }) as unknown as PageView;
const pack = (over: Partial<PackageView> = {}): PackageView => ({
  ...{ id: 'a', jobId: 'j', jobName: 'Night tram', rule: FIRST_DELIVERIES[0]!, palette: 'scene', state: 'ready' },
  ...{ progress: 1, problem: null, createdAt: '2026-11-25T08:00:00Z', fileName: 'night-tram.zip' },
  ...{ sha256: 'ab'.repeat(32), sizeBytes: 3_100_000, files: [] },
  ...over,
});

/** Opens the page of a job. @param plans what is planned for its pages, by their ids. */
async function open(count: number, plans: Record<string, Partial<PagePlan>> = {}, packages: PackageView[] = []) {
  const pages = Array.from({ length: count }, (_, k) => page(String(k + 1)));
  const job: JobView = { id: 'j', name: 'Night tram', dueOn: '2026-12-24', createdAt: '', trim: null, pages };
  const plan = someJob(
    pages.map(({ id, name }) => somePage({ id, name, ...plans[id] })),
    { dueOn: job.dueOn },
  );
  server.answers.set('GET /api/jobs/j', { body: job });
  server.answers.set(`GET /api/jobs/j/plan?today=${today()}`, { body: plan });
  server.answers.set('GET /api/scanner', { body: { name: 'Scanner', sheets: [] } });
  server.answers.set('GET /api/jobs/j/packages', { body: packages });
  server.answers.set('GET /api/jobs/j/cast', { body: { revision: 0, records: [] } });
  showView(
    <Routes>
      <Route path="/jobs/:jobId" element={<JobPage />} />
    </Routes>,
    '/jobs/j',
  );
  await screen.findByText('1. Page 1');
  await screen.findByRole('img', { name: /^Stages of Page 1:/ });
}
const cards = (): string[] => screen.getAllByRole('heading', { level: 2 }).map((one) => one.textContent ?? '');

describe('the wall of pages', () => {
  test.each([
    [6, true, true],
    [12, false, true],
    [13, false, false],
  ])('of %i pages says as much of each as there is room for', async (count, withSize, withDay) => {
    await open(count, { '2': { person: 'Ada' } });
    expect(cards()).toHaveLength(count);
    expect(screen.queryAllByText('174 x 265 mm at 300 dpi')).toHaveLength(withSize ? count : 0);
    expect(screen.queryAllByText(/^due Thu 24 Dec/)).toHaveLength(withDay ? count : 0);
    expect(cards()[1]).toBe(withDay ? '2. Page 2, Ada' : '2. Page 2');
  });

  test('is put in another order by dragging, and by the menu', async () => {
    await open(3);
    const [one, , three] = screen.getAllByRole('listitem');
    fireEvent.dragStart(three!);
    fireEvent.drop(one!, { dataTransfer: { files: [] } });
    await waitFor(() => expect(server.asked).toHaveLength(1));
    expect(server.asked[0]).toEqual({ method: 'PUT', url: '/api/jobs/j/pages/order', body: { pageIds: ['3', '1', '2'] } }); // prettier-ignore
    await waitFor(() => expect(cards()[0]).toBe('1. Page 1'));
    await user.click(screen.getByRole('button', { name: 'More about Page 1' }));
    await user.click(screen.getByRole('menuitem', { name: /later/ }));
    await waitFor(() => expect(server.asked[1]?.body).toEqual({ pageIds: ['2', '1', '3'] }));
  });

  test('is filtered, and what is shown is chosen and handed off together', async () => {
    await open(4, { '1': { person: 'Ada' }, '3': { person: 'Ada' } });
    await user.selectOptions(screen.getByLabelText('Who'), 'Ada');
    expect(cards()).toEqual(['1. Page 1, Ada', '3. Page 3, Ada']);
    await user.click(screen.getByRole('button', { name: 'Choose all' }));
    expect(screen.getByRole('status').textContent).toBe('2 pages chosen');
    await user.click(screen.getByRole('button', { name: 'Hand them off' }));
    const dialog = await screen.findByRole('dialog');
    await user.click(await within(dialog).findByRole('button', { name: 'Hand off 2 pages' }));
    await waitFor(() => expect(server.asked).toHaveLength(1));
    expect(server.asked[0]).toMatchObject({ method: 'POST', url: '/api/jobs/j/packages', body: { pageIds: ['1', '3'] } }); // prettier-ignore
  });

  test('has the next step, the marks and the progress of each page', async () => {
    await open(2, { '1': { handedOff: 'now', dueOn: '2020-01-06' }, '2': { dueOn: '2020-01-07' } });
    const [one, two] = screen.getAllByRole('listitem');
    expect(within(one!).getByText('handed off')).toBeTruthy();
    // What is handed off is late no more.
    expect(within(one!).getByText('due Mon 6 Jan')).toBeTruthy();
    expect(within(two!).getByText(/^late: Tue 7 Jan \([\d,]+ days ago\)$/)).toBeTruthy();
    expect(within(two!).getByRole('img').getAttribute('aria-label')).toMatch(
      /Check: to be checked; Hand off: not yet$/,
    );
    expect(within(two!).getByRole('progressbar').getAttribute('aria-valuenow')).toBe('100');
  });
});

describe('the latest hand-off', () => {
  const section = (): HTMLElement => screen.getByRole('region', { name: 'Latest hand-off' });

  test('is a line above the pages, with the others behind a link', async () => {
    const file = { id: 'f', pageId: '1', pageRevision: 2, problem: null, sha256: null, readBack: null, state: 'ready', fileName: 'one.ora', sizeBytes: 9 } as const; // prettier-ignore
    await open(1, {}, [pack({ files: [file] }), pack({ id: 'b' })]);
    expect(section().textContent).toMatch(/^Colourist, 1 page.*night-tram\.zip, 3\.1 MB/);
    // The files of its pages are in the outbox.
    expect(within(section()).queryByText('one.ora')).toBeNull();
    expect(within(section()).getByRole('link', { name: 'All in the outbox' }).getAttribute('href')).toBe('/outbox');
  });

  test('says what could not be built, and goes on', async () => {
    const problem = 'The disk is full. Free some space and build it again.';
    const file = { id: 'f', pageId: '1', pageRevision: 2, problem, sha256: null, readBack: null, state: 'failed', fileName: 'one.ora', sizeBytes: null } as const; // prettier-ignore
    await open(1, {}, [pack({ state: 'failed', sha256: null, problem: 'One page of 1 could not be built.', files: [file] })]); // prettier-ignore
    expect(within(section()).getByText(problem)).toBeTruthy();
    await user.click(within(section()).getByRole('button', { name: 'Go on' }));
    await waitFor(() => expect(server.asked.at(-1)).toMatchObject({ method: 'POST', url: '/api/packages/a/resume' }));
  });

  test('is cancelled while it is built', async () => {
    await open(1, {}, [pack({ state: 'packing', sha256: null, progress: 0.4 })]);
    expect(within(section()).getByRole('progressbar').getAttribute('aria-valuenow')).toBe('40');
    await user.click(within(section()).getByRole('button', { name: 'Cancel' }));
    await waitFor(() => expect(server.asked.at(-1)).toMatchObject({ method: 'POST', url: '/api/packages/a/cancel' }));
  });
});
