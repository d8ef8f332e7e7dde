import { expect, test } from '@playwright/test';
import { clickPage, toStage, whenReady, whenSaved } from './testing/bench.ts';
import { inkTeapot } from './testing/ownInking.ts';
import { ask, runServer, uploadPage, type RunningServer } from './testing/runServer.ts';

let server: RunningServer;
test.beforeAll(async () => {
  server = await runServer();
});
test.afterAll(() => server.clear());

test('the desk says what to do, counts the time by itself, and pages are planned, moved and handed off together', async ({
  page,
}) => {
  const { id: jobId } = await ask<{ id: string }>(server, 'POST', '/api/jobs', {
    name: 'Teatime',
    dueOn: '2020-01-01',
  });
  const ink = await inkTeapot();
  const pages: string[] = [];
  for (let k = 1; k <= 12; k++) pages.push((await uploadPage(server, jobId, `leaf ${k}.png`, ink)).id);

  // The desk: who, what is late, and one click to what is to be done now.
  await page.goto(server.address);
  await page.getByRole('button', { name: 'Working as Me' }).click();
  await page.getByRole('dialog').getByRole('textbox').fill('Ada');
  await page.getByRole('button', { name: 'That is me' }).click();
  await expect(page.getByText(/^Late: leaf 1 of Teatime since/)).toBeVisible();
  await page.getByRole('region', { name: 'What to do' }).getByRole('link').first().click();
  await whenReady(page);
  await expect(page).toHaveURL(new RegExp(`/pages/${pages[0]}/`));

  // Time is counted while something is done: by page, stage and person.
  await toStage(page, 'Flats');
  const began = Date.now();
  const workOn = async (): Promise<number> => {
    await clickPage(page, 430, 420);
    return Date.now() - began;
  };
  await expect.poll(workOn).toBeGreaterThan(4000);
  await whenSaved(page);
  await page.goto(`${server.address}/jobs/${jobId}/time`);
  await expect(
    page.getByRole('region', { name: 'Time sheet' }).getByRole('cell', { name: 'Ada' }).first(),
  ).toBeVisible();
  await expect(page.getByRole('cell', { name: 'Flats' })).toBeVisible();
  await page.getByLabel('Minutes, − takes off').fill('25');
  await page.getByLabel('Note').fill('at the light table');
  await page.getByRole('button', { name: 'Write down' }).click();
  await expect(page.getByRole('cell', { name: 'by hand: at the light table' })).toBeVisible();

  // Twelve pages are seen at once. Three are planned for somebody, and found again by that.
  await page.goto(`${server.address}/jobs/${jobId}`);
  await expect(page.getByRole('link', { name: /^12\. leaf 12/ })).toBeInViewport();
  for (const k of [2, 3, 4]) await page.getByLabel(`Choose leaf ${k}`, { exact: true }).check();
  await page.getByRole('button', { name: 'Plan them' }).click();
  await page.getByLabel('Who works on it').fill('Béla');
  await page.getByRole('dialog').getByRole('button', { name: 'Set' }).click();
  await page.getByLabel('Who', { exact: true }).selectOption('Béla');
  await expect(page.getByRole('link', { name: /\d+\. leaf/ })).toHaveCount(3);
  await page.getByLabel('Who', { exact: true }).selectOption('');

  // The first page is dragged behind the second.
  await page.getByRole('link', { name: /^1\. leaf 1$/ }).dragTo(page.getByRole('link', { name: /^2\. leaf 2$/ }));
  await expect(page.getByRole('link', { name: /^1\. leaf 2$/ })).toBeVisible();

  // The three that are chosen are checked one after the other, each with what is to be settled.
  await page.getByRole('button', { name: 'Check them' }).click();
  const check = page.getByRole('dialog', { name: 'Check 3 pages' });
  await check.getByRole('button', { name: 'Check 3 pages' }).click();
  await expect(check.getByText(/findings? to settle: No part \d/)).toHaveCount(3, { timeout: 90_000 });
  await expect(check.getByRole('link', { name: 'Look' })).toHaveCount(3);
  await check.getByRole('button', { name: 'Close' }).click();
  await expect(page.getByRole('img', { name: /^Stages of leaf 3: .*Check: to be checked/ })).toBeVisible();

  // They go out in one go.
  await page.getByRole('button', { name: 'Hand them off' }).click();
  await page.getByRole('button', { name: 'Hand off 3 pages' }).click();
  await expect(page.getByText(/SHA-256/)).toBeVisible({ timeout: 90_000 });
  await page.getByLabel('Next', { exact: true }).selectOption('done');
  await expect(page.getByRole('link', { name: /\d+\. leaf/ })).toHaveCount(3, { timeout: 30_000 });

  // All of it stands in the logbook, which is searched and told why, and what was agreed elsewhere is written down.
  await page.getByRole('link', { name: 'Logbook' }).click();
  await page.getByLabel('New entry').getByRole('textbox').fill('Told on the telephone: no steam');
  await page.getByRole('button', { name: 'Write down' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Told on the telephone: no steam' })).toContainText('Ada');
  const entry = page.getByRole('listitem').filter({ hasText: 'Handed off 3 pages by the rule Colourist' });
  await expect(entry).toContainText('Ada');
  await entry.getByRole('textbox').fill('the editor wanted to see them');
  await entry.getByRole('textbox').press('Enter');
  await page.getByLabel('Search').fill('editor');
  await expect(page.getByRole('listitem')).toHaveCount(1);
});
