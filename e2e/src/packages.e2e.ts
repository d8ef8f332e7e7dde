import { expect, test } from '@playwright/test';
import { readOpenRaster, writeOpenRaster, type OraNode } from '@jumble/formats';
import { mkdtemp, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { stateOf } from './testing/benchState.ts';
import { toStage, whenReady, whenSaved } from './testing/bench.ts';
import { buildAndDownload, saved, setDelivery } from './testing/delivery.ts';
import { inkTeapot } from './testing/ownInking.ts';
import { runServer, uploadPage, type RunningServer } from './testing/runServer.ts';
import { fillTeapot, openTeapot, TEAPOT_COLOURS, type TeapotJob } from './testing/teapotJob.ts';

let server: RunningServer;
let job: TeapotJob;
let folder: string;
test.beforeAll(async () => {
  server = await runServer();
  folder = await mkdtemp(join(tmpdir(), 'jumble-packages-'));
});
test.afterAll(() => server.clear());

test('pages go out by a rule of the job, together, and a colour that comes back is on both of them', async ({
  page,
}) => {
  job = await openTeapot(page, server);
  await fillTeapot(page);
  await whenSaved(page);
  const second = (await uploadPage(server, job.jobId, 'second.png', await inkTeapot())).id;
  await toStage(page, 'Hand off');

  // A rule of one's own: names by a pattern, which is checked as it is typed.
  await page.getByRole('button', { name: 'New', exact: true }).click();
  await page.getByRole('dialog').getByRole('textbox').fill('Studio East');
  await page.getByRole('dialog').getByRole('button', { name: 'Add' }).click();
  const files = page.getByLabel('Names of files');
  await files.fill('{job}');
  await expect(page.getByText('must hold one of {page}, {number}')).toBeVisible();
  await files.fill('{number}_{page}');
  await files.press('Enter');
  await expect(page.getByText('01_teapot.ora').first()).toBeVisible();
  await page.getByLabel('Names of layers').fill('{number} {name}');
  await page.getByLabel('Names of layers').press('Enter');
  await page.getByLabel('To who gets the flats').fill('Keep the steam white.');
  await page.getByLabel('To who gets the flats').blur();
  await whenSaved(page);
  const ora = await buildAndDownload(page, '01_teapot.ora');
  const names = (nodes: readonly OraNode[]): string[] =>
    nodes.flatMap((node) => (node.kind === 'stack' ? names(node.children) : [node.name]));
  expect(names(readOpenRaster(ora).children)).toEqual(expect.arrayContaining(['01 glaze', '02 knob']));

  // All pages of the job, from the desk; the outbox has them.
  await page.getByRole('link', { name: 'Several pages' }).click();
  const dialog = page.getByRole('dialog', { name: 'Hand off pages' });
  await dialog.getByLabel('Delivery rule').click();
  await page.getByRole('option', { name: 'Studio East' }).click();
  await dialog.getByRole('button', { name: 'Hand off 2 pages' }).click();
  await expect(page.getByText(/SHA-256/).first()).toBeVisible({ timeout: 60_000 });
  await page.goto(`${server.address}/outbox`);
  await expect(page.getByRole('list', { name: 'Packages' }).getByRole('listitem')).toHaveCount(2);
  await expect(page.getByText('02_second.ora')).toBeVisible();
  const zip = await saved(page, /^teapot_studio-east_.*\.zip$/);
  expect(zip.toString('latin1')).toContain('SHA256SUMS');

  // The colourist makes the glaze gold, and adds a layer.
  const gold = join(folder, 'back.ora');
  await writeFile(gold, await recoloured(ora));
  await page.goto(`${server.address}/jobs/${job.jobId}/pages/${job.pageId}/handoff`);
  await whenReady(page);
  await page.getByLabel('File that came back').setInputFiles(gold);
  const back = page.getByRole('list', { name: 'Returned files' });
  await expect(back.getByText('1 new colour')).toBeVisible({ timeout: 60_000 });
  await expect(back.getByText('Kept aside, untouched: Glow')).toBeVisible();
  await back.getByLabel('They count').selectOption('job');
  await back.getByRole('button', { name: 'Take', exact: true }).click();
  await expect(back.getByText('taken')).toBeVisible();
  // A boundary that moved becomes a correction.
  await expect(back.getByText('1 place')).toBeVisible();
  await back.getByRole('button', { name: 'Take as corrections' }).click();
  await expect.poll(() => stateOf(page, ({ document }) => document.tiles.size)).toBeGreaterThan(0);
  await whenSaved(page);
  const colours = async (pageId: string): Promise<string[]> => {
    await page.goto(`${server.address}/jobs/${job.jobId}/pages/${pageId}/flats`);
    await whenReady(page);
    return stateOf(page, ({ cast }) => [...cast.colours.values()].map((scene) => scene.get('glaze')!));
  };
  expect(new Set([...(await colours(job.pageId)), ...(await colours(second))])).toEqual(new Set(['#e0b020']));
});

/** The glaze in gold but for a square of it that belongs to the wall, and a layer of the colourist's on top. */
async function recoloured(ora: Buffer): Promise<Uint8Array> {
  const image = readOpenRaster(ora);
  const redo = async (node: OraNode): Promise<OraNode> => {
    if (node.kind === 'stack') return { ...node, children: await Promise.all(node.children.map(redo)) };
    if (!node.name.endsWith('glaze') && !node.name.endsWith('wall')) return node;
    const { data, info } = await sharp({ create: { width: image.width, height: image.height, channels: 4, background: '#0000' } })
      .composite([{ input: Buffer.from(node.png), left: node.x, top: node.y }])
      .raw()
      .toBuffer({ resolveWithObject: true }); // prettier-ignore
    const words = new Uint32Array(data.buffer, data.byteOffset, data.length / 4);
    const wall = parseInt(TEAPOT_COLOURS.wall.slice(1), 16);
    const wallWord = (0xff000000 | ((wall & 255) << 16) | (wall & 0xff00) | (wall >>> 16)) >>> 0;
    for (let at = 0; at < words.length; at++) {
      const [x, y] = [at % info.width, Math.floor(at / info.width)];
      const isMoved = x >= 420 && x < 440 && y >= 440 && y < 460;
      if (node.name.endsWith('glaze') && words[at] !== 0) words[at] = isMoved ? 0 : 0xff20b0e0;
      if (node.name.endsWith('wall') && isMoved) words[at] = wallWord;
    }
    const png = await sharp(data, { raw: { width: info.width, height: info.height, channels: 4 } })
      .png()
      .toBuffer();
    return { ...node, png, x: 0, y: 0 };
  };
  const glow = await sharp({ create: { width: 30, height: 30, channels: 4, background: '#ffaa00' } })
    .png()
    .toBuffer();
  const own: OraNode = { kind: 'layer', name: 'Glow', png: glow, x: 9, y: 9, compositeOp: 'svg:src-over', editLocked: false, selected: false }; // prettier-ignore
  return writeOpenRaster({ ...image, children: [own, ...(await Promise.all(image.children.map(redo)))] });
}

test('flats from elsewhere are checked with pictures, and taken over as a page', async ({ page }) => {
  job = await openTeapot(page, server);
  await fillTeapot(page);
  await toStage(page, 'Hand off');
  await setDelivery(page, { format: 'PNG, flats alone' });
  const flats = await buildAndDownload(page, 'teapot_teapot_flats.png');
  // A spot in a colour that occurs elsewhere.
  const { data, info } = await sharp(flats).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  for (let y = 460; y < 463; y++) for (let x = 430; x < 433; x++) data.set([0xd9, 0xa4, 0x41, 255], (y * info.width + x) * 4); // prettier-ignore
  const theirs = join(folder, 'theirs.png');
  const ink = join(folder, 'their ink.png');
  await sharp(data, { raw: { width: info.width, height: info.height, channels: 4 } })
    .png()
    .toFile(theirs);
  await writeFile(ink, await inkTeapot());

  await page.goto(`${server.address}/jobs/${job.jobId}`);
  await page.getByRole('button', { name: 'Check flats from elsewhere' }).click();
  const dialog = page.getByRole('dialog', { name: 'Check flats from elsewhere' });
  await dialog.getByLabel('Line art').setInputFiles(ink);
  await dialog.getByLabel('Flats', { exact: true }).setInputFiles(theirs);
  await dialog.getByRole('button', { name: 'Check', exact: true }).click();
  await expect(dialog.getByRole('heading', { name: 'Sliver: 1' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('link', { name: /their ink/ })).toHaveCount(0);
  await dialog.getByRole('button', { name: 'Take over as a page' }).click();
  await page.getByRole('link', { name: /their ink/ }).click({ timeout: 60_000 });
  await whenReady(page);
  const taken = await stateOf(page, ({ resolved, document }) => ({
    parts: [...new Set(resolved.partOfRegion)],
    tiles: document.tiles.size,
  }));
  // Their colours are parts of this job already.
  expect(taken.parts.filter((part) => part !== null).sort()).toEqual(Object.keys(TEAPOT_COLOURS).sort());
  expect(taken.tiles).toBe(1);
});
