import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import type { JobView } from '@jumble/contracts';
import { cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import type { UnseenCheck } from '../bench/checkUnseen.ts';

type Check = (pageId: string, job: unknown, certifies: boolean, signal: AbortSignal) => Promise<UnseenCheck>;
const checkUnseen = jest.fn<Check>();
jest.unstable_mockModule('../bench/checkUnseen.ts', () => ({ checkUnseen }));
const { CheckDialog } = await import('./CheckDialog.tsx');

const user = userEvent.setup();
const pages = ['1', '2', '3', '4'].map((id) => ({ id, jobId: 'j', name: `Page ${id}` }));
const job = { id: 'j', name: 'Night tram', trim: null, pages } as unknown as JobView;
const open = (onChecked = jest.fn()): void => {
  render(
    <MemoryRouter>
      <CheckDialog job={job} pageIds={['1', '2', '4']} onClose={jest.fn()} onChecked={onChecked} />
    </MemoryRouter>,
  );
};
beforeEach(() => void checkUnseen.mockReset());
afterEach(cleanup);

test('pages are checked one after the other, and what came of each is said', async () => {
  checkUnseen
    .mockResolvedValueOnce({ open: new Map(), isCertified: true })
    .mockResolvedValueOnce({
      open: new Map([
        ['halo', 2],
        ['empty', 3],
      ]),
      isCertified: false,
    }) // prettier-ignore
    .mockRejectedValueOnce(new Error('The file is gone.'));
  const onChecked = jest.fn();
  open(onChecked);
  expect(screen.getAllByText('not checked yet')).toHaveLength(3);
  await user.click(screen.getByRole('button', { name: 'Check 3 pages' }));
  await waitFor(() => expect(onChecked).toHaveBeenCalledTimes(3));
  expect(screen.getByText('nothing to settle, certified')).toBeTruthy();
  expect(screen.getByText(/^5 findings to settle: No part 3, Halo 2/)).toBeTruthy();
  expect(screen.getByRole('link', { name: 'Look' }).getAttribute('href')).toBe('/jobs/j/pages/2/check');
  expect(screen.getByText('The file is gone.')).toBeTruthy();
  expect(checkUnseen.mock.calls.map(([id, , certifies]) => [id, certifies])).toEqual([['1', true], ['2', true], ['4', true]]); // prettier-ignore
  expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('100');
});

test('it can be stopped, and goes on with what is left, without certifying where that is not wanted', async () => {
  checkUnseen.mockResolvedValueOnce({ open: new Map(), isCertified: false }).mockImplementationOnce(
    (_id, _job, _certifies, signal) =>
      new Promise((_, reject) => {
        signal.addEventListener('abort', () => reject(signal.reason as Error));
      }),
  );
  open();
  await user.click(screen.getByLabelText(/Certify pages/));
  await user.click(screen.getByRole('button', { name: 'Check 3 pages' }));
  await waitFor(() => expect(screen.getByText('is checked ...')).toBeTruthy());
  expect(screen.getByText('nothing to settle')).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Stop' }));
  const goOn = await screen.findByRole('button', { name: 'Go on with 2 pages' });
  checkUnseen.mockResolvedValue({ open: new Map(), isCertified: false });
  await user.click(goOn);
  await waitFor(() => expect(screen.getAllByText('nothing to settle')).toHaveLength(3));
  expect(checkUnseen.mock.calls.map(([id, , certifies]) => [id, certifies])).toEqual([['1', false], ['2', false], ['2', false], ['4', false]]); // prettier-ignore
});
