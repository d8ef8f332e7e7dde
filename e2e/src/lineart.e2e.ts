import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { renderInkPng } from '@jumble/demo';
import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { onScreen, whenQuiet, whenReady, whenSaved } from './testing/bench.ts';
import { ask, runServer, uploadPage, type RunningServer } from './testing/runServer.ts';

let server: RunningServer;
let tray: string;
test.beforeAll(async () => {
  tray = await mkdtemp(join(tmpdir(), 'jumble-tray-'));
  await writeFile(join(tray, 'Page 2.png'), await renderInkPng(2));
  server = await runServer({ env: { JUMBLE_SCANNER: tray } });
});
test.afterAll(async () => {
  await server.clear();
  await rm(tray, { recursive: true });
});

interface DrawingState {
  facts: { panels: { verdict: string; points: number[][] }[]; balloons: unknown[] } | null;
  lineDecisions: { key: string; kind: string; title: string }[];
  lineKey: string | null;
  openGaps: string[];
  gapKey: string | null;
  phase: string;
  stage: string;
  page: { inks: unknown[]; previousGreyHash: string | null };
  survey: {
    slopePpm: number;
    specksCleared: number;
    flattened: boolean;
    inkPoints: { blackPoint: number; whitePoint: number };
    regions: { count: number };
  };
  document: { balloons: Map<string, string>; panels: unknown };
  openRegions: number[];
}
const drawing = <T>(page: Page, read: (state: DrawingState) => T): Promise<T> =>
  page.evaluate(`(${read.toString()})(window.jumbleBench.state)`) as Promise<T>;
const measured = async (page: Page): Promise<void> => {
  await page.waitForFunction(
    () => {
      const state = window.jumbleBench?.state as unknown as DrawingState | undefined;
      return state !== undefined && state.phase === 'ready' && state.facts !== null;
    },
    undefined,
    { timeout: 60_000 },
  );
};

/** Decides what is listed on Line art, key by key. */
async function decideLineArt(page: Page): Promise<void> {
  await page.keyboard.press('.');
  for (let k = 0; k < 80 && (await drawing(page, (state) => state.lineDecisions.length)) > 0; k++) {
    const kind = await drawing(page, (state) => state.lineDecisions.find((one) => one.key === state.lineKey)?.kind);
    await page.keyboard.press(kind === undefined ? '.' : kind === 'solid' ? 'Backspace' : 'Enter');
    // The page is read anew after the first two.
    if (kind === 'skew' || kind === 'specks') await whenQuiet(page);
  }
}

/** Closes every gap that is listed, as fast as a key is pressed: the worklist goes on before the page is divided. */
async function ruleOnGaps(page: Page): Promise<void> {
  await page.keyboard.press('.');
  for (let k = 0; k < 200 && (await drawing(page, (state) => state.gapKey)) !== null; k++)
    await page.keyboard.press('Enter');
}

test('a scanned page goes through Line art and Gaps by keyboard alone until both show zero, then fills hold', async ({
  page,
}) => {
  test.setTimeout(240_000);
  const { id: jobId } = await ask<{ id: string }>(server, 'POST', '/api/jobs', { name: 'Scans' });
  await page.goto(`${server.address}/jobs/${jobId}`);
  await page.getByRole('button', { name: 'Scan a page' }).click();
  await page.getByLabel('Laid down turned by').fill('-1.1');
  await page.getByRole('button', { name: 'Scan', exact: true }).click();
  await expect(page.getByText('Page 2 scan')).toBeVisible({ timeout: 60_000 });
  const job = await ask<{ pages: { id: string }[] }>(server, 'GET', `/api/jobs/${jobId}`);
  const url = `${server.address}/jobs/${jobId}/pages/${job.pages[0]!.id}`;

  await page.goto(`${url}/lineart`);
  await measured(page);
  expect(await drawing(page, (state) => state.lineDecisions.slice(0, 2).map((one) => one.kind))).toEqual([
    'skew',
    'specks',
  ]);
  expect(await drawing(page, (state) => state.survey.flattened)).toBe(true);
  await decideLineArt(page);
  await expect(page.getByText('Nothing is left to decide here.')).toBeVisible();
  const facts = await drawing(page, (state) => ({
    degrees: (Math.atan(state.survey.slopePpm / 1e6) * 180) / Math.PI,
    specks: state.survey.specksCleared,
    panels: state.facts!.panels.length,
    empty: [...state.document.balloons.values()].filter((ruling) => ruling === 'empty').length,
  }));
  expect(Math.abs(facts.degrees + 1.1)).toBeLessThan(0.05);
  expect(facts.specks).toBeGreaterThan(50);
  expect(facts.panels).toBe(4);
  expect(facts.empty).toBeGreaterThanOrEqual(4);

  await page.getByRole('link', { name: 'Go on to Gaps' }).press('Enter');
  await page.waitForFunction(() => (window.jumbleBench.state as unknown as DrawingState).stage === 'gaps');
  const rail = page.getByRole('navigation', { name: 'Stages' });
  const stage = (name: string) => rail.getByRole('link', { name: new RegExp(`^${name}`) });
  // What is closed gives other gaps another confidence, and shapes that are closed now may hold lettering.
  for (let round = 0; round < 5; round++) {
    await ruleOnGaps(page);
    await whenQuiet(page);
    if ((await drawing(page, (state) => state.lineDecisions.length)) > 0) {
      await stage('Line art').press('Enter');
      await page.waitForFunction(() => (window.jumbleBench.state as unknown as DrawingState).stage === 'lineart');
      await decideLineArt(page);
      await stage('Gaps').press('Enter');
      await page.waitForFunction(() => (window.jumbleBench.state as unknown as DrawingState).stage === 'gaps');
      await whenQuiet(page);
    }
    if ((await stage('Line art done').count()) > 0 && (await stage('Gaps done').count()) > 0) break;
  }
  await expect(page.getByText('No gap is left to rule on.')).toBeVisible();
  await expect(stage('Line art done')).toBeVisible();
  await expect(stage('Gaps done')).toBeVisible();

  // A fill stays where it was put, through a reload.
  await whenSaved(page);
  await page.goto(`${url}/flats`);
  await whenReady(page);
  const open = await drawing(page, (state) => state.openRegions.length);
  await page.keyboard.press('.');
  await page.keyboard.press('1');
  await page.keyboard.press('Enter');
  await whenSaved(page);
  await page.reload();
  await whenReady(page);
  expect(await drawing(page, (state) => state.openRegions.length)).toBe(open - 1);
});

