import { expect, test } from '@playwright/test';
import { execFileSync, spawnSync } from 'node:child_process';
import { readdir, rm, writeFile } from 'node:fs/promises';
import { request as httpRequest } from 'node:http';
import { join } from 'node:path';
import { clickPage, openCount, toStage, whenReady, whenSaved } from './testing/bench.ts';
import { inkTeapot } from './testing/ownInking.ts';
import { ask, runServer, SERVER_FILE, uploadPage, type RunningServer } from './testing/runServer.ts';

interface Document {
  revision: number;
  records: [string, unknown][];
}

let server: RunningServer;
let jobId: string;
let pageId: string;
test.beforeEach(async () => {
  server = await runServer();
  jobId = (await ask<{ id: string }>(server, 'POST', '/api/jobs', { name: 'Teatime' })).id;
  pageId = (await uploadPage(server, jobId, 'teapot.png', await inkTeapot())).id;
});
test.afterEach(() => server.clear());

const benchUrl = (): string => `${server.address}/jobs/${jobId}/pages/${pageId}/flats`;

test('every acknowledged edit survives a killed process', async () => {
  const post = (k: number): Promise<unknown> => {
    const edits = [{ key: `fill/${k},7`, value: { part: 'coat', anchors: [[k, 7]], stamp: k } }];
    return ask(server, 'POST', `/api/pages/${pageId}/edits`, { baseRevision: k, label: `step ${k}`, edits });
  };
  let acknowledged = 0;
  while (acknowledged < 40) await post(acknowledged++);
  // One more is on its way when the process is killed.
  const [last] = await Promise.allSettled([post(acknowledged), server.end('SIGKILL')]);
  if (last.status === 'fulfilled') acknowledged++;
  server = await runServer({ dataFolder: server.dataFolder });
  const document = await ask<Document>(server, 'GET', `/api/pages/${pageId}/document`);
  // The one that was on its way may have been stored; none that was acknowledged is missing.
  expect(document.revision - acknowledged).toBeGreaterThanOrEqual(0);
  expect(document.revision - acknowledged).toBeLessThanOrEqual(1);
  const keys = new Set(document.records.map(([key]) => key));
  for (let k = 0; k < acknowledged; k++) expect(keys.has(`fill/${k},7`)).toBe(true);
});

/** Sets how large the files of a running process may become, in bytes: beyond it every write fails, as on a full disk. */
const limitFiles = (pid: number, bytes: number | 'unlimited'): void =>
  void execFileSync('prlimit', [`--pid=${pid}`, `--fsize=${bytes}:`]);

test('when nothing can be written for a while nothing that was acknowledged is lost, and steps wait', async ({
  page,
}) => {
  const post = (revision: number, x: number, extra: object[] = []): Promise<unknown> => {
    const fill = { key: `fill/${x},7`, value: { part: 'coat', anchors: [[x, 7]], stamp: x } };
    const body = { baseRevision: revision, label: `step ${x}`, edits: [fill, ...extra] };
    return ask(server, 'POST', `/api/pages/${pageId}/edits`, body);
  };
  await post(0, 0);
  await page.goto(benchUrl());
  await whenReady(page);
  const all = await openCount(page);
  // The second kind of failure comes on top of the first: a step that breaks a rule of the document.
  limitFiles(server.process.pid!, 16_384);
  for (let k = 0; k < 3; k++) {
    await expect(post(1, 1)).rejects.toThrow(/507 .*disk/);
    await expect(post(1, 1, [{ key: 'weather', value: 1 }])).rejects.toThrow(/400/);
  }
  await clickPage(page, 430, 420);
  await expect(page.getByText(/cannot be saved now: 1 step waits/)).toBeVisible();
  await expect(page.getByText(/Your steps wait here and are stored once/)).toBeVisible();
  expect(await openCount(page)).toBe(all - 1);
  limitFiles(server.process.pid!, 'unlimited');
  await whenSaved(page);
  for (let k = 2; k < 6; k++) await post(k, k);
  await server.end('SIGKILL');
  server = await runServer({ dataFolder: server.dataFolder });
  const { revision, records } = await ask<Document>(server, 'GET', `/api/pages/${pageId}/document`);
  expect(revision).toBe(6);
  expect(records.map(([key]) => key)).toEqual(expect.arrayContaining([0, 2, 3, 4, 5].map((x) => `fill/${x},7`)));
});

