import { expect, test, type Page } from '@playwright/test';
import { readOpenRaster, type OraNode } from '@jumble/formats';
import sharp from 'sharp';
import { clickPage, onScreen, openCount, toStage, whenQuiet, whenReady, whenSaved } from './testing/bench.ts';
import { buildAndDownload, setDelivery } from './testing/delivery.ts';
import { inkTeapot, TEAPOT_REGIONS } from './testing/ownInking.ts';
import { ask, runServer, uploadPage, type RunningServer } from './testing/runServer.ts';
import { drag, openTeapot, partAt, type TeapotJob } from './testing/teapotJob.ts';

let server: RunningServer;
let job: TeapotJob;
test.beforeAll(async () => {
  server = await runServer();
});
test.afterAll(() => server.clear());
test.beforeEach(async ({ page }) => {
  job = await openTeapot(page, server);
});

const readout = async (page: Page, x: number, y: number): Promise<string> => {
  const at = await onScreen(page, x, y);
  await page.mouse.move(at.x, at.y);
  return (await page.getByTestId('readout').textContent()) ?? '';
};
test('the pen paints inside a region or any pixel, wipes out, holds through a reload and is handed off', async ({
  page,
}) => {
  await page.keyboard.press('Shift+5');
  await page.keyboard.press('1');
  // From inside the body out over the wall: it stays inside.
  await drag(page, [[430, 420], [430, 700]]); // prettier-ignore
  expect(await readout(page, 430, 450)).toContain('painted as glaze');
  expect(await readout(page, 430, 650)).not.toContain('painted');
  // Any pixel, in another part: over the line and the wall.
  await page.keyboard.press('/');
  await page.keyboard.press('2');
  await page.keyboard.press('<');
  await drag(page, [[60, 60], [160, 60]]); // prettier-ignore
  expect(await readout(page, 100, 60)).toContain('painted as knob');
  await drag(page, [[130, 40], [130, 80]], 'right'); // prettier-ignore
  expect(await readout(page, 130, 60)).not.toContain('painted');
  await whenSaved(page);
  await page.reload();
  await whenReady(page);
  expect(await readout(page, 100, 60)).toContain('painted as knob');

  await toStage(page, 'Hand off');
  await setDelivery(page, { format: 'PNG, flats alone' });
  const png = await buildAndDownload(page, /flats\.png$/);
  const { data, info } = await sharp(png).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  const at = (x: number, y: number): string =>
    data.subarray((y * info.width + x) * 4, (y * info.width + x) * 4 + 4).toString('hex');
  expect([at(430, 450), at(100, 60), at(130, 60)]).toEqual(['4a7ab5ff', 'd9a441ff', '00000000']);
  // Hard: nothing between painted and not.
  const seen = new Set<string>();
  for (let k = 0; k < data.length; k += 4) seen.add(data.subarray(k, k + 4).toString('hex'));
  expect([...seen].sort()).toEqual(['00000000', '4a7ab5ff', 'd9a441ff']);
});

test('a region is painted done, cut along a drawn way, and joined again; undo takes it all back', async ({ page }) => {
  const before = await openCount(page);
  await page.keyboard.press('Shift+5');
  await page.keyboard.press('2');
  for (let k = 0; k < 5; k++) await page.keyboard.press('>');
  await drag(page, [[430, 205], [440, 210]]); // prettier-ignore
  expect(await partAt(page, 430, 205)).toBe('knob');
  expect(await openCount(page)).toBe(before - 1);

  await page.keyboard.press('/');
  await page.keyboard.press('/');
  // Across the wall, where no line was drawn.
  await drag(page, [[300, 2], [330, 60], [300, 120], [330, 205], [390, 208]]); // prettier-ignore
  await expect.poll(() => openCount(page)).toBe(before - 1);
  await expect(page.getByText(/That parts nothing/)).toBeVisible();
  // From the tip of the spout to the table: that parts what lies under the spout.
  await drag(page, [[120, 310], [60, 420], [110, 588]]); // prettier-ignore
  await expect.poll(() => openCount(page)).toBe(before);
  const regionAt = (x: number, y: number): Promise<number | null> =>
    page.evaluate(([px, py]) => window.jumbleCommands.regionAt(px!, py!), [x, y]);
  expect(await regionAt(40, 500)).not.toBe(await regionAt(160, 540));
  await drag(page, [[40, 500], [160, 540]], 'right'); // prettier-ignore
  await expect.poll(() => openCount(page)).toBe(before - 1);

  await whenSaved(page);
  for (let k = 0; k < 3; k++) {
    await page.keyboard.press('Control+z');
    await whenQuiet(page);
  }
  await expect.poll(() => openCount(page)).toBe(before);
  expect(await partAt(page, 430, 205)).toBeNull();
});

