import { expect, test } from '@playwright/test';
import { inkTeapot } from './testing/ownInking.ts';
import { ask, runServer, type RunningServer } from './testing/runServer.ts';

let server: RunningServer;
test.beforeAll(async () => {
  server = await runServer();
});
test.afterAll(() => server.clear());

test('pages come in by drop, are ordered, renamed, replaced with their fills kept, and deleted after one question', async ({
  page,
}) => {
  const job = await ask<{ id: string }>(server, 'POST', '/api/jobs', { name: 'Teatime' });
  await page.goto(`${server.address}/jobs/${job.id}`);
  await expect(page.getByText('Drop finished line art here')).toBeVisible();
  const teapot = (await inkTeapot()).toString('base64');
  const dropped = await page.evaluateHandle((base64) => {
    const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
    const transfer = new DataTransfer();
    for (const name of ['one.png', 'two.png']) transfer.items.add(new File([bytes], name, { type: 'image/png' }));
    return transfer;
  }, teapot);
  const target = page.getByText('Drop finished line art here');
  for (const type of ['dragenter', 'dragover', 'drop']) await target.dispatchEvent(type, { dataTransfer: dropped });
  await expect(page.getByRole('link', { name: /one/ }).first()).toBeVisible();
  await expect(page.getByRole('link', { name: /two/ }).first()).toBeVisible();

  const pagesNow = async (): Promise<{ id: string; name: string; revision: number; fileName: string }[]> =>
    (
      await ask<{ pages: { id: string; name: string; revision: number; fileName: string }[] }>(
        server,
        'GET',
        `/api/jobs/${job.id}`,
      )
    ).pages;
  const [first] = await pagesNow();
  await ask(server, 'POST', `/api/pages/${first!.id}/edits`, {
    baseRevision: 0,
    label: 'Give 1 region',
    edits: [{ key: 'fill/430,420', value: { part: 'glaze', anchors: [[430, 420]], stamp: 0 } }],
  });

  // The card's menu: later, another name, a revised file, and away.
  const menuOf = async (name: string): Promise<void> => {
    await page
      .getByRole('button', { name: new RegExp(`${name}`) })
      .last()
      .click();
  };
  await menuOf(first!.name);
  await page.getByRole('menuitem', { name: /later/i }).click();
  await expect.poll(async () => (await pagesNow()).map((one) => one.id)[1]).toBe(first!.id);
  await menuOf(first!.name);
  await page.getByRole('menuitem', { name: /rename/i }).click();
  await page.getByRole('dialog').getByRole('textbox').fill('The pot');
  await page.getByRole('dialog').getByRole('textbox').press('Enter');
  await expect.poll(async () => (await pagesNow())[1]!.name).toBe('The pot');

  await menuOf('The pot');
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('menuitem', { name: /revised|replace/i }).click(),
  ]);
  await chooser.setFiles({ name: 'revised.png', mimeType: 'image/png', buffer: await inkTeapot() });
  await expect.poll(async () => (await pagesNow())[1]!.fileName).toBe('revised.png');
  const document = await ask<{ records: [string, unknown][] }>(server, 'GET', `/api/pages/${first!.id}/document`);
  expect(document.records.map(([key]) => key)).toEqual(['fill/430,420']);

  await menuOf('The pot');
  await page.getByRole('menuitem', { name: /delete/i }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /delete/i })
    .click();
  await expect.poll(async () => (await pagesNow()).length).toBe(1);
});
