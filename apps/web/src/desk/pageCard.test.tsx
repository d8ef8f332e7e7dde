import { afterEach, describe, expect, jest, test } from '@jest/globals';
import type { PageView } from '@jumble/contracts';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { AnsweringServer } from '../tests/AnsweringServer.ts';
import { showView } from '../tests/showView.tsx';
import { PageCard, type PageCardProps } from './PageCard.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const page = {
  id: 'p',
  jobId: 'j',
  name: 'Page 7',
  width: 2060,
  height: 3130,
  dpi: 300,
  full: null,
  revision: 0,
  filledCount: 3,
  regionCount: 10,
  thumbnailHash: null,
} as unknown as PageView;

function show(over: Partial<PageView> = {}, more: Partial<PageCardProps> = {}): jest.Mock<() => void> {
  const changed = jest.fn<() => void>();
  const props: PageCardProps = {
    page: { ...page, ...over },
    number: 2,
    onChanged: changed,
    onMoveEarlier: undefined,
    onMoveLater: undefined,
    onAskResolution: () => undefined,
    ...more,
  };
  showView(<PageCard {...props} />);
  return changed;
}

describe('a page on the desk', () => {
  test('leads to its flats and says how far it is', () => {
    show();
    expect(screen.getByRole('link', { name: '2. Page 7' }).getAttribute('href')).toBe('/jobs/j/pages/p/flats');
    expect(screen.getByText('3 of 10 regions filled')).toBeTruthy();
    expect(screen.getByText('174 x 265 mm at 300 dpi')).toBeTruthy();
    const progress = screen.getByRole('progressbar', { name: 'Progress of Page 7' });
    expect(progress.getAttribute('aria-valuenow')).toBe('30');
  });

  test('of ordinary size is not offered at half of it, nor is one that was worked on', () => {
    show();
    show({ width: 10_000, height: 8000, revision: 4 });
    show({ width: 10_000, height: 8000, full: { width: 20_000, height: 16_000 } as never });
    expect(screen.queryByRole('button', { name: /half size/ })).toBeNull();
  });

  test('of 80 megapixels is worked on at half size when asked for', async () => {
    const server = new AnsweringServer({ body: {} });
    const changed = show({ width: 10_000, height: 8000 });
    await user.click(screen.getByRole('button', { name: '80 megapixels: work at half size' }));
    await waitFor(() => expect(changed).toHaveBeenCalledTimes(1));
    expect(server.asked).toEqual([{ method: 'POST', url: '/api/pages/p/half', body: null }]);
    expect(await screen.findByText(/what is handed off has the whole/)).toBeTruthy();
  });

  test('that cannot be halved says why and can be asked again', async () => {
    new AnsweringServer({
      status: 409,
      body: { code: 'conflict', detail: 'The page has fills already. Undo them first.' },
    });
    const changed = show({ width: 10_000, height: 8000 });
    const half = screen.getByRole<HTMLButtonElement>('button', { name: /half size/ });
    await user.click(half);
    expect(await screen.findByText('The page has fills already. Undo them first.')).toBeTruthy();
    expect(changed).not.toHaveBeenCalled();
    expect(half.disabled).toBe(false);
  });

  test('is renamed, and cannot move before the first', async () => {
    const server = new AnsweringServer({ body: {} });
    const later = jest.fn<() => void>();
    const changed = show({}, { onMoveLater: later });
    await user.click(screen.getByRole('button', { name: 'More about Page 7' }));
    expect(screen.getByRole('menuitem', { name: 'Move earlier' }).getAttribute('aria-disabled')).toBe('true');
    await user.click(screen.getByRole('menuitem', { name: 'Move later' }));
    expect(later).toHaveBeenCalledTimes(1);
    await user.click(screen.getByRole('button', { name: 'More about Page 7' }));
    await user.click(screen.getByRole('menuitem', { name: 'Rename …' }));
    const field = screen.getByDisplayValue('Page 7');
    await user.clear(field);
    await user.type(field, 'The root gate{Enter}');
    await waitFor(() => expect(changed).toHaveBeenCalled());
    expect(server.asked).toEqual([{ method: 'PATCH', url: '/api/pages/p', body: { name: 'The root gate' } }]);
  });

  test('goes only when that is confirmed', async () => {
    const server = new AnsweringServer({ body: {} });
    const changed = show();
    await user.click(screen.getByRole('button', { name: 'More about Page 7' }));
    await user.click(screen.getByRole('menuitem', { name: 'Delete …' }));
    expect(screen.getByText(/3 filled regions/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Delete the page' }));
    await waitFor(() => expect(changed).toHaveBeenCalled());
    expect(server.asked).toEqual([{ method: 'DELETE', url: '/api/pages/p', body: null }]);
  });
});
