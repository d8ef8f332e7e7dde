import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { HandoffView } from '@jumble/contracts';
import { readOpenRaster, type OraNode } from '@jumble/formats';
import sharp from 'sharp';
import { HandoffEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';
import { waitUntil } from '../tests/waitUntil.ts';

let server: TestServer;
let pageId: string;
let jobId: string;

beforeAll(async () => {
  server = await startServer();
  ({ jobId, pageId } = await jobWithPage(server));
  const cast = [
    { key: 'group/wren', value: { name: 'Wren', order: 5 } },
    { key: 'part/coat', value: { groupId: 'wren', name: 'coat', order: 0, slot: '1', empty: false } },
    { key: 'part/hair', value: { groupId: 'wren', name: 'hair', order: 1, slot: '2', empty: false } },
    { key: 'colour/day/coat', value: '#336699' },
    { key: 'colour/day/hair', value: '#cc3311' },
  ];
  const records = ((await server.ask.get(`/api/jobs/${jobId}/cast`)).body as { records: [string, unknown][] }).records;
  const scene = records.find(([key]) => key.startsWith('scene/'))![0].slice('scene/'.length);
  const edits = cast.map((edit) => ({ ...edit, key: edit.key.replace('/day/', `/${scene}/`) }));
  await server.ask
    .post(`/api/jobs/${jobId}/cast/edits`)
    .send({ baseRevision: 0, label: 'Add Wren', edits })
    .expect(201);
  const fills = [
    [20, 20, 'coat'],
    [80, 20, 'hair'],
  ].map(([x, y, part]) => ({ key: `fill/${x},${y}`, value: { part, anchors: [[x, y]], stamp: 0 } }));
  await server.ask
    .post(`/api/pages/${pageId}/edits`)
    .send({ baseRevision: 0, label: 'Give 2 regions', edits: fills })
    .expect(201);
});
afterAll(() => server.stop());

async function build(body: object): Promise<HandoffView> {
  let view = (await server.ask.post(`/api/pages/${pageId}/handoffs`).send(body).expect(201)).body as HandoffView;
  await waitUntil(async () => {
    view = (await server.ask.get(`/api/handoffs/${view.id}`).expect(200)).body as HandoffView;
    return view.state !== 'building';
  });
  return view;
}
async function download(view: HandoffView): Promise<Buffer> {
  const answer = await server.ask.get(`/api/handoffs/${view.id}/file`).responseType('blob');
  expect(answer.status).toBe(200);
  expect(answer.headers['content-disposition']).toContain(view.fileName);
  return answer.body as Buffer;
}

describe('a hand-off', () => {
  test('with a layer per part holds exactly the parts used, named and in their group', async () => {
    const view = await build({ split: 'part', container: 'ora' });
    expect(view).toMatchObject({
      state: 'ready',
      progress: 1,
      palette: 'scene',
      pageRevision: 1,
      fileName: 'night-tram_page-1_flats.ora',
    });
    const { children } = readOpenRaster(await download(view));
    const outline = (nodes: readonly OraNode[]): unknown[] =>
      nodes.map((node) => (node.kind === 'stack' ? [node.name, outline(node.children)] : node.name));
    const [lineArt, flats, paper] = outline(children) as [string, [string, [string, string[]][]], string];
    expect([lineArt, paper]).toEqual(['Line art', 'Paper']);
    expect(flats[1]).toEqual([['Wren', expect.arrayContaining(['coat', 'hair'])]]);
  });

  test('in layers that run under each other is refused as one layer, and merges to the same picture', async () => {
    const merged = async (): Promise<Buffer> => {
      const { merged: png } = readOpenRaster(await download(await build({ split: 'part', container: 'ora' })));
      return sharp(png).raw().toBuffer();
    };
    const { jobId } = (await server.ask.get(`/api/pages/${pageId}`)).body as { jobId: string };
    const change = async (underlapPx: number): Promise<void> => {
      const { revision } = (await server.ask.get(`/api/jobs/${jobId}/cast`)).body as { revision: number };
      const value = { rule: { rule: 'middle' }, solids: { rule: 'line' }, pinholePx2: 'auto', underlapPx };
      const body = { baseRevision: revision, label: 'Underlap', edits: [{ key: 'trap', value }] };
      await server.ask.post(`/api/jobs/${jobId}/cast/edits`).send(body).expect(201);
    };
    const before = await merged();
    await change(4);
    expect(Buffer.compare(await merged(), before)).toBe(0);
    for (const body of [
      { split: 'single', container: 'ora' },
      { split: 'single', container: 'png' },
      { split: 'panel', container: 'tif' },
    ]) {
      const refused = await server.ask.post(`/api/pages/${pageId}/handoffs`).send(body).expect(400);
      expect((refused.body as { detail: string }).detail).toMatch(
        /run 4 px under each other, and these layers have none/,
      );
    }
    await change(0);
  });

  test('as TIFF, SVG and PDF, for print too, is what such files are, by any split', async () => {
    for (const [container, split, name] of [
      ['tif', 'group', 'night-tram_page-1_flats.tif'],
      ['tif-cmyk', 'panel', 'night-tram_page-1_flats_cmyk.tif'],
      ['svg', 'single', 'night-tram_page-1_flats.svg'],
      ['pdf', 'single', 'night-tram_page-1_flats.pdf'],
      ['pdf-cmyk', 'single', 'night-tram_page-1_flats_cmyk.pdf'],
    ] as const) {
      const view = await build({ split, container });
      expect(view).toMatchObject({ state: 'ready', fileName: name });
      const file = await download(view);
      if (name.endsWith('.pdf')) expect(file.subarray(0, 5).toString()).toBe('%PDF-');
      else if (name.endsWith('.svg')) expect((await sharp(file).metadata()).width).toBe(120);
      else
        expect(await sharp(file).metadata()).toMatchObject({
          width: 120,
          space: container === 'tif' ? 'srgb' : 'cmyk',
        });
    }
    for (const split of ['group', 'colour', 'panel'])
      expect((await build({ split, container: 'ora' })).state).toBe('ready');
  });

  test('as one PNG has only the colours of the parts, fully opaque', async () => {
    const view = await build({ split: 'single', container: 'png' });
    const { data, info } = await sharp(await download(view))
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([120, 90]);
    const seen = new Set<string>();
    for (let at = 0; at < data.length; at += 4) seen.add(data.subarray(at, at + 4).toString('hex'));
    expect([...seen].filter((rgba) => !rgba.endsWith('00')).sort()).toEqual(['336699ff', 'cc3311ff']);
  });

  test('holds painted pixels over the regions, and holes where they leave empty', async () => {
    const { revision } = (await server.ask.get(`/api/pages/${pageId}/document`)).body as { revision: number };
    // Rows 20 to 29 of the first square: half of them hair, half of them left empty, across the left box.
    const runs = Array.from({ length: 64 }, (_, y) => (y >= 20 && y < 30 ? [y < 25 ? 1 : 2, 64] : [0, 64])).flat();
    const tile = { key: 'tile/0,0', value: { parts: ['hair', 'none-such'], runs } };
    const send = (edits: unknown[], base: number) =>
      server.ask.post(`/api/pages/${pageId}/edits`).send({ baseRevision: base, label: 'Paint', edits });
    await send([tile], revision).expect(201);
    await send([{ key: 'tile/0,0', value: { parts: ['hair'], runs: [1, 7] } }], revision + 1).expect(400);
    const view = await build({ split: 'single', container: 'png' });
    const { data } = await sharp(await download(view))
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const at = (x: number, y: number): string =>
      data.subarray((y * 120 + x) * 4, (y * 120 + x) * 4 + 4).toString('hex');
    // Painted, outside the box too; a part that is not on the sheet counts for nothing.
    expect([at(30, 22), at(3, 22), at(30, 27), at(30, 40)]).toEqual(['cc3311ff', 'cc3311ff', '336699ff', '336699ff']);
    await send([{ key: 'tile/0,0', value: null }], revision + 1).expect(201);
  });

  test('is refused when it asks for what does not exist, and is not there before it is ready', async () => {
    await server.ask.post(`/api/pages/${pageId}/handoffs`).send({ split: 'each', container: 'ora' }).expect(400);
    await server.ask.post('/api/pages/none/handoffs').send({ split: 'part', container: 'ora' }).expect(404);
    await server.ask.get('/api/handoffs/none').expect(404);
  });

  test('cancelled says so and keeps no file', async () => {
    const view = (
      await server.ask.post(`/api/pages/${pageId}/handoffs`).send({ split: 'part', container: 'ora' }).expect(201)
    ).body as HandoffView;
    await server.ask.delete(`/api/handoffs/${view.id}`).expect(204);
    const after = (await server.ask.get(`/api/handoffs/${view.id}`)).body as HandoffView;
    expect(after.state).toBe('cancelled');
    await server.ask.get(`/api/handoffs/${view.id}/file`).expect(409);
  });

  test('that a stopped server left is told as failed, with what to do', async () => {
    const view = await build({ split: 'single', container: 'ora' });
    await server.app
      .get(WriteQueue, { strict: false })
      .run((manager) => manager.update(HandoffEntity, { id: view.id }, { state: 'building', fileHash: null }));
    await server.stop(false);
    server = await startServer({ dataFolder: server.dataFolder });
    const after = (await server.ask.get(`/api/handoffs/${view.id}`)).body as HandoffView;
    expect(after).toMatchObject({ state: 'failed', problem: expect.stringMatching(/build it again/) });
  });
});
