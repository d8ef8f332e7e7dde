import { expect, test, type Page } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { mkdtemp, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { toStage, whenQuiet, whenReady, whenSaved } from './testing/bench.ts';
import { stateOf } from './testing/benchState.ts';
import { buildAndDownload, setDelivery } from './testing/delivery.ts';
import { inkTeapot } from './testing/ownInking.ts';
import { runServer, type RunningServer } from './testing/runServer.ts';
import { drag, fillTeapot, openTeapot, TEAPOT_COLOURS } from './testing/teapotJob.ts';

let server: RunningServer;
test.beforeAll(async () => {
  server = await runServer();
});
test.afterAll(() => server.clear());

const faultCount = (page: Page): Promise<number> => stateOf(page, ({ faults }) => faults?.length ?? -1);

/** Waits until nothing is stored, divided or looked for any more. */
async function whenLooked(page: Page): Promise<void> {
  await whenQuiet(page);
  await expect
    .poll(() => stateOf(page, ({ faults, faultsLookedFor }) => faults !== null && !faultsLookedFor))
    .toBe(true);
}

test('a fixed depth shows its faults, goes to zero by keys, and comes to the same pixels on screen, in the file and on the command line', async ({
  page,
}) => {
  const folder = await mkdtemp(join(tmpdir(), 'jumble-trap-'));
  await openTeapot(page, server);
  await fillTeapot(page);

  // To the middle: nothing to mend. Four px from both sides: lines are too thin for it.
  await toStage(page, 'Trap');
  await whenLooked(page);
  await expect(page.getByText('Colour runs under every line as it should.')).toBeVisible();
  await page.getByLabel('Rule of this page').selectOption('px');
  const depth = page.getByLabel('Length of this page');
  await depth.fill('-1');
  await expect(page.getByText('A number of px from 0 to 200.')).toBeVisible();
  await depth.fill('4');
  await depth.press('Enter');
  await expect.poll(() => faultCount(page)).toBeGreaterThan(3);
  await whenLooked(page);
  expect(await stateOf(page, ({ document }) => document.trap)).toEqual({ rule: 'depth', depthPx: 4 });
  await expect(page.getByRole('link', { name: /^Trap/ })).toContainText('to mend');

  // The same pixels on the screen, in the file and on the command line.
  const screen = await flatsOnScreen(page);
  await toStage(page, 'Hand off');
  await setDelivery(page, { format: 'PNG, flats alone' });
  const file = await sharp(await buildAndDownload(page, 'teapot_teapot_flats.png'))
    .ensureAlpha()
    .raw()
    .toBuffer();
  const ink = join(folder, 'teapot.png');
  await writeFile(ink, await inkTeapot());
  const filled = await stateOf(page, ({ resolved, survey: { regions, width } }) =>
    resolved.partOfRegion.map((part, r) => {
      const at = regions.anchor[r]!;
      return { x: at % width, y: Math.floor(at / width), part };
    }),
  );
  const fills = join(folder, 'fills.json');
  const parts = Object.entries(TEAPOT_COLOURS).map(([id, colour]) => ({ id, name: id, colour }));
  await writeFile(fills, JSON.stringify({ parts, fills: filled }));
  execFileSync('npx', ['jumble', 'flat', ink, '--fills', fills, '--trap', '4', '--out', join(folder, 'flats/')]);
  const line = await sharp(join(folder, 'flats', 'flats.png'))
    .ensureAlpha()
    .raw()
    .toBuffer();
  expect(Buffer.compare(line, file)).toBe(0);
  expect(differences(screen, file)).toBe(0);

  // Mended by keys until nothing is left: one as offered, one by the middle, the rest at once.
  await toStage(page, 'Trap');
  await whenLooked(page);
  const all = await faultCount(page);
  await page.keyboard.press('.');
  await page.keyboard.press('Enter');
  await whenLooked(page);
  await page.keyboard.press('m');
  await whenLooked(page);
  await expect.poll(() => faultCount(page)).toBeLessThanOrEqual(all - 2);
  for (let tries = 0; tries < 4 && (await faultCount(page)) > 0; tries++) {
    await page.keyboard.press('Shift+Enter');
    await whenSaved(page);
    await whenLooked(page);
  }
  await expect.poll(() => faultCount(page)).toBe(0);
  await expect(page.getByRole('link', { name: /^Trap/ })).toContainText('done');

  // A part gets a rule of its own, a place an area; both are there after a reload, and undo takes them back.
  await page.getByLabel('A rule for a part').selectOption('knob');
  await page.getByLabel('Rule of knob').selectOption('max');
  await whenSaved(page);
  await page.keyboard.press('Home');
  const before = await stateOf(page, ({ document }) => document.areas.size);
  await drag(page, [[395, 180], [465, 180], [465, 236], [395, 236], [396, 185]]); // prettier-ignore
  await whenSaved(page);
  expect(await stateOf(page, ({ document }) => document.areas.size)).toBe(before + 1);
  await drag(page, [
    [395, 480],
    [465, 480],
  ]);
  await expect(page.getByText(/An area needs at least three corners/)).toBeVisible();
  expect(await stateOf(page, ({ document }) => document.areas.size)).toBe(before + 1);
  await page.reload();
  await whenReady(page);
  expect(await stateOf(page, ({ document }) => document.areas.size)).toBe(before + 1);
  expect(await stateOf(page, ({ cast }) => cast.parts.find(({ id }) => id === 'knob')!.trap)).toEqual({ rule: 'max', marginPx: 1 }); // prettier-ignore
  await page.keyboard.press('Control+z');
  await expect.poll(() => stateOf(page, ({ document }) => document.areas.size)).toBe(before);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(() => stateOf(page, ({ cast }) => cast.parts.find(({ id }) => id === 'knob')!.trap ?? null)).toBeNull(); // prettier-ignore
});

test('layers with slack are refused as one layer, and the picture they give stays the same', async ({ page }) => {
  await openTeapot(page, server);
  await toStage(page, 'Trap');
  await whenLooked(page);
  await page.getByLabel('Layers run under each other, in px').fill('3');
  await page.getByLabel('Layers run under each other, in px').press('Enter');
  await whenSaved(page);
  await toStage(page, 'Hand off');
  await setDelivery(page, { layers: 'one for all' });
  await expect(page.getByText(/these layers have none in front of them/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Build the hand-off' })).toBeDisabled();
  await setDelivery(page, { layers: 'one a part' });
  await expect(page.getByRole('button', { name: 'Build the hand-off' })).toBeEnabled();
});

/** The flats at true pixels around the page's upper left, as the screen shows them without ink. */
async function flatsOnScreen(page: Page): Promise<{ data: Buffer; width: number; height: number }> {
  await page.getByLabel(/^Map of depths/).uncheck();
  await page.locator('select[title^="Next"]').first().selectOption('flats');
  await page.mouse.move(5, 400);
  await page.evaluate(async () => {
    const { jumbleBench: bench, jumbleCommands } = window;
    await bench.engine.whenPresented(jumbleCommands.setView({ ...bench.state.view!, x: 60, y: 60, scale: 1 }));
  });
  const shot = await page.getByTestId('page').screenshot();
  const { data, info } = await sharp(shot).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  await page.locator('select[title^="Next"]').first().selectOption('all');
  return { data, width: info.width, height: info.height };
}

/** Pixels of the file that the screen shows otherwise; what has no colour is white there. */
function differences(screen: { data: Buffer; width: number; height: number }, file: Buffer): number {
  let odd = 0;
  for (let y = 0; y < Math.min(screen.height, 600); y++) {
    for (let x = 0; x < Math.min(screen.width, 700); x++) {
      const at = ((y + 60) * 860 + x + 60) * 4;
      const on = (y * screen.width + x) * 4;
      for (let c = 0; c < 3; c++) if (screen.data[on + c] !== (file[at + 3] === 0 ? 255 : file[at + c])) odd++;
    }
  }
  return odd;
}
