import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { PageView } from '@jumble/contracts';
import { unpackCuts } from '@jumble/core';
import { existsSync } from 'node:fs';
import { readdir, readFile, writeFile } from 'node:fs/promises';
import { request as httpRequest } from 'node:http';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import sharp from 'sharp';
import { boxesPng, jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';
import { waitUntil } from '../tests/waitUntil.ts';

let server: TestServer;
let jobId: string;
let pageId: string;
beforeAll(async () => {
  server = await startServer();
  ({ jobId, pageId } = await jobWithPage(server));
});
afterAll(() => server.stop());

const pageCount = async (): Promise<number> =>
  ((await server.ask.get(`/api/jobs/${jobId}`)).body as { pages: unknown[] }).pages.length;
const incoming = (): Promise<string[]> => readdir(join(server.dataFolder, 'incoming'));
const upload = (bytes: Buffer, name: string) => server.ask.post(`/api/jobs/${jobId}/pages`).attach('file', bytes, name);
const bytesOf = async (url: string): Promise<Buffer> =>
  (await server.ask.get(url).responseType('blob').expect(200)).body as Buffer;

describe('an uploaded page', () => {
  test('says what it is, and its original comes back byte for byte', async () => {
    const png = await boxesPng();
    const page = (await server.ask.get(`/api/pages/${pageId}`).expect(200)).body as Record<string, unknown>;
    expect(page).toMatchObject({
      name: 'page 1',
      width: 120,
      height: 90,
      dpi: 300,
      format: 'png',
      fileName: 'page 1.png',
      regionCount: 4,
      filledCount: 0,
      revision: 0,
    });
    expect((await bytesOf(`/api/pages/${pageId}/file`)).equals(png)).toBe(true);
  });

  test('gives its grey raster and its thumbnail, kept for ever under their hash', async () => {
    const page = (await server.ask.get(`/api/pages/${pageId}`)).body as { greyHash: string; thumbnailHash: string };
    const answer = await server.ask.get(`/api/pages/${pageId}/grey/${page.greyHash}`).expect(200).responseType('blob');
    const grey = answer.body as Buffer;
    expect((grey.length === 120 * 90 ? grey : gunzipSync(grey)).length).toBe(120 * 90);
    expect(answer.headers['cache-control']).toMatch(/immutable/);
    const thumbnail = await bytesOf(`/api/pages/${pageId}/thumbnail/${page.thumbnailHash}`);
    expect((await sharp(thumbnail).metadata()).width).toBeGreaterThan(20);
    await server.ask.get(`/api/pages/${pageId}/grey/${'0'.repeat(64)}`).expect(404);
  });

  test('keeps the gaps that were found in it, finds them again where they are damaged, and takes them along', async () => {
    const { id } = (await upload(await boxesPng(170), 'gaps.png').expect(201)).body as { id: string };
    const view = async () => (await server.ask.get(`/api/pages/${id}`).expect(200)).body as PageView;
    const { cuts, width, height } = await view();
    const hash = cuts!.hash;
    const kept = async (): Promise<string> =>
      JSON.stringify((await server.ask.get(`/api/pages/${id}/cuts/${hash}`).expect(200)).body);
    const before = await kept();
    expect(unpackCuts(before, width * height).foundToPx).toBeGreaterThan(0);
    await server.ask.get(`/api/pages/${id}/cuts/${'0'.repeat(64)}`).expect(404);

    const file = join(server.dataFolder, 'cuts', hash.slice(0, 2), hash);
    await writeFile(file, 'no gaps at all');
    // Another ruling has the page read anew.
    const edits = [{ key: 'gap/1,1-9,9', value: 'open' }];
    await server.ask.post(`/api/pages/${id}/edits`).send({ baseRevision: 0, label: 'Rule', edits }).expect(201);
    await waitUntil(async () => (await readFile(file, 'utf8')) !== 'no gaps at all');
    expect(await kept()).toBe(before);

    await server.ask.delete(`/api/pages/${id}`).expect(204);
    expect(existsSync(file)).toBe(false);
  });

  test('without a resolution takes the one that was given, or is asked for one', async () => {
    const bare = await sharp(await boxesPng(130))
      .webp({ lossless: true })
      .toBuffer();
    expect(((await upload(bare, 'bare.webp').expect(201)).body as { dpi: number | null }).dpi).toBeNull();
    const given = await server.ask
      .post(`/api/jobs/${jobId}/pages?dpi=600`)
      .attach('file', bare, 'bare.webp')
      .expect(201);
    expect((given.body as { dpi: number }).dpi).toBe(600);
    const wrong = await server.ask
      .post(`/api/jobs/${jobId}/pages?dpi=lots`)
      .attach('file', bare, 'bare.webp')
      .expect(400);
    expect((wrong.body as { detail: string }).detail).toMatch(/36 to 4800/);
  });

  test('keeps its fills when its file is replaced by a revised one', async () => {
    const { pageId: revised } = await jobWithPage(server);
    const edits = [{ key: 'fill/20,20', value: { part: 'coat', anchors: [[20, 20]], stamp: 0 } }];
    await server.ask
      .post(`/api/pages/${revised}/edits`)
      .send({ baseRevision: 0, label: 'Give 1 region', edits })
      .expect(201);
    const before = (await server.ask.get(`/api/pages/${revised}`)).body as { greyHash: string };
    const answer = await server.ask
      .put(`/api/pages/${revised}/file`)
      .attach('file', await boxesPng(160, 100), 'new.tif')
      .expect(200);
    expect(answer.body).toMatchObject({ width: 160, height: 100, fileName: 'new.tif', revision: 1 });
    expect((answer.body as { greyHash: string }).greyHash).not.toBe(before.greyHash);
    const document = (await server.ask.get(`/api/pages/${revised}/document`)).body as { records: unknown[] };
    expect(document.records).toEqual([['fill/20,20', edits[0]!.value]]);
  });

  test('is renamed with any text, and never becomes a path', async () => {
    const answer = await upload(await boxesPng(150), '..\\..\\etc\\passwd.png').expect(201);
    expect((answer.body as { fileName: string }).fileName).toBe('passwd.png');
    const id = (answer.body as { id: string }).id;
    await server.ask.patch(`/api/pages/${id}`).send({ name: '../x <b>' }).expect(200);
    expect(((await server.ask.get(`/api/pages/${id}`)).body as { name: string }).name).toBe('../x <b>');
    await server.ask.patch(`/api/pages/${id}`).send({ dpi: 12 }).expect(400);
    await server.ask.delete(`/api/pages/${id}`).expect(204);
    await server.ask.get(`/api/pages/${id}`).expect(404);
  });
});

describe('a file that is no page', () => {
  const cases: [string, () => Promise<Buffer>, number, string][] = [
    ['empty.png', async () => Buffer.alloc(0), 422, 'page-file-empty'],
    ['notes.png', async () => Buffer.from('the tram is late'), 422, 'page-file-not-an-image'],
    [
      'drawing.svg',
      async () => Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>'),
      422,
      'page-file-not-an-image',
    ],
    ['cut.png', async () => (await boxesPng(900, 900)).subarray(0, 900), 422, 'page-file-damaged'],
    [
      'huge.png',
      () =>
        sharp({ create: { width: 20_000, height: 10_001, channels: 3, background: '#fff' } })
          .png({ compressionLevel: 1 })
          .toBuffer(),
      422,
      'page-file-too-many-pixels',
    ],
  ];
  test.each(cases)('%s is refused with what to do, and nothing is stored', async (name, make, status, code) => {
    const before = await pageCount();
    const answer = await upload(await make(), name).expect(status);
    const { detail, code: said } = answer.body as { detail: string; code: string };
    expect(said).toBe(code);
    expect(detail).toMatch(/Nothing was stored\.$/);
    expect(await pageCount()).toBe(before);
    expect(await incoming()).toEqual([]);
  });

  test('an animation is refused too', async () => {
    const frames = await Promise.all(
      ['#fff', '#000'].map((background) =>
        sharp({ create: { width: 40, height: 40, channels: 3, background } })
          .png()
          .toBuffer(),
      ),
    );
    const gif = await sharp(frames, { join: { animated: true } })
      .gif()
      .toBuffer();
    expect(((await upload(gif, 'tram.gif').expect(422)).body as { code: string }).code).toBe('page-file-animation');
  });

  test('no file at all, two files, and a job that is gone are told apart', async () => {
    const none = await server.ask.post(`/api/jobs/${jobId}/pages`).expect(400);
    expect((none.body as { code: string }).code).toBe('no-file');
    const png = await boxesPng();
    await upload(png, 'a.png').attach('file', png, 'b.png').expect(400);
    await server.ask.post('/api/jobs/gone/pages').attach('file', png, 'a.png').expect(404);
    expect(await incoming()).toEqual([]);
  });

  test('an upload that breaks off leaves nothing behind', async () => {
    const before = await pageCount();
    const url = new URL(`/api/jobs/${jobId}/pages`, await server.app.getUrl());
    await new Promise<void>((resolve) => {
      const sending = httpRequest(url, {
        method: 'POST',
        headers: { 'Content-Type': 'multipart/form-data; boundary=x', 'Content-Length': 5_000_000 },
      });
      sending.on('error', () => resolve());
      sending.write(
        '--x\r\nContent-Disposition: form-data; name="file"; filename="a.png"\r\n\r\n' + 'x'.repeat(100_000),
      );
      void waitUntil(async () => (await incoming()).length > 0).then(() => sending.destroy());
    });
    await waitUntil(async () => (await incoming()).length === 0);
    expect(await pageCount()).toBe(before);
  });

  test('what a killed server left half-written is cleared at the next start; what was stored is there', async () => {
    const first = await startServer();
    const { pageId: kept } = await jobWithPage(first);
    await writeFile(join(first.dataFolder, 'incoming', 'half'), 'half a file');
    await first.stop(false);
    const again = await startServer({ dataFolder: first.dataFolder });
    try {
      expect(await readdir(join(first.dataFolder, 'incoming'))).toEqual([]);
      await again.ask.get(`/api/pages/${kept}`).expect(200);
      const original = (await again.ask.get(`/api/pages/${kept}/file`).responseType('blob')).body as Buffer;
      expect(original.equals(await boxesPng())).toBe(true);
      expect(await readFile(join(first.dataFolder, 'jumble.sqlite')).then((bytes) => bytes.length)).toBeGreaterThan(0);
    } finally {
      await again.stop();
    }
  });
});