test('a start that cannot be is told in one line, and touches nothing', async () => {
  const incoming = join(server.dataFolder, 'incoming');
  await writeFile(join(incoming, 'half'), 'half a page');
  const port = new URL(server.address).port;
  const cases: [Record<string, string>, RegExp][] = [
    [{ JUMBLE_DATA: server.dataFolder }, /runs on the data folder .* already/],
    [{ JUMBLE_DATA: join(incoming, 'half') }, /is a file/],
    [{ JUMBLE_DATA: '/proc/jumble' }, /cannot be made/],
    [{ PORT: 'abc' }, /PORT must be a whole number/],
    [{ PORT: port, JUMBLE_DATA: join(incoming, 'other') }, /Port \d+ is in use/],
  ];
  for (const [env, words] of cases) {
    const started = performance.now();
    const { status, stderr } = spawnSync(process.execPath, [SERVER_FILE], {
      env: { ...process.env, PORT: '0', ...env },
    });
    expect([status, stderr.toString().trim().split('\n').length]).toEqual([1, 1]);
    expect(stderr.toString()).toMatch(words);
    expect(performance.now() - started).toBeLessThan(20_000);
  }
  expect(await readdir(incoming)).toEqual(expect.arrayContaining(['half']));
  await ask(server, 'GET', '/api/jobs');
});

test('a page whose file is missing says so, and what to do', async ({ page }) => {
  await rm(join(server.dataFolder, 'grey'), { recursive: true });
  await rm(join(server.dataFolder, 'thumbnail'), { recursive: true });
  await page.goto(benchUrl());
  await expect(page.getByText(/A file of this page is missing.*Put the folder back from a copy/)).toBeVisible();
  await page.goto(`${server.address}/jobs/${jobId}`);
  await expect(page.getByText('its picture is missing')).toBeVisible();
});

test('a server killed in the middle of an upload keeps nothing of it and everything else', async () => {
  const sending = httpRequest(`${server.address}/api/jobs/${jobId}/pages`, {
    method: 'POST',
    headers: { 'Content-Type': 'multipart/form-data; boundary=x', 'Content-Length': 50_000_000 },
  });
  sending.on('error', () => undefined);
  sending.write(`--x\r\nContent-Disposition: form-data; name="file"; filename="a.png"\r\n\r\n${'x'.repeat(200_000)}`);
  const incoming = join(server.dataFolder, 'incoming');
  await expect.poll(async () => (await readdir(incoming)).length).toBe(1);
  await server.end('SIGKILL');
  server = await runServer({ dataFolder: server.dataFolder });
  expect(await readdir(incoming)).toEqual([]);
  const job = await ask<{ pages: { id: string; name: string }[] }>(server, 'GET', `/api/jobs/${jobId}`);
  expect(job.pages.map((page) => page.id)).toEqual([pageId]);
});

test('gestures made while the server is away are stored when it is back', async ({ page }) => {
  await page.goto(benchUrl());
  await whenReady(page);
  const all = await openCount(page);
  const port = Number(new URL(server.address).port);
  await server.end('SIGKILL');
  await clickPage(page, 430, 420);
  await clickPage(page, 60, 60);
  expect(await openCount(page)).toBe(all - 2);
  await expect(page.getByText(/no connection: 2 steps wait/)).toBeVisible();
  server = await runServer({ dataFolder: server.dataFolder, port });
  await whenSaved(page);
  await page.reload();
  await whenReady(page);
  expect(await openCount(page)).toBe(all - 2);
});

