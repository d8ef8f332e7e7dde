import { expect, test } from '@playwright/test';
import { DEFAULT_PREP, surveyPage, regionAt } from '@jumble/core';
import { readOpenRaster, type OraLayer, type OraNode } from '@jumble/formats';
import { decodePage } from '@jumble/raster-io';
import { mkdtemp, readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { clickPage, onScreen, openCount, partsGiven, toStage, whenReady, whenSaved } from './testing/bench.ts';
import { buildAndDownload } from './testing/delivery.ts';
import { mergeLayers } from './testing/mergeLayers.ts';
import { inkTeapot, TEAPOT_REGIONS } from './testing/ownInking.ts';
import { runServer, type RunningServer } from './testing/runServer.ts';

const PARTS = [
  { id: 'glaze', name: 'glaze', colour: '#5f8f6b' },
  { id: 'knob', name: 'knob', colour: '#c9a24a' },
  { id: 'table', name: 'table', colour: '#7a4f3a' },
  { id: 'wall', name: 'wall', colour: '#d9d2c0' },
] as const;

let server: RunningServer;
let folder: string;
test.beforeAll(async () => {
  server = await runServer();
  folder = await mkdtemp(join(tmpdir(), 'jumble-own-'));
  await writeFile(join(folder, 'teapot.png'), await inkTeapot());
});
test.afterAll(() => server.clear());

test('a flatter brings an inking of their own from the desk to the colourist', async ({ page }) => {
  // The desk: a job, its page by the button.
  await page.goto(server.address);
  await page.getByRole('button', { name: 'New job' }).first().click();
  await page.getByLabel('Name of the comic or chapter').fill('Teatime');
  await page.getByRole('button', { name: 'Begin the job' }).click();
  await page.getByLabel('Page files').setInputFiles(join(folder, 'teapot.png'));
  await page
    .getByRole('link', { name: /teapot/ })
    .first()
    .click();
  await whenReady(page);
  const all = await openCount(page);
  expect(all).toBeGreaterThanOrEqual(TEAPOT_REGIONS.length);

  // Four parts of a new character, each with the next free key.
  await page.getByRole('button', { name: 'Character, prop or set' }).click();
  await page.getByRole('dialog').getByRole('textbox').first().fill('Teapot');
  await page.getByRole('dialog').getByRole('button', { name: 'Add', exact: true }).click();
  const keyOf = new Map<string, string>();
  for (const part of PARTS) {
    await page.getByRole('button', { name: 'Add a part to Teapot' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Name', { exact: true }).fill(part.name);
    await dialog.getByLabel(/^Colour \(/).fill(part.colour);
    keyOf.set(part.id, await dialog.getByLabel('Key', { exact: true }).inputValue());
    await dialog.getByRole('button', { name: 'Add the part' }).click();
    await expect(dialog).toBeHidden();
  }

  // Fill: by key and pointer, two with one sweep.
  await page.keyboard.press(keyOf.get('glaze')!);
  const from = await onScreen(page, 430, 420);
  const to = await onScreen(page, 430, 268);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(to.x, to.y, { steps: 2 });
  await page.mouse.up();
  for (const { x, y, part } of TEAPOT_REGIONS.filter((region) => !['body', 'lid'].includes(region.name))) {
    await page.keyboard.press(keyOf.get(part)!);
    await clickPage(page, x, y);
  }
  await whenSaved(page);
  const filled = await openCount(page);
  expect(filled).toBe(all - TEAPOT_REGIONS.length);

  // Take one away with the second way, and undo that.
  await clickPage(page, 430, 205, { button: 'right' });
  expect(await openCount(page)).toBe(filled + 1);
  await page.keyboard.press('Control+z');
  await expect.poll(() => openCount(page)).toBe(filled);

  // Undo two gestures, reload, redo them: the same page.
  const before = await partsGiven(page);
  await page.keyboard.press('Control+z');
  await expect.poll(() => openCount(page)).toBe(filled + 1);
  await page.keyboard.press('Control+z');
  await expect.poll(() => openCount(page)).toBe(filled + 2);
  await page.reload();
  await whenReady(page);
  expect(await openCount(page)).toBe(filled + 2);
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(() => openCount(page)).toBe(filled + 1);
  await page.keyboard.press('Control+y');
  await expect.poll(() => openCount(page)).toBe(filled);
  expect(await partsGiven(page)).toEqual(before);

  // What is left, by the worklist's keys alone.
  await page.keyboard.press(keyOf.get('table')!);
  await page.keyboard.press('.');
  for (let left = filled; left > 0; left--) {
    await page.keyboard.press('Enter');
    await expect.poll(() => openCount(page)).toBe(left - 1);
  }
  await expect(page.getByRole('link', { name: /^Flats/ })).toContainText('done');

  // Scratch colours are told apart, and are not what is handed off now.
  await page.getByRole('button', { name: 'Scratch', exact: true }).click();
  await expect(page.getByText(/neighbours differ by (2[5-9]|[3-9]\d)/)).toBeVisible();
  await page.getByRole('button', { name: 'Real colours' }).click();
  await whenSaved(page);

  // Hand off, download, read back.
  await toStage(page, 'Hand off');
  const ora = await buildAndDownload(page, 'teatime_teapot_flats.ora');
  await checkHandoff(ora, await readFile(join(folder, 'teapot.png')));
});

async function checkHandoff(ora: Uint8Array, original: Uint8Array): Promise<void> {
  const image = readOpenRaster(ora);
  expect([image.width, image.height, image.dpi]).toEqual([860, 720, 300]);
  const [ink, flats, paper] = image.children as [OraLayer, OraNode, OraLayer];
  expect(ink).toMatchObject({ kind: 'layer', name: 'Line art', compositeOp: 'svg:multiply', editLocked: true });
  expect(paper).toMatchObject({ kind: 'layer', name: 'Paper', x: 0, y: 0 });
  expect(flats).toMatchObject({ kind: 'stack', name: 'Flats', children: [{ kind: 'stack', name: 'Teapot' }] });
  const layers = (flats as unknown as { children: [{ children: OraLayer[] }] }).children[0].children;
  expect(layers.map((layer) => layer.name).sort()).toEqual(['glaze', 'knob', 'table', 'wall']);

  // Every flat pixel is opaque and exactly its part's colour; none belongs to two parts.
  const owner = new Int8Array(860 * 720).fill(-1);
  for (const [k, layer] of layers.entries()) {
    const wanted = parseInt(PARTS.find((part) => part.name === layer.name)!.colour.slice(1), 16);
    const { data, info } = await sharp(layer.png).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    let odd = 0;
    for (let i = 0; i < info.width * info.height; i++) {
      const alpha = data[i * 4 + 3];
      if (alpha === 0) continue;
      const rgb = (data[i * 4]! << 16) | (data[i * 4 + 1]! << 8) | data[i * 4 + 2]!;
      const at = (layer.y + Math.floor(i / info.width)) * 860 + layer.x + (i % info.width);
      if (alpha !== 255 || rgb !== wanted || owner[at] !== -1) odd++;
      owner[at] = k;
    }
    expect({ layer: layer.name, odd }).toEqual({ layer: layer.name, odd: 0 });
  }

  // The whole page is filled, so no pixel of the grey fringe (nor any other) may be without colour.
  const fringe = await sharp(original).greyscale().toColourspace('b-w').raw().toBuffer();
  const bare = fringe.reduce((n, tone, i) => n + (owner[i] === -1 && tone < 255 ? 1 : 0), 0);
  expect(bare).toBe(0);
  expect(owner.includes(-1)).toBe(false);

  // Merging the layers gives exactly the merged image.
  const merged = await sharp(image.merged).ensureAlpha().raw().toBuffer();
  expect(Buffer.compare(Buffer.from(await mergeLayers(image)), merged)).toBe(0);

  // And the parts are where they were put.
  const scan = join(folder, 'again.png');
  await writeFile(scan, original);
  const survey = surveyPage((await decodePage(scan)).grey, DEFAULT_PREP);
  for (const { x, y, part } of TEAPOT_REGIONS) {
    expect(regionAt(survey, x, y)).not.toBeNull();
    expect(PARTS.find((one) => one.name === layers[owner[y * 860 + x]!]!.name)!.id).toBe(part);
  }
}
