import { afterAll, afterEach, beforeAll, describe, expect, jest, test } from '@jest/globals';
import type { PageView } from '@jumble/contracts';
import { mkdir, rm, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { DataSource } from 'typeorm';
import { PackageEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { handOff } from '../tests/handOff.ts';
import { boxesPng, jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';
import { waitUntil } from '../tests/waitUntil.ts';
import { FILE_KINDS, FILE_STORE, type FileStore } from './FileStore.ts';
import { referencedHashes, StoredFiles } from './StoredFiles.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());
afterEach(() => void jest.restoreAllMocks());

const store = (): FileStore => server.app.get<FileStore>(FILE_STORE, { strict: false });
const newJob = async (): Promise<string> =>
  ((await server.ask.post('/api/jobs').send({ name: 'Night tram' }).expect(201)).body as { id: string }).id;
const upload = (jobId: string, bytes: Buffer) =>
  server.ask.post(`/api/jobs/${jobId}/pages`).attach('file', bytes, 'a.png');

/** Files that rows refer to and that are not there, and files that no row refers to. */
async function compare(): Promise<{ missing: string[]; orphans: string[] }> {
  const { manager } = server.app.get(DataSource, { strict: false });
  const result = { missing: [] as string[], orphans: [] as string[] };
  for (const kind of FILE_KINDS) {
    const [used, there] = [await referencedHashes(manager, kind), new Set(await store().list(kind))];
    result.missing.push(...[...used].filter((hash) => !there.has(hash)).map((hash) => `${kind} ${hash}`));
    result.orphans.push(...[...there].filter((hash) => !used.has(hash)).map((hash) => `${kind} ${hash}`));
  }
  return result;
}
const settled = () => waitUntil(async () => JSON.stringify(await compare()) === '{"missing":[],"orphans":[]}');

describe('files and the rows that refer to them', () => {
  test('stay together when the same bytes come in while another page with them goes', async () => {
    const jobId = await newJob();
    for (let k = 0; k < 12; k++) {
      const bytes = await boxesPng(130 + k);
      const first = (await upload(jobId, bytes).expect(201)).body as PageView;
      const [answer] = await Promise.all([
        upload(jobId, bytes).expect(201),
        // At another moment of the upload each time.
        new Promise((resolve) => setTimeout(resolve, 6 * k)).then(() =>
          server.ask.delete(`/api/pages/${first.id}`).expect(204),
        ),
      ]);
      expect((await compare()).missing).toEqual([]);
      const page = answer.body as PageView;
      await server.ask.get(`/api/pages/${page.id}/file`).expect(200);
      await server.ask.get(`/api/pages/${page.id}/grey/${page.greyHash}`).expect(200);
    }
    await settled();
  });

  test('stay together when a page is given three files at once', async () => {
    for (let k = 0; k < 6; k++) {
      const { pageId } = await jobWithPage(server);
      const files = await Promise.all([150, 160, 170].map((width) => boxesPng(width + k)));
      await Promise.all(
        files.map((file) => server.ask.put(`/api/pages/${pageId}/file`).attach('file', file, 'b.png').expect(200)),
      );
      const page = (await server.ask.get(`/api/pages/${pageId}`).expect(200)).body as PageView;
      await server.ask.get(`/api/pages/${pageId}/grey/${page.greyHash}`).expect(200);
    }
    await settled();
  });

  test('go together when a job goes while pages come in, are drawn and handed off', async () => {
    for (let k = 0; k < 8; k++) {
      const { jobId, pageId } = await jobWithPage(server);
      const [handoff, uploaded] = [
        server.ask.post(`/api/jobs/${jobId}/packages`).send({ pageIds: [pageId], deliveryId: 'colourist' }),
        upload(jobId, await boxesPng(200 + k)),
      ];
      const gone = new Promise((resolve) => setTimeout(resolve, 9 * k)).then(() =>
        server.ask.delete(`/api/jobs/${jobId}`).expect(204),
      );
      for (const answer of await Promise.all([handoff, uploaded, gone]))
        expect([201, 204, 404]).toContain((answer as { status: number }).status);
    }
    await settled();
  });

  test('are both taken back when the file cannot be placed', async () => {
    const jobId = await newJob();
    // Pages of other tests may still be drawn: theirs are placed.
    const place = store().place.bind(store());
    const full = Object.assign(new Error('ENOSPC: no space left'), { code: 'ENOSPC' });
    jest
      .spyOn(store(), 'place')
      .mockImplementation((file) => (file.kind === 'original' ? Promise.reject(full) : place(file)));
    const answer = await upload(jobId, await boxesPng(301)).expect(507);
    expect(answer.body).toMatchObject({ code: 'disk-full' });
    expect(((await server.ask.get(`/api/jobs/${jobId}`)).body as { pages: unknown[] }).pages).toEqual([]);
    await settled();
  });

  test('are swept at a start: what no row refers to goes, all else stays', async () => {
    const { pageId } = await jobWithPage(server);
    await settled();
    const hash = 'ab'.repeat(32);
    for (const kind of FILE_KINDS) {
      await mkdir(dirname(store().pathOf(kind, hash)), { recursive: true });
      await writeFile(store().pathOf(kind, hash), 'nobody needs this');
    }
    expect(await server.app.get(StoredFiles, { strict: false }).sweep()).toBe(FILE_KINDS.length);
    expect(await compare()).toEqual({ missing: [], orphans: [] });
    await server.ask.get(`/api/pages/${pageId}/file`).expect(200);
  });

  test('a file that is missing all the same is said to be, in words', async () => {
    const { jobId, pageId } = await jobWithPage(server);
    const page = (await server.ask.get(`/api/pages/${pageId}`)).body as PageView;
    const built = await handOff(server, jobId, [pageId], { format: 'png' });
    for (const kind of FILE_KINDS) {
      for (const hash of await store().list(kind)) await rm(store().pathOf(kind, hash));
    }
    for (const url of [
      `pages/${pageId}/file`,
      `pages/${pageId}/grey/${page.greyHash}`,
      `pages/${pageId}/thumbnail/${page.thumbnailHash}`,
      `handoffs/${built.files[0]!.id}/file`,
      `packages/${built.id}/file`,
    ]) {
      const answer = await server.ask.get(`/api/${url}`).expect(410);
      expect(answer.body).toMatchObject({
        code: 'file-missing',
        detail: expect.stringMatching(/is missing .*Put the folder back/),
      });
      expect(answer.headers['content-disposition']).toBeUndefined();
      expect(answer.headers['cache-control']).toBeUndefined();
    }
  });

  test('a hand-off whose end cannot be recorded is told as failed', async () => {
    const { jobId, pageId } = await jobWithPage(server);
    const view = await handOff(server, jobId, [pageId]);
    await server.app
      .get(WriteQueue, { strict: false })
      .run((manager) => manager.update(PackageEntity, { id: view.id }, { state: 'packing' }));
    expect((await server.ask.get(`/api/packages/${view.id}`)).body).toMatchObject({ state: 'failed' });
  });
});

test('a page takes no more ink files than it may, however many come at once', async () => {
  const { pageId } = await jobWithPage(server);
  const bytes = await boxesPng();
  const answers = await Promise.all(
    Array.from({ length: 16 }, (_, k) =>
      server.ask.post(`/api/pages/${pageId}/inks`).attach('file', bytes, `ink ${k}.png`),
    ),
  );
  expect(answers.map(({ status }) => status).sort()).toEqual([
    ...Array<number>(12).fill(201),
    ...Array<number>(4).fill(409),
  ]);
  expect(((await server.ask.get(`/api/pages/${pageId}`)).body as PageView).inks).toHaveLength(12);
});