test('who goes on at once takes the last step along: to another stage, and away from the page', async ({ page }) => {
  // Every step waits at the door until it is let in.
  const waiting: (() => void)[] = [];
  await page.route('**/edits', async (route) => {
    await new Promise<void>((letIn) => waiting.push(letIn));
    await route.continue();
  });
  const letIn = async (): Promise<void> => {
    await expect.poll(() => waiting.length).toBe(1);
    waiting.pop()!();
  };
  await page.goto(benchUrl());
  await whenReady(page);
  const filled = async (): Promise<number> =>
    (await ask<Document>(server, 'GET', `/api/pages/${pageId}/document`)).records.length;
  await clickPage(page, 430, 420);
  await page.getByRole('link', { name: /Hand off/ }).click();
  await letIn();
  await expect(page.getByRole('button', { name: 'Build the hand-off' })).toBeVisible();
  await toStage(page, 'Flats');
  await clickPage(page, 60, 60);
  await page.getByRole('link', { name: 'Teatime' }).click();
  await letIn();
  await expect(page).toHaveURL(`${server.address}/jobs/${jobId}`);
  expect(await filled()).toBe(2);
  await expect(page.getByText(/not stored yet/)).toHaveCount(0);
});

test('two tabs on one page keep both their work, and ask where they touch the same', async ({ page, context }) => {
  const other = await context.newPage();
  for (const tab of [page, other]) {
    await tab.goto(benchUrl());
    await whenReady(tab);
  }
  const all = await openCount(page);
  await clickPage(page, 430, 420);
  await whenSaved(page);
  // The second tab knows nothing of it yet; it fills elsewhere.
  await clickPage(other, 60, 60);
  await whenSaved(other);
  expect(await openCount(other)).toBe(all - 2);
  // The first one is behind now, and gives the wall to another part.
  const slots = await page.evaluate(() =>
    (window.jumbleBench.state as unknown as { cast: { parts: { slot: string | null }[] } }).cast.parts.map(
      (part) => part.slot,
    ),
  );
  expect(slots.filter((slot) => slot !== null).length).toBeGreaterThanOrEqual(1);
  await page.getByRole('button', { name: 'Character, prop or set' }).click();
  await page.getByRole('dialog').getByRole('textbox').first().fill('Room');
  await page.getByRole('dialog').getByRole('button', { name: 'Add', exact: true }).click();
  await page.getByRole('button', { name: 'Add a part to Room' }).click();
  await page.getByRole('dialog').getByLabel('Name', { exact: true }).fill('plaster');
  await page.getByRole('dialog').getByRole('button', { name: 'Add the part' }).click();
  await clickPage(page, 60, 60);
  const question = page.getByRole('dialog');
  await expect(question).toBeVisible();
  await question.getByRole('button').last().click();
  await whenSaved(page);
  expect(await openCount(page)).toBe(all - 2);
});

test('a file that is no page is refused on the desk in words, and the good one beside it comes in', async ({
  page,
}) => {
  await page.goto(`${server.address}/jobs/${jobId}`);
  const teapot = await inkTeapot();
  await page.getByLabel('Page files').setInputFiles([
    { name: 'notes.png', mimeType: 'image/png', buffer: Buffer.from('the tea is ready') },
    { name: 'cut.png', mimeType: 'image/png', buffer: teapot.subarray(0, teapot.length / 2) },
    { name: 'nothing.png', mimeType: 'image/png', buffer: Buffer.alloc(0) },
    { name: 'second.png', mimeType: 'image/png', buffer: teapot },
  ]);
  await expect(page.getByText(/notes\.png/)).toBeVisible();
  await expect(page.getByText(/Nothing was stored/).first()).toBeVisible();
  await expect(page.getByText(/Nothing was stored/)).toHaveCount(3);
  await expect(page.getByRole('link', { name: /second/ }).first()).toBeVisible();
});
