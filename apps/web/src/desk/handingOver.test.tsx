import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { ForeignCheckView, JobView, PackageView } from '@jumble/contracts';
import { FIRST_DELIVERIES } from '@jumble/core';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { AnsweringServer } from '../tests/AnsweringServer.ts';
import { showView } from '../tests/showView.tsx';
import { ForeignDialog } from './ForeignDialog.tsx';
import { HandOffDialog } from './HandOffDialog.tsx';
import { OutboxPage } from './OutboxPage.tsx';

const user = userEvent.setup();
let server: AnsweringServer;
beforeEach(() => void (server = new AnsweringServer()));
afterEach(cleanup);

const pack = (over: Partial<PackageView>): PackageView => ({
  id: 'a',
  jobId: 'j',
  jobName: 'Night tram',
  rule: FIRST_DELIVERIES[0]!,
  palette: 'scene',
  state: 'ready',
  progress: 1,
  problem: null,
  createdAt: '2026-11-30T10:00:00Z',
  fileName: 'night-tram.zip',
  sizeBytes: 2_900_000,
  sha256: 'ab'.repeat(32),
  files: [],
  ...over,
});
const file = { id: 'f', pageId: 'p', pageRevision: 2, problem: null, sha256: null, readBack: null } as const;

describe('the outbox', () => {
  test('lists what is ready with its sum, what is packed with a way to stop it, and what stopped with a way to go on', async () => {
    server.answers.set('GET /api/packages', {
      body: [
        pack({ id: 'a', files: [{ ...file, state: 'ready', fileName: 'one.ora', sizeBytes: 1_000_000, readBack: { pictures: 2, pixels: 900 } }] }), // prettier-ignore
        pack({ id: 'b', state: 'packing', sha256: null, files: [{ ...file, state: 'building', fileName: 'two.ora', sizeBytes: null }] }), // prettier-ignore
        pack({ id: 'c', state: 'cancelled', sha256: null, palette: 'scratch' }),
      ],
    });
    showView(<OutboxPage />);
    expect((await screen.findByRole('link', { name: 'night-tram.zip' })).getAttribute('href')).toBe('/api/packages/a/file'); // prettier-ignore
    expect(screen.getByText(/SHA-256 abababababab/)).toBeTruthy();
    expect(screen.getByText('1.0 MB, revision 2; read again: 2 pictures, 900 px, no difference')).toBeTruthy();
    expect(screen.queryByRole('link', { name: 'two.ora' })).toBeNull();
    expect(screen.getByText(/scratch colours/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Cancel' }));
    await user.click(screen.getByRole('button', { name: 'Go on' }));
    // Removing asks once.
    await user.click(screen.getAllByRole('button', { name: 'Remove' })[0]!);
    await user.click(screen.getByRole('button', { name: 'Remove it' }));
    expect(server.asked.map(({ method, url }) => `${method} ${url}`)).toEqual(['POST /api/packages/b/cancel', 'POST /api/packages/c/resume', 'DELETE /api/packages/a']); // prettier-ignore
  });

  test('that is empty says how something gets there', async () => {
    showView(<OutboxPage />);
    expect(await screen.findByText(/Nothing was handed off yet/)).toBeTruthy();
  });
});

describe('handing off pages', () => {
  const page = (id: string) => ({ id, name: `Page ${id}`, filledCount: 4, regionCount: 4 });
  const job = { id: 'j', name: 'Night tram', pages: [page('1'), page('2'), page('3')] } as unknown as JobView;
  test('takes those that were chosen, by a rule, and says what the server refuses', async () => {
    server.answers.set('GET /api/jobs/j/cast', { body: { revision: 0, records: [] } });
    server.answers.set('POST /api/jobs/j/packages', { status: 400, body: { detail: 'Nobody said where it is cut.' } });
    const [onClose, onBegun] = [jest.fn(), jest.fn()];
    showView(<HandOffDialog job={job} chosen={new Set(['1', '3'])} onClose={onClose} onBegun={onBegun} />);
    expect(await screen.findByText('OpenRaster, layers one a part')).toBeTruthy();
    await user.click(screen.getByLabelText(/1\. Page 1/));
    await user.click(screen.getByRole('button', { name: 'Hand off 1 page' }));
    expect(server.asked[0]).toMatchObject({ body: { pageIds: ['3'], deliveryId: 'colourist' } });
    expect(await screen.findByText('Nobody said where it is cut.')).toBeTruthy();
    expect(onClose).not.toHaveBeenCalled();
    server.answers.set('POST /api/jobs/j/packages', { status: 201, body: {} });
    await user.click(screen.getByRole('button', { name: 'Hand off 1 page' }));
    await waitFor(() => expect(onBegun).toHaveBeenCalled());
    expect(onClose).toHaveBeenCalled();
  });
});

describe('flats from elsewhere', () => {
  const view: ForeignCheckView = {
    id: 'x',
    inkName: 'ink.png',
    flatsName: 'flats.png',
    width: 400,
    height: 300,
    regionCount: 7,
    colours: [{ colour: '#112233', areaPx: 9 }],
    findings: [
      { kind: 'stray', x: 10, y: 12, width: 2, height: 1, areaPx: 2, at: [10, 12], message: 'odd', rgb: -1, expectedRgb: -1 }, // prettier-ignore
      { kind: 'stray', x: 50, y: 12, width: 2, height: 2, areaPx: 4, at: [50, 12], message: 'odd', rgb: -1, expectedRgb: -1 }, // prettier-ignore
    ],
  };
  /** Uploads answer in their order. */
  function uploadsAnswer(...bodies: { status: number; body: unknown }[]): string[] {
    const opened: string[] = [];
    globalThis.XMLHttpRequest = class {
      upload = {};
      status = 0;
      response: unknown;
      responseType = '';
      onload?: () => void;
      open(method: string, url: string): void {
        opened.push(`${method} ${url}`);
      }
      setRequestHeader(): void {
        // Nobody looks.
      }
      send(): void {
        const { status, body } = bodies.shift()!;
        Object.assign(this, { status, response: body });
        this.onload?.();
      }
    } as unknown as typeof XMLHttpRequest;
    return opened;
  }

  test('are checked with what is asked of them, shown by kind, and taken over or left', async () => {
    const opened = uploadsAnswer({ status: 201, body: { id: 'x' } }, { status: 200, body: view });
    const [onClose, onTaken] = [jest.fn(), jest.fn()];
    showView(<ForeignDialog jobId="j" onClose={onClose} onTaken={onTaken} />);
    expect(screen.getByRole('button', { name: 'Check' })).toHaveProperty('disabled', true);
    await user.upload(screen.getByLabelText('Line art'), new File(['i'], 'ink.png'));
    await user.upload(screen.getByLabelText('Flats'), new File(['f'], 'flats.png'));
    await user.click(screen.getByLabelText(/The colours of this job/));
    await user.selectOptions(screen.getByLabelText(/Colour mode/), 'RGB');
    await user.click(screen.getByRole('button', { name: 'Check' }));
    expect(await screen.findByRole('heading', { name: 'Stray pixels: 2' })).toBeTruthy();
    expect(opened).toEqual(['POST /api/jobs/j/foreign', 'PUT /api/foreign/x/flats?cast=job&mode=rgb']);
    expect(screen.getByText(/400 x 300 px, 7 regions, 1 colour, 2 findings/)).toBeTruthy();
    expect(screen.getByText('2 px² at 10, 12')).toBeTruthy();
    server.answers.set('POST /api/foreign/x/take', { status: 201, body: { id: 'new' } });
    await user.click(screen.getByRole('button', { name: 'Take over as a page' }));
    await waitFor(() => expect(onTaken).toHaveBeenCalledWith({ id: 'new' }));
  });

  test('that do not fit say so, and leaving what was checked takes it away', async () => {
    uploadsAnswer({ status: 201, body: { id: 'x' } }, { status: 400, body: { detail: 'They have other sizes.' } });
    const onClose = jest.fn();
    showView(<ForeignDialog jobId="j" onClose={onClose} onTaken={jest.fn()} />);
    await user.upload(screen.getByLabelText('Line art'), new File(['i'], 'ink.png'));
    await user.upload(screen.getByLabelText('Flats'), new File(['f'], 'flats.png'));
    await user.click(screen.getByRole('button', { name: 'Check' }));
    expect(await screen.findByText('They have other sizes.')).toBeTruthy();
    uploadsAnswer({ status: 201, body: { id: 'y' } }, { status: 200, body: { ...view, id: 'y', findings: [] } });
    await user.click(screen.getByRole('button', { name: 'Check' }));
    expect(await screen.findByText(/nothing found/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Leave it' }));
    expect(server.asked).toEqual([{ method: 'DELETE', url: '/api/foreign/y', body: null }]);
    expect(onClose).toHaveBeenCalled();
  });
});
