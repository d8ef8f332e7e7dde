import { buildAndDownload } from './testing/delivery.ts';
import { expect, test, type Page } from '@playwright/test';
import { readOpenRaster } from '@jumble/formats';
import sharp from 'sharp';
import { clickPage, onScreen, toStage, whenQuiet, whenReady, whenSaved } from './testing/bench.ts';
import { stateOf } from './testing/benchState.ts';
import { runServer, type RunningServer } from './testing/runServer.ts';
import { drag, fillTeapot, openTeapot } from './testing/teapotJob.ts';

let server: RunningServer;
test.beforeAll(async () => {
  server = await runServer();
});
test.afterAll(() => server.clear());

const shown = (page: Page) =>
  stateOf(page, ({ holds, holdDraft, document }) => ({
    held: holds === null ? 0 : [...holds.rgb].filter((rgb) => rgb > 0).length,
    chosen: holdDraft === null ? 0 : (holds?.counts.at(-1) ?? 0),
    low: holds?.low.length ?? 0,
    rules: document.holds.size,
  }));

async function whenColoured(page: Page): Promise<void> {
  await whenQuiet(page);
  await expect.poll(() => stateOf(page, ({ holds, holdsLookedFor }) => holds !== null && !holdsLookedFor)).toBe(true);
}

test('lines take colours that follow the flats, stay readable, and are what is handed off', async ({ page }) => {
  await openTeapot(page, server);
  await fillTeapot(page);

  await toStage(page, 'Holds');
  await whenColoured(page);
  expect(await shown(page)).toMatchObject({ held: 0, rules: 0 });

  // All lines, live before they are applied, dropped by Escape, applied by Enter.
  await page.getByLabel('Choose lines by what they are').selectOption({ label: 'All lines' });
  await whenColoured(page);
  expect((await shown(page)).held).toBeGreaterThan(3);
  await page.keyboard.press('Escape');
  await whenColoured(page);
  expect(await shown(page)).toMatchObject({ held: 0, rules: 0 });
  await page.getByLabel('Choose lines by what they are').selectOption({ label: 'All lines' });
  await page.keyboard.press('Enter');
  await whenColoured(page);
  const all = await shown(page);
  expect(all.rules).toBe(1);
  await expect(page.getByText('40 % darker than both sides')).toBeVisible();

  // A part is recoloured, and its lines follow.
  const before = await lineColours(page);
  await toStage(page, 'Flats');
  const jobId = await stateOf(page, (state) => state.page.jobId);
  const cast = (await (await page.request.get(`${server.address}/api/jobs/${jobId}/cast`)).json()) as { revision: number; records: [string, unknown][] }; // prettier-ignore
  const key = cast.records.map(([one]) => one).find((one) => one.startsWith('colour/') && one.endsWith('/glaze'))!;
  await page.request.post(`${server.address}/api/jobs/${jobId}/cast/edits`, {
    data: { baseRevision: cast.revision, label: 'Recolour glaze', edits: [{ key, value: '#a03040' }] },
  });
  await page.reload();
  await whenReady(page);
  await toStage(page, 'Holds');
  await whenColoured(page);
  expect(await lineColours(page)).not.toEqual(before);

  // By hand: a click chooses a line, a loop those inside it; b makes them black again.
  await clickPage(page, 430, 592);
  await whenColoured(page);
  expect((await shown(page)).chosen).toBe(1);
  await page.keyboard.press('Escape');
  await drag(page, [[560, 580], [740, 580], [740, 660], [560, 660], [560, 590]]); // prettier-ignore
  await whenColoured(page);
  expect((await shown(page)).chosen).toBeGreaterThan(1);
  await page.keyboard.press('b');
  await whenColoured(page);
  expect((await shown(page)).held).toBeLessThan(all.held);
  await page.keyboard.press('Control+z');
  await whenColoured(page);
  expect((await shown(page)).held).toBe(all.held);

  // The brush touches lines up, stays within the ink, and is one step.
  await page.keyboard.press('t');
  await page.getByLabel('Colour of the brush').fill('#c02040');
  await drag(page, [[420, 592], [430, 592], [436, 596]]); // prettier-ignore
  await whenColoured(page);
  expect(await stateOf(page, ({ document }) => document.lineStrokes.size)).toBe(1);
  await page.keyboard.press('t');

  // What is hard to read goes to zero by keys, and is there after a reload.
  for (let tries = 0; tries < 3 && (await shown(page)).low > 0; tries++) {
    await page.keyboard.press('Shift+Enter');
    await whenSaved(page);
    await whenColoured(page);
  }
  expect((await shown(page)).low).toBe(0);
  await expect(page.getByRole('link', { name: /^Holds/ })).toContainText('done');
  const rules = (await shown(page)).rules;
  await page.reload();
  await whenReady(page);
  await whenColoured(page);
  expect((await shown(page)).rules).toBe(rules);

  // The file is what the screen shows, at true pixels.
  const at = await onScreen(page, 0, 0);
  expect(at.x).toBeGreaterThan(0);
  await page.evaluate(async () => {
    const { jumbleBench: bench, jumbleCommands } = window;
    await bench.engine.whenPresented(jumbleCommands.setView({ ...bench.state.view!, x: 60, y: 60, scale: 1 }));
  });
  await page.mouse.move(5, 400);
  await whenColoured(page);
  const screen = await sharp(await page.getByTestId('page').screenshot()).ensureAlpha().raw().toBuffer({ resolveWithObject: true }); // prettier-ignore
  await toStage(page, 'Hand off');
  const image = readOpenRaster(await buildAndDownload(page, 'teapot_teapot_flats.ora'));
  expect(image.children[0]).toMatchObject({ kind: 'stack', name: 'Lines' });
  const merged = await sharp(image.merged).ensureAlpha().raw().toBuffer();
  let odd = 0;
  for (let y = 0; y < 600; y++) {
    for (let x = 0; x < Math.min(screen.info.width, 700); x++) {
      const on = (y * screen.info.width + x) * 4;
      const off = ((y + 60) * 860 + x + 60) * 4;
      for (let c = 0; c < 3; c++) if (screen.data[on + c] !== merged[off + c]) odd++;
    }
  }
  expect(odd).toBe(0);

  // All of it back to black is one step.
  await toStage(page, 'Holds');
  await page.getByRole('button', { name: 'All lines back to black' }).click();
  await whenColoured(page);
  expect(await shown(page)).toMatchObject({ held: 0, rules: 0 });
});

const lineColours = (page: Page): Promise<number[]> => stateOf(page, ({ holds }) => [...(holds?.rgb ?? [])]);
