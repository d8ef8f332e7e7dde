import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import { clickPage, openCount, whenReady, whenSaved } from './testing/bench.ts';
import { ask, runServer, uploadPage, type RunningServer } from './testing/runServer.ts';
import { drag, partAt } from './testing/teapotJob.ts';

const [WIDTH, HEIGHT] = [4125, 6263];
/** Lines of the grid lie so far apart, and are so wide. */
const [ACROSS, DOWN, LINE] = [16, 25, 3];
const PARTS = 2000;

let server: RunningServer;
test.beforeAll(async () => {
  server = await runServer();
});
test.afterAll(() => server.clear());

/** A page of 26 megapixels ruled into more than 60,000 regions. */
async function ruledPage(): Promise<Buffer> {
  const data = Buffer.alloc(WIDTH * HEIGHT, 255);
  for (let y = 0; y < HEIGHT; y++) {
    const row = y * WIDTH;
    if (y % DOWN < LINE) data.fill(0, row, row + WIDTH);
    else for (let x = 0; x < WIDTH; x += ACROSS) data.fill(0, row + x, row + Math.min(WIDTH, x + LINE));
  }
  return sharp(data, { raw: { width: WIDTH, height: HEIGHT, channels: 1 } })
    .png({ compressionLevel: 3 })
    .withMetadata({ density: 600 })
    .toBuffer();
}

/** A cast file with so many parts, fifty to a group. */
function castFile(): string {
  const lines = Array.from({ length: PARTS }, (_, k) => {
    const colour = ((k * 40_503) % 0x1000000).toString(16).padStart(6, '0');
    return `Day,Group ${Math.floor(k / 50)},Part ${k},,#${colour}`;
  });
  return ['scene,group,part,key,colour', ...lines].join('\n');
}

test('a job of 2,000 parts and a page of 60,000 regions are worked on like any other', async ({ page }) => {
  test.setTimeout(240_000);
  const jobId = (await ask<{ id: string }>(server, 'POST', '/api/jobs', { name: 'Crowd' })).id;
  const { id } = await uploadPage(server, jobId, 'ruled.png', await ruledPage());
  await page.goto(`${server.address}/jobs/${jobId}/pages/${id}/flats`);
  await whenReady(page);
  const all = await openCount(page);
  expect(all).toBeGreaterThan(60_000);

  await page.getByLabel('Cast file').setInputFiles({
    name: 'crowd.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(castFile()),
  });
  await expect(page.getByText(/crowd\.csv is part of the cast sheet now/)).toBeVisible({ timeout: 60_000 });
  // Rows far out of view are made when somebody comes near.
  const group = page.getByRole('radiogroup', { name: 'Parts of Group 39' });
  const last = group.getByRole('radio', { name: /Part 1999/ });
  await group.scrollIntoViewIfNeeded();
  await last.click({ timeout: 20_000 });

  // Pointing, a loop over thousands, and back.
  const middle = (column: number, row: number): [number, number] => [column * ACROSS + 9, row * DOWN + 14];
  await clickPage(page, ...middle(100, 100));
  await expect.poll(() => openCount(page)).toBe(all - 1);
  await page.keyboard.press('Shift+2');
  const corners = [[40, 40], [140, 40], [140, 90], [40, 90]] as const; // prettier-ignore
  await drag(
    page,
    corners.map(([column, row]): [number, number] => [column * ACROSS, row * DOWN]),
  );
  await expect.poll(() => openCount(page), { timeout: 30_000 }).toBeLessThan(all - 4500);
  expect(await partAt(page, ...middle(90, 65))).toBe(await partAt(page, ...middle(100, 100)));
  expect(await partAt(page, ...middle(150, 65))).toBeNull();
  await whenSaved(page);
  await page.keyboard.press('Control+z');
  await expect.poll(() => openCount(page), { timeout: 30_000 }).toBe(all - 1);
  await whenSaved(page);

  await page.reload();
  await whenReady(page);
  await expect.poll(() => openCount(page)).toBe(all - 1);
  await group.scrollIntoViewIfNeeded();
  await expect(last).toBeVisible();
});
