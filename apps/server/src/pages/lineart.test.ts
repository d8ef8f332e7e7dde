import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { JobView, PageView, ScannerView } from '@jumble/contracts';
import sharp from 'sharp';
import { boxesPng, jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';
import { waitUntil } from '../tests/waitUntil.ts';

let server: TestServer;
let tray: string;
beforeAll(async () => {
  tray = await mkdtemp(join(tmpdir(), 'jumble-tray-'));
  await writeFile(join(tray, 'Sheet 1.png'), await boxesPng(400, 300));
  await writeFile(join(tray, 'notes.txt'), 'no sheet');
  server = await startServer({ scannerTray: tray });
});
afterAll(async () => {
  await server.stop();
  await rm(tray, { recursive: true });
});

const wall = (width = 120, height = 90): Promise<Buffer> =>
  sharp(
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><rect width="100%" height="100%" fill="#fff"/><path d="M30 10V50" stroke="#000" stroke-width="4"/></svg>`,
    ),
  )
    .png()
    .toBuffer();
const pageOf = async (id: string): Promise<PageView> => (await server.ask.get(`/api/pages/${id}`)).body as PageView;
const files = async (kind: string): Promise<number> =>
  (await readdir(join(server.dataFolder, kind), { recursive: true, withFileTypes: true })).filter((one) => one.isFile())
    .length;
/** The page's counts come some time after an edit. */
const countsOf = (id: string, count: number): Promise<void> =>
  waitUntil(async () => (await pageOf(id)).regionCount === count);

describe('further ink files', () => {
  test('are added, bound regions unless they are left out, and are removed with their files', async () => {
    const { ask } = server;
    const { pageId } = await jobWithPage(server);
    const greys = await files('grey');
    const added = await ask
      .post(`/api/pages/${pageId}/inks`)
      .attach('file', await wall(), 'Rain.png')
      .expect(201);
    const [ink] = (added.body as PageView).inks;
    expect(ink).toMatchObject({ fileName: 'Rain.png', format: 'png' });
    expect(await files('grey')).toBe(greys + 1);
    // The wall divides one of the boxes.
    await countsOf(pageId, 5);
    const leaveOut = { key: `ink/${ink!.id}`, value: { name: 'Rain', order: 1, bounds: false } };
    await ask
      .post(`/api/pages/${pageId}/edits`)
      .send({ baseRevision: 0, label: 'Leave out the rain', edits: [leaveOut] })
      .expect(201);
    await countsOf(pageId, 4);
    const raster = await ask.get(`/api/pages/${pageId}/grey/${ink!.greyHash}`).expect(200);
    expect((raster.body as Buffer).length).toBe(120 * 90);
    await ask.delete(`/api/pages/${pageId}/inks/${ink!.id}`).expect(200);
    expect(await files('grey')).toBe(greys);
    await ask.delete(`/api/pages/${pageId}/inks/${ink!.id}`).expect(404);
  });

  test('of another size are refused, and leave nothing behind', async () => {
    const { ask } = server;
    const { pageId } = await jobWithPage(server);
    const before = [await files('grey'), await files('original')];
    const answer = await ask
      .post(`/api/pages/${pageId}/inks`)
      .attach('file', await wall(60, 60), 'small.png')
      .expect(409);
    expect((answer.body as { detail: string }).detail).toMatch(/60 x 60 px.*120 x 90 px/);
    expect([await files('grey'), await files('original')]).toEqual(before);
    expect((await pageOf(pageId)).inks).toEqual([]);
  });
});

describe('a revised file', () => {
  test('keeps the raster before it until its changes are settled', async () => {
    const { ask } = server;
    const { pageId } = await jobWithPage(server);
    const { greyHash } = await pageOf(pageId);
    const revised = await ask
      .put(`/api/pages/${pageId}/file`)
      .attach('file', await wall(), 'page 1.png')
      .expect(200);
    expect((revised.body as PageView).previousGreyHash).toBe(greyHash);
    await ask.get(`/api/pages/${pageId}/grey/${greyHash}`).expect(200);
    const settled = await ask.delete(`/api/pages/${pageId}/revision`).expect(200);
    expect((settled.body as PageView).previousGreyHash).toBeNull();
    await ask.get(`/api/pages/${pageId}/grey/${greyHash}`).expect(404);
  });

  test('of another size has nothing to be compared with, and is refused beside other ink files', async () => {
    const { ask } = server;
    const { pageId } = await jobWithPage(server);
    const bigger = await ask
      .put(`/api/pages/${pageId}/file`)
      .attach('file', await boxesPng(140), 'page 1.png')
      .expect(200);
    expect((bigger.body as PageView).previousGreyHash).toBeNull();
    await ask
      .post(`/api/pages/${pageId}/inks`)
      .attach('file', await wall(140), 'Rain.png')
      .expect(201);
    await ask
      .put(`/api/pages/${pageId}/file`)
      .attach('file', await boxesPng(), 'page 1.png')
      .expect(409);
    expect((await pageOf(pageId)).width).toBe(140);
  });
});

describe('the trim of a job', () => {
  test('is set, kept and taken away', async () => {
    const { ask } = server;
    const { jobId } = await jobWithPage(server);
    const trim = { widthMm: 160, heightMm: 240, bleedMm: 3 };
    const set = await ask.patch(`/api/jobs/${jobId}`).send({ trim }).expect(200);
    expect((set.body as JobView).trim).toEqual(trim);
    await ask.patch(`/api/jobs/${jobId}`).send({ name: 'Night' }).expect(200);
    expect(((await ask.get(`/api/jobs/${jobId}`)).body as JobView).trim).toEqual(trim);
    const none = await ask.patch(`/api/jobs/${jobId}`).send({ trim: null }).expect(200);
    expect((none.body as JobView).trim).toBeNull();
  });

  test.each([
    { widthMm: 1, heightMm: 240, bleedMm: 3 },
    { widthMm: 160, heightMm: 'high', bleedMm: 3 },
    { widthMm: 160, heightMm: 240, bleedMm: -1 },
    { widthMm: 160, heightMm: 240 },
  ])('is refused as %j', async (trim) => {
    const { jobId } = await jobWithPage(server);
    await server.ask.patch(`/api/jobs/${jobId}`).send({ trim }).expect(400);
  });
});

describe('the simulated scanner', () => {
  test('offers the sheets in its tray and scans one as a page', async () => {
    const { ask } = server;
    const { jobId } = await jobWithPage(server);
    const scanner = (await ask.get('/api/scanner').expect(200)).body as ScannerView;
    expect(scanner.sheets).toEqual([{ id: 'Sheet 1.png', name: 'Sheet 1' }]);
    const scan = { sheetId: 'Sheet 1.png', skewDegrees: 1.5 };
    const page = (await ask.post(`/api/jobs/${jobId}/scans`).send(scan).expect(201)).body as PageView;
    expect(page).toMatchObject({ name: 'Sheet 1 scan', width: 400, height: 300, dpi: 300, mode: 'grey' });
    // The boxes are found through grey paper and noise.
    expect(page.regionCount).toBe(4);
  });

  test.each([
    [{ sheetId: '../Sheet 1.png', skewDegrees: 0 }, 404],
    [{ sheetId: 'notes.txt', skewDegrees: 0 }, 404],
    [{ sheetId: 'Sheet 1.png', skewDegrees: 40 }, 400],
    [{ sheetId: 'Sheet 1.png' }, 400],
  ])('refuses %j with %d', async (scan, status) => {
    const { jobId } = await jobWithPage(server);
    await server.ask.post(`/api/jobs/${jobId}/scans`).send(scan).expect(status);
  });

  test('has no sheets where none is connected', async () => {
    const bare = await startServer();
    expect(((await bare.ask.get('/api/scanner')).body as ScannerView).sheets).toEqual([]);
    await bare.stop();
  });
});

describe('a panel with a scene of its own', () => {
  test('is kept as a record that is checked', async () => {
    const { ask } = server;
    const { pageId } = await jobWithPage(server);
    const send = (value: unknown): ReturnType<typeof ask.post> =>
      ask
        .post(`/api/pages/${pageId}/edits`)
        .send({ baseRevision: 0, label: 'Panels', edits: [{ key: 'panels', value }] });
    await send([
      {
        points: [
          [0, 0],
          [10, 0],
        ],
        scene: null,
      },
    ]).expect(400);
    await send([
      {
        points: [
          [0, 0],
          [10, 0],
          [10, 1.5],
        ],
        scene: null,
      },
    ]).expect(400);
    await send([
      {
        points: [
          [0, 0],
          [10, 0],
          [10, 10],
        ],
        scene: '../x',
      },
    ]).expect(400);
    await send([
      {
        points: [
          [0, 0],
          [60, 0],
          [60, 90],
          [0, 90],
        ],
        scene: 'night',
      },
    ]).expect(201);
  });
});
