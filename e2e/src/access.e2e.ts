import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { whenReady } from './testing/bench.ts';
import { inkTeapot } from './testing/ownInking.ts';
import { ask, runServer, uploadPage, type RunningServer } from './testing/runServer.ts';

test.describe.configure({ mode: 'parallel' });
let server: RunningServer;
let jobUrl: string;
let pageUrl: string;
test.beforeAll(async () => {
  server = await runServer();
  const { id } = await ask<{ id: string }>(server, 'POST', '/api/jobs', { name: 'Teatime' });
  const page = await uploadPage(server, id, 'teapot.png', await inkTeapot());
  // More parts than fit on the screen: the sheet scrolls.
  const lines = Array.from(
    { length: 60 },
    (_, k) => `Day,Guest ${k % 6},part ${k},,#${(k * 40_503).toString(16).padStart(6, '0')}`,
  );
  const text = `scene,group,part,key,colour\n${lines.join('\n')}\n`;
  await ask(server, 'POST', `/api/jobs/${id}/cast/import`, { text });
  jobUrl = `${server.address}/jobs/${id}`;
  pageUrl = `${jobUrl}/pages/${page.id}`;
});
test.afterAll(() => server.clear());

/** What stands in the way of people who use a screen reader or the keyboard alone, as axe finds it. */
async function violations(page: Page): Promise<string[]> {
  // Half-way from one colour to the next nothing can be read.
  await page.evaluate(() =>
    Promise.allSettled(
      document
        .getAnimations()
        .filter((one) => one.effect?.getComputedTiming().iterations !== Infinity)
        .map((one) => one.finished),
    ),
  );
  // A tooltip comes and goes with the pointer.
  const { violations: found } = await new AxeBuilder({ page }).exclude('[role=tooltip]').analyze();
  return found.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 120)).join(' | ')}`);
}

test('the desk and a job can be used by everyone', async ({ page }) => {
  await page.goto(server.address);
  await expect(page.getByRole('link', { name: 'Teatime', exact: true })).toBeVisible();
  expect(await violations(page)).toEqual([]);
  await page.goto(jobUrl);
  await expect(page.getByRole('link', { name: /teapot/ })).toBeVisible();
  expect(await violations(page)).toEqual([]);
});

for (const stage of ['lineart', 'gaps', 'flats', 'trap', 'holds', 'check', 'handoff']) {
  test(`the stage ${stage} can be used by everyone, and so can its list of keys`, async ({ page }) => {
    await page.goto(`${pageUrl}/${stage}`);
    await whenReady(page);
    expect(await violations(page)).toEqual([]);
    await page.keyboard.press('?');
    await expect(page.getByRole('dialog')).toBeVisible();
    expect(await violations(page)).toEqual([]);
    const list = page.getByRole('dialog').locator('.MuiDialogContent-root');
    expect(await list.evaluate((one) => one.scrollHeight - one.clientHeight)).toBe(0);
  });
}

test('delivery rules, the outbox and the dialogs of the desk can be used by everyone', async ({ page }) => {
  await page.goto(`${pageUrl}/handoff`);
  await whenReady(page);
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  expect(await violations(page)).toEqual([]);
  await page.getByRole('button', { name: 'Build the hand-off' }).click();
  await expect(page.getByText(/SHA-256/)).toBeVisible({ timeout: 60_000 });
  await page.goto(`${server.address}/outbox`);
  await expect(page.getByText(/SHA-256/)).toBeVisible();
  expect(await violations(page)).toEqual([]);
  for (const view of ['time', 'logbook']) {
    await page.goto(`${jobUrl}/${view}`);
    await expect(page.getByRole('link', { name: /CSV/ })).toBeVisible();
    await expect(page.getByText(/About|handed off/i).first()).toBeVisible();
    expect(await violations(page)).toEqual([]);
  }
  for (const name of ['Plan', 'Hand off pages', 'Check flats from elsewhere']) {
    await page.goto(jobUrl);
    await page.getByRole('button', { name, exact: true }).click();
    await expect(page.getByRole('dialog')).toBeVisible();
    expect(await violations(page)).toEqual([]);
  }
});

test('the ways to fill can be used by everyone', async ({ page }) => {
  await page.goto(`${pageUrl}/flats`);
  await whenReady(page);
  for (const way of ['Surround', 'Marks', 'Key', 'Pen']) {
    await page.getByRole('tab', { name: way }).click();
    expect([way, await violations(page)]).toEqual([way, []]);
  }
});
