import { expect, test, type Page } from '@playwright/test';
import { clickPage, toStage, whenQuiet, whenReady, whenSaved } from './testing/bench.ts';
import { stateOf } from './testing/benchState.ts';
import { runServer, type RunningServer } from './testing/runServer.ts';
import { drag, fillTeapot, openTeapot } from './testing/teapotJob.ts';

let server: RunningServer;
test.beforeAll(async () => {
  server = await runServer();
});
test.afterAll(() => server.clear());

async function whenChecked(page: Page): Promise<void> {
  await whenSaved(page);
  await whenQuiet(page);
  await expect.poll(() => stateOf(page, ({ findings, checking }) => findings !== null && !checking)).toBe(true);
}
const kinds = (page: Page): Promise<string[]> =>
  stateOf(page, ({ findings }) => (findings ?? []).map(({ kind }) => kind).filter((kind) => !/^(lone|unused|near)/.test(kind))); // prettier-ignore
const settled = (page: Page, words: string | RegExp) =>
  expect(page.getByRole('link', { name: /^Check/ })).toContainText(words);

test('planted faults go to zero by keys; the page is certified, any edit voids that, and undo brings it back', async ({
  page,
}) => {
  await openTeapot(page, server);
  await fillTeapot(page, 1);
  // Slips of the pen, of two px each: over whatever lies there.
  await page.keyboard.press('Shift+5');
  await page.keyboard.press('/');
  await page.keyboard.press('2');
  await page.evaluate(() => {
    const { jumbleBench: bench, jumbleCommands } = window;
    jumbleCommands.setView({ ...bench.state.view!, x: 60, y: 60, scale: 2 });
  });
  for (let size = 0; size < 20; size++) await page.keyboard.press('<');
  await page.keyboard.press('>');
  await clickPage(page, 100, 100);
  await clickPage(page, 140, 100);
  await drag(page, [[180, 120], [240, 120]]); // prettier-ignore
  await whenSaved(page);

  await toStage(page, 'Check');
  await whenChecked(page);
  expect((await kinds(page)).sort()).toEqual(['empty', 'sliver', 'stray', 'stray']);
  await settled(page, '4 to settle');

  // The walk shows each close up, before and after.
  await page.keyboard.press('.');
  await expect(page.getByRole('region', { name: 'What to do' })).toContainText('a region without colour');
  await page.keyboard.press('Enter');
  await whenChecked(page);
  await settled(page, '3 to settle');
  expect(await stateOf(page, ({ findingKey }) => findingKey)).toMatch(/^stray/);
  await page.keyboard.press('v');
  await expect(page.getByRole('button', { name: 'As it is' })).toBeVisible();

  // All of a kind: shown first, then one step.
  await page.keyboard.press('Shift+Enter');
  await expect(page.getByRole('button', { name: /^Mend these 2/ })).toBeVisible();
  await page.keyboard.press('Shift+Enter');
  await whenChecked(page);
  await settled(page, '1 to settle');
  await page.keyboard.press('Control+z');
  await whenChecked(page);
  await settled(page, '3 to settle');
  await page.keyboard.press('Control+Shift+z');
  await whenChecked(page);

  // What stays for a reason is kept with it.
  await page.keyboard.press('.');
  await page.keyboard.press('s');
  await page.getByLabel('Why it may stay').fill('a glint on the wall');
  await page.keyboard.press('Enter');
  await whenChecked(page);
  await settled(page, 'no findings');
  await expect(page.getByText('Sliver may stay: a glint on the wall')).toBeVisible();

  await page.keyboard.press('c');
  await settled(page, 'certified');
  await page.reload();
  await whenReady(page);
  await whenChecked(page);
  await settled(page, 'certified');
  await expect(page.getByRole('region', { name: 'Certificate' })).toContainText('1 finding waived');
  await page.getByRole('button', { name: 'List it again' }).click();
  await whenChecked(page);
  await expect(page.getByRole('region', { name: 'Certificate' })).toContainText('No longer certified');
  await page.keyboard.press('Control+z');
  await settled(page, 'certified');
});
