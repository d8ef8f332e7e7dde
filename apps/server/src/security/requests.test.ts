import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdir, mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';
import { waitUntil } from '../tests/waitUntil.ts';

let webFolder: string;
beforeAll(async () => {
  webFolder = await mkdtemp(join(tmpdir(), 'jumble-web-'));
  await mkdir(join(webFolder, 'assets'));
  await writeFile(join(webFolder, 'index.html'), '<title>Jumble</title>');
  await writeFile(join(webFolder, 'assets', 'page-1.js'), 'export {};');
});
afterAll(() => rm(webFolder, { recursive: true }));

/** Whether the interface is served must make no difference to what the API answers. */
describe.each([['with'], ['without']])('a server %s its interface', (kind) => {
  let server: TestServer;
  let pageId: string;
  let jobId: string;
  beforeAll(async () => {
    server = await startServer(kind === 'with' ? { webFolder } : {});
    ({ pageId, jobId } = await jobWithPage(server));
  });
  afterAll(() => server.stop());
  const detailOf = ({ body }: { body: unknown }): string => (body as { detail: string }).detail;
  const postEdits = (edits: unknown) =>
    server.ask.post(`/api/pages/${pageId}/edits`).send({ baseRevision: 0, label: 'Try', edits } as object);

  test('refuses what is no JSON with 400', async () => {
    const broken = await server.ask.post('/api/jobs').type('json').send('{"name": ').expect(400);
    expect(broken.body).toMatchObject({ code: 'bad-request' });
    await server.ask.post('/api/jobs').type('json').send('').expect(400);
    await server.ask.post('/api/jobs').type('form').send('name=Theirs').expect(400);
    await server.ask.post('//').type('json').send('{}').expect(404);
  });

  test('refuses what is too large with 413 and the size that is allowed', async () => {
    const name = `{"name": "${'x'.repeat(300 * 1024)}"}`;
    const large = await server.ask.post('/api/jobs').type('json').send(name).expect(413);
    expect(large.body).toMatchObject({ code: 'too-large' });
    expect(detailOf(large)).toMatch(/larger than 256 kB/);
    const step = `{"label": "${'x'.repeat(25 * 1024 * 1024)}"}`;
    const edits = await server.ask.post(`/api/pages/${pageId}/edits`).type('json').send(step).expect(413);
    expect(detailOf(edits)).toMatch(/larger than 24 MB/);
  });

  test.each<[string, unknown]>([
    ['a list in place of an edit', [[]]],
    ['null in place of an edit', [null]],
    ['an edit without a value', [{ key: 'scene' }]],
    ['a number in place of the edits', 7],
    ['a value that nests too deep', [{ key: 'panels', value: JSON.parse('['.repeat(2000) + ']'.repeat(2000)) }]],
    ['control characters in a name', [{ key: 'ink/a', value: { name: 'a\u0007b', order: 1, bounds: true } }]],
    ['a field nobody knows', [{ key: 'fill/1,1', value: { part: 'a', anchors: [[1, 1]], stamp: 0, x: 'y' } }]],
    ['a field nobody knows in a trap', [{ key: 'trap', value: { rule: 'middle', note: 'x'.repeat(99) } }]],
  ])('answers 400 to %s', async (_, edits) => {
    const answer = await postEdits(edits).expect(400);
    expect(detailOf(answer)).toMatch(/`|levels/);
  });

  test('counts edits before it looks at them', async () => {
    const edits = Array.from({ length: 200_000 }, () => ({ key: 'scene', value: null }));
    const started = performance.now();
    const answer = await postEdits(edits).expect(400);
    expect(detailOf(answer)).toMatch(/1 to 100000 edits; received a list of 200000/);
    // It took twelve seconds; the rest is sending them.
    expect(performance.now() - started).toBeLessThan(4000);
  });

  test('answers 400 to names that are none', async () => {
    for (const name of [null, '', '\u0000', 'a\nb', 7, JSON.parse('['.repeat(30) + ']'.repeat(30))]) {
      await server.ask.patch(`/api/pages/${pageId}`).send({ name }).expect(400);
      await server.ask.patch(`/api/jobs/${jobId}`).send({ name }).expect(400);
      await server.ask.post('/api/jobs').send({ name }).expect(400);
    }
    await server.ask.patch(`/api/pages/${pageId}`).send({ dpi: null }).expect(400);
    await server.ask.patch(`/api/jobs/${jobId}`).send({ dueOn: null }).expect(200);
  });

  test.each([
    ['whose length is told', `Content-Length: ${400 * 1024 * 1024}`],
    ['whose length is not', 'Transfer-Encoding: chunked'],
  ])('refuses a file above its limit, %s, in words of its own, and does not read it to the end', async (_, length) => {
    const { port } = new URL(await server.app.getUrl());
    const socket = connect(Number(port), '127.0.0.1');
    let [answer, sent, open, fault] = ['', 0, true, ''];
    socket.on('data', (bytes) => (answer += bytes.toString()));
    socket.on('close', () => (open = false));
    socket.on('error', (error: NodeJS.ErrnoException) => {
      open = false;
      fault = error.code ?? '';
    });
    const isChunked = length.startsWith('Transfer');
    const write = (bytes: Buffer): Promise<void> => {
      const body = isChunked
        ? Buffer.concat([Buffer.from(`${bytes.length.toString(16)}\r\n`), bytes, Buffer.from('\r\n')])
        : bytes;
      return new Promise((resolve) => {
        if (socket.write(body) || !open) return resolve();
        const done = (): void => {
          socket.off('drain', done).off('close', done);
          resolve();
        };
        socket.on('drain', done).on('close', done);
      });
    };
    socket.write(
      `POST /api/jobs/${jobId}/pages HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nContent-Type: multipart/form-data; boundary=x\r\n${length}\r\n\r\n`,
    );
    await write(Buffer.from('--x\r\nContent-Disposition: form-data; name="file"; filename="a.png"\r\n\r\n'));
    const piece = Buffer.alloc(1024 * 1024);
    while (open && sent < 400) {
      await write(piece);
      sent++;
    }
    if (open) await new Promise((resolve) => socket.once('close', resolve));
    // A reset takes the answer away from a client that has not read it yet.
    expect(fault).not.toBe('ECONNRESET');
    expect(answer).toMatch(/^HTTP\/1.1 413 /);
    expect(answer).toMatch(/page-file-too-large/);
    expect(answer).toMatch(/larger than 300 MB/);
    expect(sent).toBeLessThan(isChunked ? 330 : 30);
    await waitUntil(async () => (await readdir(join(server.dataFolder, 'incoming'))).length === 0);
  });

  test('answers neither a missing file nor a part of the API that is none with a page', async () => {
    await server.ask.get('/api/none').expect(404);
    await server.ask.get('/assets/page-2.js').expect(404);
    await server.ask.get('/jobs/one/pages/two/flats').expect(kind === 'with' ? 200 : 404);
    if (kind === 'without') return;
    const page = await server.ask.get('/').expect(200);
    expect(page.text).toContain('Jumble');
    expect(page.headers['content-security-policy']).toMatch("default-src 'self'");
    await server.ask.get('/assets/page-1.js').expect(200);
    await server.ask.get('/assets/page-1.js').set('Range', 'bytes=900-901').expect(416);
  });
});
