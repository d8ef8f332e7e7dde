import { expect, test } from '@playwright/test';
import { request as httpRequest } from 'node:http';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { clickPage, openCount, toStage, whenReady, whenSaved } from './testing/bench.ts';
import { inkTeapot } from './testing/ownInking.ts';
import { ask, runServer, uploadPage, type RunningServer } from './testing/runServer.ts';

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
  let acknowledged = 0;
  const killed = new Promise<void>((resolve) => setTimeout(() => void server.end('SIGKILL').then(resolve), 700));
  for (let k = 0; ; k++) {
    const edits = [{ key: `fill/${k},7`, value: { part: 'coat', anchors: [[k, 7]], stamp: k } }];
    try {
      await ask(server, 'POST', `/api/pages/${pageId}/edits`, { baseRevision: k, label: `step ${k}`, edits });
      acknowledged++;
    } catch {
      break;
    }
  }
  await killed;
  expect(acknowledged).toBeGreaterThan(5);
  server = await runServer({ dataFolder: server.dataFolder });
  const document = await ask<Document>(server, 'GET', `/api/pages/${pageId}/document`);
  // The one that was on its way may have been stored; none that was acknowledged is missing.
  expect(document.revision - acknowledged).toBeGreaterThanOrEqual(0);
  expect(document.revision - acknowledged).toBeLessThanOrEqual(1);
  const keys = new Set(document.records.map(([key]) => key));
  for (let k = 0; k < acknowledged; k++) expect(keys.has(`fill/${k},7`)).toBe(true);
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
  // Every step takes a moment to be stored.
  await page.route('**/edits', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 700));
    await route.continue();
  });
  await page.goto(benchUrl());
  await whenReady(page);
  const filled = async (): Promise<number> =>
    (await ask<Document>(server, 'GET', `/api/pages/${pageId}/document`)).records.length;
  await clickPage(page, 430, 420);
  await page.getByRole('link', { name: /Hand off/ }).click();
  await expect(page.getByRole('button', { name: 'Build the hand-off' })).toBeVisible();
  await toStage(page, 'Flats');
  await clickPage(page, 60, 60);
  await page.getByRole('link', { name: 'Teatime' }).click();
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