const SHEET = (more: string): Promise<Buffer> =>
  sharp(
    Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="800" height="600"><rect width="100%" height="100%" fill="#e8e8e8"/>
    <g fill="none" stroke="#222" stroke-width="6"><rect x="40" y="40" width="340" height="520"/><rect x="410" y="40" width="350" height="520"/>
    <circle cx="200" cy="300" r="90"/><circle cx="600" cy="300" r="90"/>${more}</g></svg>`),
  )
    .toColourspace('b-w')
    .png()
    .withMetadata({ density: 300 })
    .toBuffer();

test('ink files, pointing, panels and a revised file, with pointer and keys', async ({ page }) => {
  const { id: jobId } = await ask<{ id: string }>(server, 'POST', '/api/jobs', { name: 'Sheets' });
  const { id: pageId } = await uploadPage(server, jobId, 'sheet.png', await SHEET(''));
  const url = `${server.address}/jobs/${jobId}/pages/${pageId}/lineart`;
  await page.goto(url);
  await measured(page);
  const regions = (): Promise<number> => drawing(page, (state) => state.survey.regions.count);
  const whole = await regions();

  // A further ink file bounds regions, until it is left out of them.
  const faces = sharp(
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="800" height="600"><rect width="100%" height="100%" fill="#fff"/><path d="M110 300H290" stroke="#000" stroke-width="6"/></svg>`,
    ),
  );
  await page
    .getByLabel('Further ink file')
    .setInputFiles({ name: 'faces.png', mimeType: 'image/png', buffer: await faces.png().toBuffer() });
  await expect.poll(regions).toBe(whole + 1);
  await page.getByLabel('faces bounds regions').click();
  await expect.poll(regions).toBe(whole);
  await page.keyboard.press('Control+z');
  await expect.poll(regions).toBe(whole + 1);

  // Pointing at paper and at ink.
  const pointAt = async (key: string, x: number, y: number): Promise<void> => {
    await page.keyboard.press(key);
    const at = await onScreen(page, x, y);
    await page.mouse.click(at.x, at.y);
  };
  await pointAt('p', 200, 200);
  await expect.poll(() => drawing(page, (state) => state.survey.inkPoints.whitePoint)).toBe(0xe8 - 4);
  await pointAt('i', 200, 210);
  await expect.poll(() => drawing(page, (state) => state.survey.inkPoints.blackPoint)).toBe(0x22 + 4);
  await pointAt('i', 200, 300);
  await expect(page.getByText(/as light as paper/)).toBeVisible();

  // Before and after lie side by side.
  await page.keyboard.press('c');
  await expect(page.getByLabel('The file as it came')).toBeVisible();
  await page.keyboard.press('c');
  await expect(page.getByLabel('The file as it came')).toBeHidden();

  // A panel is drawn by hand.
  expect(await drawing(page, (state) => state.facts!.panels.length)).toBe(2);
  await page.keyboard.press('f');
  const [from, to] = [await onScreen(page, 440, 420), await onScreen(page, 700, 540)];
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(to.x, to.y, { steps: 4 });
  await page.mouse.up();
  await expect.poll(() => drawing(page, (state) => state.facts!.panels.length)).toBe(3);
  await page.keyboard.press('Delete');
  await expect.poll(() => drawing(page, (state) => state.facts!.panels.length)).toBe(2);
  await whenSaved(page);

  // The artist sends a revised file: what changed is listed, and goes once it was seen.
  const form = new FormData();
  form.append('file', new Blob([(await SHEET('<path d="M450 500H720"/>')) as BlobPart]), 'sheet.png');
  const replaced = await fetch(`${server.address}/api/pages/${pageId}/file`, { method: 'PUT', body: form });
  expect(replaced.status).toBe(200);
  await page.goto(url);
  await measured(page);
  await expect(page.getByText('Redrawn here')).toBeVisible();
  await page.keyboard.press('.');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Redrawn here')).toBeHidden();
  await expect.poll(() => drawing(page, (state) => state.page.previousGreyHash)).toBeNull();
});

test('trim and bleed are set for a job', async ({ page }) => {
  const { id: jobId } = await ask<{ id: string }>(server, 'POST', '/api/jobs', { name: 'Trimmed' });
  await page.goto(`${server.address}/jobs/${jobId}`);
  await page.getByRole('button', { name: 'Trim and bleed' }).click();
  await page.getByLabel('Width after the cut').fill('5');
  await page.getByLabel('Height after the cut').fill('240');
  await page.getByRole('button', { name: 'Set' }).click();
  await expect(page.getByText(/widthMm must not be less than 20/)).toBeVisible();
  await page.getByLabel('Width after the cut').fill('160');
  await page.getByRole('button', { name: 'Set' }).click();
  await expect(page.getByLabel('Width after the cut')).toBeHidden();
  const job = await ask<{ trim: unknown }>(server, 'GET', `/api/jobs/${jobId}`);
  expect(job.trim).toEqual({ widthMm: 160, heightMm: 240, bleedMm: 3 });
});
