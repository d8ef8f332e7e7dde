import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { JobView } from '@jumble/contracts';
import { cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { AnsweringServer } from '../tests/AnsweringServer.ts';
import { ScanDialog } from './ScanDialog.tsx';
import { TrimDialog } from './TrimDialog.tsx';

const user = userEvent.setup();
let server: AnsweringServer;
beforeEach(() => void (server = new AnsweringServer({ body: { id: 'new' } })));
afterEach(cleanup);

describe('scanning a page', () => {
  const scanner = {
    name: 'Simulated scanner',
    sheets: [
      { id: 'One.png', name: 'One' },
      { id: 'Two.png', name: 'Two' },
    ],
  };
  const show = () => {
    const [onClose, onScanned] = [jest.fn(), jest.fn()];
    render(<ScanDialog open jobId="j" scanner={scanner} onClose={onClose} onScanned={onScanned} />);
    return { onClose, onScanned };
  };

  test('sends the sheet and how it lies, and hands on the page', async () => {
    const { onClose, onScanned } = show();
    const turned = screen.getByLabelText(/turned by/);
    await user.clear(turned);
    await user.type(turned, '-2.5');
    await user.click(screen.getByRole('button', { name: 'Scan' }));
    expect(server.asked).toEqual([
      { url: '/api/jobs/j/scans', method: 'POST', body: { sheetId: 'One.png', skewDegrees: -2.5 } },
    ]);
    await waitFor(() => expect(onScanned).toHaveBeenCalledWith({ id: 'new' }));
    expect(onClose).toHaveBeenCalled();
  });

  test('says what turn a sheet may have, and what the server says', async () => {
    const { onClose } = show();
    const turned = screen.getByLabelText(/turned by/);
    await user.clear(turned);
    expect(screen.getByText('A number from -5 to 5')).toBeTruthy();
    await user.type(turned, '9');
    expect(screen.getByRole('button', { name: 'Scan' })).toHaveProperty('disabled', true);
    await user.clear(turned);
    await user.type(turned, '1');
    server.otherwise = { status: 404, body: { detail: 'The sheet is gone.', code: 'not-found' } };
    await user.click(screen.getByRole('button', { name: 'Scan' }));
    expect(await screen.findByText('The sheet is gone.')).toBeTruthy();
    expect(onClose).not.toHaveBeenCalled();
  });
});

describe('trim and bleed', () => {
  const job = (trim: JobView['trim']): JobView => ({
    id: 'j',
    name: 'Job',
    dueOn: null,
    createdAt: '',
    trim,
    pages: [],
  });

  test('are sent in mm', async () => {
    const onChanged = jest.fn();
    render(<TrimDialog job={job(null)} onClose={() => undefined} onChanged={onChanged} />);
    expect(screen.getByRole('button', { name: 'Set' })).toHaveProperty('disabled', true);
    expect(screen.queryByRole('button', { name: 'No trim' })).toBeNull();
    await user.type(screen.getByLabelText(/Width/), '160');
    await user.type(screen.getByLabelText(/Height/), '240.5');
    await user.click(screen.getByRole('button', { name: 'Set' }));
    await waitFor(() => expect(onChanged).toHaveBeenCalled());
    expect(server.asked[0]).toEqual({
      url: '/api/jobs/j',
      method: 'PATCH',
      body: { trim: { widthMm: 160, heightMm: 240.5, bleedMm: 3 } },
    });
  });

  test('are taken away, and refused ones are said', async () => {
    render(
      <TrimDialog
        job={job({ widthMm: 100, heightMm: 150, bleedMm: 5 })}
        onClose={() => undefined}
        onChanged={() => undefined}
      />,
    );
    server.otherwise = { status: 400, body: { detail: 'trim.widthMm must not be less than 20.', code: 'bad' } };
    await user.click(screen.getByRole('button', { name: 'Set' }));
    expect(await screen.findByText(/must not be less than 20/)).toBeTruthy();
    server.otherwise = { status: 200, body: {} };
    await user.click(screen.getByRole('button', { name: 'No trim' }));
    await waitFor(() => expect(server.asked.at(-1)!.body).toEqual({ trim: null }));
  });
});
