import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { PageView } from '@jumble/contracts';
import { mkdir, rm, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { DataSource } from 'typeorm';
import { PackageEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { handOff } from '../tests/handOff.ts';
import { hold } from '../tests/hold.ts';
import { boxesPng, jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';
import { waitUntil } from '../tests/waitUntil.ts';
import { FILE_KINDS, FILE_STORE, type FileName, type FileStore } from './FileStore.ts';
import { referencedHashes, StoredFiles } from './StoredFiles.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());
afterEach(() => void jest.restoreAllMocks());

const store = (): FileStore => server.app.get<FileStore>(FILE_STORE, { strict: false });
const stored = (): StoredFiles => server.app.get(StoredFiles, { strict: false });
/** Whether a page's own file is among what is kept or looked after; what is drawn of it goes on meanwhile. */
const holdsOriginal = (files: unknown): boolean => (files as FileName[]).some(({ kind }) => kind === 'original');
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
  describe('stay together when the same bytes come in while another page with them goes:', () => {
    let jobId: string;
    let first: PageView;
    let bytes: Buffer;
    let turn = 0;
    beforeEach(async () => {
      jobId = await newJob();
      bytes = await boxesPng(130 + turn++);
      first = (await upload(jobId, bytes).expect(201)).body as PageView;
      // What is drawn of it is kept as well.
      await settled();
    });
    const remove = () => server.ask.delete(`/api/pages/${first.id}`).expect(204);
    const comesIn = async (): Promise<PageView> => (await upload(jobId, bytes).expect(201)).body as PageView;
    const expectWhole = async (page: PageView): Promise<void> => {
      expect((await compare()).missing).toEqual([]);
      await server.ask.get(`/api/pages/${page.id}/file`).expect(200);
      await server.ask.get(`/api/pages/${page.id}/grey/${page.greyHash}`).expect(200);
      await settled();
    };

    test('it is gone with its files before the new one is kept', async () => {
      const keeping = hold(stored(), 'keep', holdsOriginal);
      const coming = comesIn();
      await keeping.hasCome;
      await remove();
      keeping.letGo();
      await expectWhole(await coming);
    });

    test('the new one is kept before its files are looked after', async () => {
      const releasing = hold(stored(), 'release', holdsOriginal);
      const going = Promise.resolve(remove());
      await releasing.hasCome;
      const page = await comesIn();
      releasing.letGo();
      await going;
      await expectWhole(page);
    });

    test.each(['keep', 'release'] as const)('both turns are asked for at once, %s first', async (firstTurn) => {
      const turns = { keep: hold(stored(), 'keep', holdsOriginal), release: hold(stored(), 'release', holdsOriginal) };
      const coming = comesIn();
      await turns.keep.hasCome;
      const going = Promise.resolve(remove());
      await turns.release.hasCome;
      turns[firstTurn].letGo();
      turns[firstTurn === 'keep' ? 'release' : 'keep'].letGo();
      await going;
      await expectWhole(await coming);
    });
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

  test.each([
    ['before the page is kept', 'keep'],
    ['before the files of the job are looked after', 'release'],
    ['whenever it comes', null],
  ] as const)('go together when a job goes while a page comes in, is drawn and handed off: %s', async (_, held) => {
    const { jobId, pageId } = await jobWithPage(server);
    const holding = held === null ? null : hold(stored(), held, holdsOriginal);
    const handoff = server.ask.post(`/api/jobs/${jobId}/packages`).send({ pageIds: [pageId], deliveryId: 'colourist' });
    const coming = Promise.resolve(upload(jobId, await boxesPng(200)));
    if (held === 'keep') await holding!.hasCome;
    const going = Promise.resolve(server.ask.delete(`/api/jobs/${jobId}`).expect(204));
    if (held === 'release') await Promise.all([holding!.hasCome, coming]);
    if (held === 'keep') await going;
    holding?.letGo();
    for (const { status } of await Promise.all([handoff, coming, going])) expect([201, 204, 404]).toContain(status);
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