test('done pages propose the parts of a new one; each is looked at, and agreed with', async ({ page }) => {
  for (const { x, y, part } of TEAPOT_REGIONS) {
    await page.keyboard.press(String(['glaze', 'knob', 'table', 'wall'].indexOf(part) + 1));
    await clickPage(page, x, y);
  }
  // What is left of the first page goes with what is around it.
  while ((await openCount(page)) > 0) {
    await page.keyboard.press('.');
    await page.keyboard.press('4');
    await page.keyboard.press('Enter');
  }
  await whenSaved(page);
  const second = await uploadPage(
    server,
    job.jobId,
    'again.png',
    await sharp(await inkTeapot())
      .resize(1032)
      .png()
      .toBuffer(),
  );
  // The first page is done once the server has counted its regions.
  await expect
    .poll(async () => (await ask<unknown[]>(server, 'GET', `/api/pages/${second.id}/examples`)).length)
    .toBe(1);
  await page.goto(`${server.address}/jobs/${job.jobId}/pages/${second.id}/flats`);
  await whenReady(page);
  await page.keyboard.press('Shift+4');
  await page.getByRole('button', { name: 'Propose from done pages' }).click();
  await expect(page.getByText(/proposals from 1 page/)).toBeVisible();
  await page.keyboard.press('/');
  await expect(page.getByText(/by what is done already/).first()).toBeVisible();
  const scale = 1032 / 860;
  const wrong: string[] = [];
  for (const { name, x, y, part } of TEAPOT_REGIONS) {
    if ((await partAt(page, Math.round(x * scale), Math.round(y * scale))) !== part) wrong.push(name);
  }
  expect(wrong).toEqual([]);
  await page.keyboard.press('Shift+Enter');
  await expect(page.getByText(/by what is done already/)).toHaveCount(0);
});

test('the cast sheet: a colour from a picture, a marking that follows, a scene renamed, the stacking handed off', async ({
  page,
}) => {
  const picture = await sharp({ create: { width: 200, height: 100, channels: 3, background: '#8a2be2' } })
    .png()
    .toBuffer();
  await page
    .getByLabel('Reference picture files')
    .setInputFiles({ name: 'Kettle.png', mimeType: 'image/png', buffer: picture });
  await page.keyboard.press('2');
  await page.getByRole('button', { name: 'Kettle' }).click();
  await page.getByRole('img', { name: 'Kettle' }).click();
  await page.getByRole('button', { name: /Use it for knob/ }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  await whenSaved(page);

  // The knob is a marking on the glaze: what the glaze does it does.
  const change = async (part: string): Promise<void> => {
    await page.getByRole('radio', { name: new RegExp(part) }).hover();
    await page.getByRole('button', { name: `Change ${part}` }).click();
  };
  await change('knob');
  expect(await page.getByLabel(/^Colour \(/).inputValue()).toBe('#8a2be2');
  await page.getByLabel('Is a marking on').click();
  await page.getByRole('option', { name: 'Teapot: glaze' }).click();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  await change('glaze');
  await page.getByLabel(/^Colour \(/).fill('#7ab54a');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  await whenSaved(page);
  const { records } = await ask<{ records: [string, unknown][] }>(server, 'GET', `/api/jobs/${job.jobId}/cast`);
  const colour = records.find(([key]) => key === `colour/${job.scene}/knob`)![1];
  expect(colour).not.toBe('#8a2be2');

  await page.getByRole('button', { name: /▾/ }).click();
  await page.getByRole('menuitem', { name: /^Rename/ }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Kitchen light');
  await page.getByRole('button', { name: 'Rename' }).click();
  await expect(page.getByRole('button', { name: 'Kitchen light ▾' })).toBeVisible();
  await expect(page.getByRole('dialog')).toBeHidden();

  for (const { x, y, part } of TEAPOT_REGIONS) {
    await page.keyboard.press(String(['glaze', 'knob', 'table', 'wall'].indexOf(part) + 1));
    await clickPage(page, x, y);
  }
  await toStage(page, 'Hand off');
  await page.getByRole('button', { name: 'Teapot', exact: true }).click();
  await page.getByRole('button', { name: 'wall: further in front' }).click();
  const ora = await buildAndDownload(page, /flats\.ora$/);
  const names = (nodes: readonly OraNode[]): string[] =>
    nodes.flatMap((node) => (node.kind === 'stack' ? names(node.children) : [node.name]));
  // The marking lies in front of its part; the wall before the table now.
  expect(names(readOpenRaster(ora).children)).toEqual(['Line art', 'knob', 'glaze', 'wall', 'table', 'Paper']);
});
