import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { clickPage, expectWholePicture, onScreen, openCount, toStage, whenReady, whenSaved } from './testing/bench.ts';
import { ask, runServer, uploadPage, type RunningServer } from './testing/runServer.ts';

let server: RunningServer;
let jobId: string;
let pageId: string;

/** Two huts with open doors, a fence that stops short, and a field. */
async function inkHuts(): Promise<Buffer> {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="900" height="600"><rect width="100%" height="100%" fill="#fff"/>
    <g fill="none" stroke="#000" stroke-width="7" stroke-linejoin="round">
      <path d="M200 420 V150 H420 V260 M420 272 V420 H200"/>
      <path d="M560 430 V180 H800 V430 H716 M700 430 H560"/>
      <path d="M20 500 H880"/><path d="M640 430 V496"/>
    </g></svg>`;
  return sharp(Buffer.from(svg)).png().withMetadata({ density: 300 }).toBuffer();
}

test.beforeAll(async () => {
  server = await runServer();
});
test.afterAll(() => server.clear());
test.beforeEach(async ({ page }) => {
  jobId = (await ask<{ id: string }>(server, 'POST', '/api/jobs', { name: 'Huts' })).id;
  pageId = (await uploadPage(server, jobId, 'huts.png', await inkHuts())).id;
  await page.goto(`${server.address}/jobs/${jobId}/pages/${pageId}/gaps`);
  await whenReady(page);
});

interface GapState {
  openGaps: string[];
  gapKey: string | null;
  leak: { widthPx: number } | null;
  survey: {
    regions: { count: number };
    closures: { key: string; accepted: boolean; kind: string; widthPx: number; confidence: number }[];
  };
  document: { rulings: Map<string, string>; drawn: string[]; fills: Map<string, unknown> };
}
const gapState = <T>(page: Page, read: (state: GapState) => T): Promise<T> =>
  page.evaluate(`(${read.toString()})(window.jumbleBench.state)`) as Promise<T>;
const regionCount = (page: Page): Promise<number> => gapState(page, (state) => state.survey.regions.count);
const apart = async (page: Page, a: [number, number], b: [number, number]): Promise<boolean> =>
  page.evaluate(
    ([one, two]) => {
      const { regionAt } = window.jumbleCommands;
      return regionAt(...one!) !== regionAt(...two!);
    },
    [a, b] as const,
  );

test('doors close by themselves; ruled open they are open, with fills kept, and undo brings them back', async ({
  page,
}) => {
  const [inside, outside]: [[number, number], [number, number]] = [
    [300, 300],
    [100, 100],
  ];
  expect(await apart(page, inside, outside)).toBe(true);
  expect(await apart(page, [680, 300], outside)).toBe(true);
  const before = await regionCount(page);

  // Colour outside first; then the door of the first hut is left open by pointing at it.
  await toStage(page, 'Flats');
  await clickPage(page, ...outside);
  await whenSaved(page);
  await toStage(page, 'Gaps');
  const door = await onScreen(page, 420, 266);
  await page.mouse.click(door.x, door.y, { button: 'right' });
  await expect.poll(() => apart(page, inside, outside)).toBe(false);
  expect(await regionCount(page)).toBe(before - 1);
  // The hut took the colour outside.
  await expectWholePicture(page);

  // Undone by key: apart again, and both keep the part the open region had.
  await page.keyboard.press('Control+z');
  await expect.poll(() => apart(page, inside, outside)).toBe(true);
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(() => apart(page, inside, outside)).toBe(false);
  await page.mouse.click(door.x, door.y);
  await page.keyboard.press('Enter');
  await expect.poll(() => apart(page, inside, outside)).toBe(true);
  await whenSaved(page);
  await page.reload();
  await whenReady(page);
  expect(await apart(page, inside, outside)).toBe(true);
  const parts = await page.evaluate(() => {
    const { regionAt } = window.jumbleCommands;
    const { resolved } = window.jumbleBench.state;
    return [regionAt(300, 300), regionAt(100, 100)].map((region) => resolved!.partOfRegion[region!]);
  });
  expect(parts[0]).not.toBeNull();
  expect(parts[0]).toBe(parts[1]);
});

test('every gap is ruled on by keys alone, until none is left', async ({ page }) => {
  let left = await gapState(page, (state) => state.openGaps.length);
  await page.keyboard.press('.');
  for (let k = 0; left > 0 && k < 30; k++) {
    await page.keyboard.press(k % 2 === 0 ? 'Enter' : 'Backspace');
    await expect.poll(() => gapState(page, (state) => state.openGaps.length)).toBeLessThan(left);
    left = await gapState(page, (state) => state.openGaps.length);
  }
  await expect(page.getByText('No gap is left to rule on.')).toBeVisible();
  await expect(page.getByRole('link', { name: /^Gaps/ })).toContainText('done');
});

test('the largest gap to close shows at once what it does, and is kept', async ({ page }) => {
  const slider = page.getByRole('slider', { name: /Largest gap/ });
  await slider.focus();
  await page.keyboard.press('Home');
  await expect.poll(() => apart(page, [300, 300], [100, 100])).toBe(false);
  await whenSaved(page);
  await page.reload();
  await whenReady(page);
  expect(await apart(page, [300, 300], [100, 100])).toBe(false);
  await page.getByRole('button', { name: 'Auto' }).click();
  await expect.poll(() => apart(page, [300, 300], [100, 100])).toBe(true);
});

test('a closure is drawn from ink to ink, parts the field, and is taken away again', async ({ page }) => {
  expect(await apart(page, [250, 550], [800, 550])).toBe(false);
  const from = await onScreen(page, 450, 504);
  const to = await onScreen(page, 450, 598);
  // The page's edge is no ink: nothing is drawn, and it says why.
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(to.x, to.y, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText(/runs from ink to ink/)).toBeVisible();

  // From the first hut's wall down to the fence.
  const wall = await onScreen(page, 300, 424);
  const fence = await onScreen(page, 300, 496);
  const before = await regionCount(page);
  await page.mouse.move(wall.x, wall.y);
  await page.mouse.down();
  await page.mouse.move(fence.x, fence.y, { steps: 4 });
  await page.mouse.up();
  await expect.poll(() => gapState(page, (state) => state.document.drawn.length)).toBe(1);
  // One alone leads nowhere: both huts, the fence and the post need a second one to enclose anything.
  expect(await regionCount(page)).toBe(before);
  const [left, right] = [await onScreen(page, 430, 200), await onScreen(page, 550, 200)];
  await page.mouse.move(left.x, left.y);
  await page.mouse.down();
  await page.mouse.move(right.x, right.y, { steps: 4 });
  await page.mouse.up();
  await expect.poll(() => apart(page, [500, 300], [100, 100])).toBe(true);
  await expect.poll(() => regionCount(page)).toBe(before + 1);
  await expectWholePicture(page);
  const drawn = await onScreen(page, 300, 460);
  await page.mouse.click(drawn.x, drawn.y, { button: 'right' });
  await expect.poll(() => gapState(page, (state) => state.document.drawn.length)).toBe(1);
  await expect.poll(() => apart(page, [500, 300], [100, 100])).toBe(false);
  await expect.poll(() => regionCount(page)).toBe(before);
  await expectWholePicture(page);
});

test('a leak is traced to its narrowest place and closed there with one key', async ({ page }) => {
  const slider = page.getByRole('slider', { name: /Largest gap/ });
  await slider.focus();
  await page.keyboard.press('Home');
  await expect.poll(() => apart(page, [300, 300], [100, 100])).toBe(false);
  await page.getByTestId('page').focus();
  await page.keyboard.press('t');
  await clickPage(page, 300, 300);
  await clickPage(page, 100, 100);
  await expect(page.getByText(/Leak: narrowest place/)).toBeVisible();
  const width = await gapState(page, (state) => state.leak!.widthPx);
  expect(Math.abs(width - 12)).toBeLessThan(2.5);
  await page.keyboard.press('Enter');
  await expect.poll(() => apart(page, [300, 300], [100, 100])).toBe(true);
  expect(await gapState(page, (state) => state.document.drawn.length)).toBe(1);
  expect(await openCount(page)).toBeGreaterThan(0);
});
