import { afterEach, describe, expect, jest, test } from '@jest/globals';
import type { PageView } from '@jumble/contracts';
import { cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { areaText, durationText, lengthText } from '../measures.ts';
import { AskOnce } from '../notices/AskOnce.tsx';
import { NoticeProvider } from '../notices/NoticeProvider.tsx';
import { AnsweringServer } from '../tests/AnsweringServer.ts';
import { NewJobDialog } from './NewJobDialog.tsx';
import { printSize, progressOf, progressText } from './progress.ts';
import { ResolutionDialog } from './ResolutionDialog.tsx';
import { UploadList } from './UploadList.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const page = {
  id: 'p',
  name: 'Page 1',
  width: 2060,
  height: 3130,
  dpi: null,
  filledCount: 3,
  regionCount: 10,
} as PageView;

describe('a new job', () => {
  test('needs a name, may have a day, and is opened', async () => {
    const server = new AnsweringServer({ status: 201, body: { id: 'j', name: 'Night tram' } });
    const created = jest.fn();
    render(<NewJobDialog open onClose={() => undefined} onCreated={created} />);
    const begin = screen.getByRole<HTMLButtonElement>('button', { name: 'Begin the job' });
    expect(begin.disabled).toBe(true);
    await user.type(screen.getByLabelText(/Name of the comic/), 'Night tram');
    await user.click(begin);
    await waitFor(() => expect(created).toHaveBeenCalledWith({ id: 'j', name: 'Night tram' }));
    expect(server.asked).toEqual([{ method: 'POST', url: '/api/jobs', body: { name: 'Night tram', dueOn: null } }]);
  });

  test('that the server refuses stays open with its words', async () => {
    new AnsweringServer({ status: 400, body: { code: 'bad-request', detail: 'name must not be blank' } });
    const created = jest.fn();
    render(<NewJobDialog open onClose={() => undefined} onCreated={created} />);
    await user.type(screen.getByLabelText(/Name of the comic/), 'x{Enter}');
    expect(await screen.findByText('name must not be blank')).toBeTruthy();
    expect(created).not.toHaveBeenCalled();
  });
});

describe('a page without a resolution', () => {
  test('asks for one, shows what it means in print, and refuses nonsense', async () => {
    const server = new AnsweringServer({ body: {} });
    const done = jest.fn();
    render(
      <NoticeProvider>
        <ResolutionDialog page={page} onDone={done} />
      </NoticeProvider>,
    );
    const field = screen.getByLabelText('Resolution in dpi');
    expect(screen.getByText(/174 x 265 mm at 300 dpi/)).toBeTruthy();
    await user.clear(field);
    await user.type(field, '12');
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Set the resolution' }).disabled).toBe(true);
    await user.clear(field);
    await user.type(field, '600');
    await user.click(screen.getByRole('button', { name: 'Set the resolution' }));
    await waitFor(() => expect(done).toHaveBeenCalled());
    expect(server.asked).toEqual([{ method: 'PATCH', url: '/api/pages/p', body: { dpi: 600 } }]);
  });
});

describe('uploads', () => {
  test('say how far they are, can be cancelled, and give the reason when they fail', async () => {
    const [cancel, dismiss] = [jest.fn(), jest.fn()];
    const list = [
      { id: 1, name: 'a.png', state: 'sending', share: 0.4, problem: null },
      { id: 2, name: 'notes.png', state: 'failed', share: 0, problem: 'The file is no image. Nothing was stored.' },
    ];
    render(<UploadList uploads={{ list, cancel, dismiss, add: () => undefined } as never} />);
    expect(screen.getByRole('progressbar', { name: 'Upload of a.png' }).getAttribute('aria-valuenow')).toBe('40');
    expect(screen.getByText(/Nothing was stored/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(cancel).toHaveBeenCalledWith(1);
    await user.click(screen.getByRole('button', { name: /close/i }));
    expect(dismiss).toHaveBeenCalledWith(2);
  });
});

test('something lost is asked about once, and kept unless confirmed', async () => {
  const [close, confirm] = [jest.fn(), jest.fn()];
  render(<AskOnce open title="Delete?" text="3 pages go." action="Delete" onClose={close} onConfirm={confirm} />);
  await user.click(screen.getByRole('button', { name: 'Keep it' }));
  expect([close.mock.calls.length, confirm.mock.calls.length]).toEqual([1, 0]);
  await user.click(screen.getByRole('button', { name: 'Delete' }));
  expect(confirm).toHaveBeenCalledTimes(1);
});

describe('figures in words', () => {
  test('progress counts regions', () => {
    expect(progressOf([page, { ...page, filledCount: 7 }])).toEqual({ filled: 10, total: 20, share: 0.5 });
    expect(progressOf([])).toEqual({ filled: 0, total: 0, share: 0 });
    expect([progressText(0, 0), progressText(0, 9), progressText(4, 9), progressText(9, 9)]).toEqual([
      'no regions',
      '9 regions, none filled',
      '4 of 9 regions filled',
      'all 9 regions filled',
    ]);
  });

  test('sizes have units, mm where the resolution is known', () => {
    expect(printSize({ ...page, dpi: 300 })).toBe('174 x 265 mm at 300 dpi');
    expect(printSize(page)).toBe('2060 x 3130 px, resolution not stated');
    expect(lengthText(5.44, 300)).toBe('5.4 px (0.46 mm)');
    expect(lengthText(5.44, null)).toBe('5.4 px');
    expect(areaText(12_340, null)).toBe('12,340 px²');
    expect(areaText(12_340, 300)).toBe('12,340 px² (88 mm²)');
    expect(areaText(139_500, 300)).toBe('139,500 px² (1,000 mm²)');
  });

  test('times are short', () => {
    expect([durationText(7), durationText(61), durationText(3600 + 12 * 60)]).toEqual(['7 s', '1 min', '1 h 12 min']);
  });
});
