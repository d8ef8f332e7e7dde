import { createHash } from 'node:crypto';
import { rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import type { PackageView } from '@jumble/contracts';
import type { DeliveryRule } from '@jumble/core';
import { readOpenRaster, type OraNode } from '@jumble/formats';
import { openZip } from '@jumble/read-back';
import sharp from 'sharp';
import { HandoffEntity, PackageEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { FILE_STORE, type FileStore } from '../storage/FileStore.ts';
import { handOff, keepRule, packed } from '../tests/handOff.ts';
import { boxesPng, jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';
import { WorkerPool } from '../workers/WorkerPool.ts';

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
  await fillPage(pageId);
});
afterAll(() => server.stop());

async function fillPage(id: string): Promise<void> {
  const fills = [
    [20, 20, 'coat'],
    [80, 20, 'hair'],
  ].map(([x, y, part]) => ({ key: `fill/${x},${y}`, value: { part, anchors: [[x, y]], stamp: 0 } }));
  await server.ask
    .post(`/api/pages/${id}/edits`)
    .send({ baseRevision: 0, label: 'Give 2 regions', edits: fills })
    .expect(201);
}

const build = (over: Partial<DeliveryRule> = {}): Promise<PackageView> => handOff(server, jobId, [pageId], over);

async function download(view: PackageView): Promise<Buffer> {
  const [file] = view.files;
  const answer = await server.ask.get(`/api/handoffs/${file!.id}/file`).responseType('blob').expect(200);
  expect(answer.headers['content-disposition']).toContain(file!.fileName);
  return answer.body as Buffer;
}

/** The files of a package's archive, by their names. */
async function unpack({ id }: PackageView): Promise<Map<string, Buffer>> {
  const answer = await server.ask.get(`/api/packages/${id}/file`).responseType('blob').expect(200);
  const path = join(tmpdir(), `jumble-package-${id}.zip`);
  await writeFile(path, answer.body as Buffer);
  const zip = await openZip(path);
  const files = new Map<string, Buffer>();
  for (const entry of zip.entries) files.set(entry.fileName, await zip.read(entry));
  zip.close();
  await rm(path);
  return files;
}

describe('a hand-off', () => {
  test('with a layer per part holds exactly the parts used, named and in their group', async () => {
    const view = await build();
    expect(view).toMatchObject({ state: 'ready', progress: 1, palette: 'scene', files: [{ pageRevision: 1 }] });
    expect(view.files[0]).toMatchObject({ fileName: 'night-tram_page-1_flats.ora', readBack: { pictures: 5 } });
    const { children } = readOpenRaster(await download(view));
    const outline = (nodes: readonly OraNode[]): unknown[] =>
      nodes.map((node) => (node.kind === 'stack' ? [node.name, outline(node.children)] : node.name));
    const [lineArt, flats, paper] = outline(children) as [string, [string, [string, string[]][]], string];
    expect([lineArt, paper]).toEqual(['Line art', 'Paper']);
    expect(flats[1]).toEqual([['Wren', ['coat', 'hair']]]);
  });

  test('in layers that run under each other is refused as one layer, and merges to the same picture', async () => {
    const merged = async (underlapPx: number): Promise<Buffer> => {
      const { merged: png } = readOpenRaster(await download(await build({ underlapPx })));
      return sharp(png).raw().toBuffer();
    };
    expect(Buffer.compare(await merged(4), await merged(0))).toBe(0);
    for (const over of [{ layers: 'single' }, { layers: 'panel', format: 'tif' }, { layerOrder: 'name' }] as const) {
      const deliveryId = await keepRule(server, jobId, { underlapPx: 4, ...over });
      const refused = await server.ask
        .post(`/api/jobs/${jobId}/packages`)
        .send({ pageIds: [pageId], deliveryId })
        .expect(400);
      expect((refused.body as { detail: string }).detail).toMatch(/run 4 px under each other/);
    }
  });

  test.each([
    ['tif', { layers: 'group' }, 'night-tram_page-1_flats.tif'],
    ['tif', { colours: 'cmyk', layers: 'panel', fileName: '{page}_{colours}' }, 'page-1_cmyk.tif'],
    ['svg', { smooth: true }, 'night-tram_page-1_flats.svg'],
    ['pdf', {}, 'night-tram_page-1_flats.pdf'],
    ['pdf', { colours: 'cmyk' }, 'night-tram_page-1_flats.pdf'],
    ['png', {}, 'night-tram_page-1_flats.png'],
    ['folder', { shading: true, closures: true }, 'night-tram_page-1_flats.zip'],
    ['ora', { shading: true, closures: true, layers: 'colour' }, 'night-tram_page-1_flats.ora'],
    ['ora', { dpi: 150, layers: 'panel', inkBits: 1 }, 'night-tram_page-1_flats.ora'],
    ['tif', { inkBits: 1, inkDpi: 600, shading: true }, 'night-tram_page-1_flats.tif'],
    ['folder', { inkBits: 1, inkDpi: 600, dpi: 150 }, 'night-tram_page-1_flats.zip'],
  ] as const)('as %s with %j is read again without a difference', async (format, over, fileName) => {
    const view = await build({ format, ...over });
    expect(view.files[0]).toMatchObject({ state: 'ready', fileName, readBack: { pictures: expect.any(Number) } });
    const file = await download(view);
    if (format === 'pdf') expect(file.subarray(0, 5).toString()).toBe('%PDF-');
    else if (format === 'tif')
      expect(await sharp(file).metadata()).toMatchObject({
        width: 120,
        space: 'colours' in over ? 'cmyk' : 'srgb',
      });
  });

  test('scales flats by the nearest pixel and names layers by a pattern', async () => {
    const view = await build({ dpi: 150, layerName: '{number} {group} {name}', layerOrder: 'name' });
    const image = readOpenRaster(await download(view));
    expect([image.width, image.height, image.dpi]).toEqual([60, 45, 150]);
    const flats = image.children.find((node) => node.kind === 'stack' && node.name === 'Flats');
    expect(JSON.stringify(flats)).toMatch(/01 Wren coat.*02 Wren hair/);
  });

  test('is cut where the job says, and refused where nobody said', async () => {
    const refused = { pageIds: [pageId], deliveryId: await keepRule(server, jobId, { area: 'trim' }) };
    const answer = await server.ask.post(`/api/jobs/${jobId}/packages`).send(refused).expect(400);
    expect(answer.body).toMatchObject({ code: 'trim-unknown' });
    // 120 x 90 px at 300 dpi are 10.16 x 7.62 mm: too small for a trim, so the box reaches beyond the page.
    await server.ask
      .patch(`/api/jobs/${jobId}`)
      .send({ trim: { widthMm: 20, heightMm: 20, bleedMm: 1 } })
      .expect(200);
    const image = readOpenRaster(await download(await build({ area: 'bleed' })));
    expect([image.width, image.height]).toEqual([260, 260]);
    await server.ask.patch(`/api/jobs/${jobId}`).send({ trim: null }).expect(200);
  });

  test('as one PNG has only the colours of the parts, fully opaque', async () => {
    const { data, info } = await sharp(await download(await build({ format: 'png' })))
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
    const { data } = await sharp(await download(await build({ format: 'png' })))
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const at = (x: number, y: number): string =>
      data.subarray((y * 120 + x) * 4, (y * 120 + x) * 4 + 4).toString('hex');
    // Painted, outside the box too; a part that is not on the sheet counts for nothing.
    expect([at(30, 22), at(3, 22), at(30, 27), at(30, 40)]).toEqual(['cc3311ff', 'cc3311ff', '336699ff', '336699ff']);
    expect((await build({ format: 'svg' })).files[0]!.state).toBe('ready');
    await send([{ key: 'tile/0,0', value: null }], revision + 1).expect(201);
  });

  test('is refused when it asks for what does not exist', async () => {
    const deliveryId = await keepRule(server, jobId, {});
    const ask = (body: object, job = jobId) => server.ask.post(`/api/jobs/${job}/packages`).send(body);
    await ask({ pageIds: ['none'], deliveryId }).expect(404);
    await ask({ pageIds: [pageId], deliveryId: 'none' }).expect(404);
    await ask({ pageIds: [pageId], deliveryId }, 'none').expect(404);
    await ask({ pageIds: [], deliveryId }).expect(400);
    await server.ask.get('/api/packages/none').expect(404);
    await server.ask.get('/api/handoffs/none/file').expect(404);
  });
});

describe('a package', () => {
  let second: string;
  beforeAll(async () => {
    const page = await server.ask.post(`/api/jobs/${jobId}/pages`).attach('file', await boxesPng(), 'page 1.png').expect(201); // prettier-ignore
    second = (page.body as { id: string }).id;
    await fillPage(second);
  });

  test('of several pages has their files under names of their own, the palette, and sums that hold', async () => {
    const view = await handOff(server, jobId, [second, pageId], { format: 'png' });
    expect(view).toMatchObject({ state: 'ready', sha256: expect.stringMatching(/^[0-9a-f]{64}$/) });
    expect(view.fileName).toMatch(/^night-tram_test_\d{4}-\d\d-\d\d(-\d+)?\.zip$/);
    // In the order of the job, whatever was asked for first.
    expect(view.files.map((file) => [file.pageId, file.fileName])).toEqual([
      [pageId, 'night-tram_page-1_flats.png'],
      [second, 'night-tram_page-1_flats-2.png'],
    ]);
    const files = await unpack(view);
    expect([...files.keys()]).toEqual([
      'night-tram_page-1_flats.png',
      'night-tram_page-1_flats-2.png',
      'contents.txt',
      'palette.csv',
      'palette.json',
      'palette.tokens.json',
      'SHA256SUMS',
    ]);
    const sums = files.get('SHA256SUMS')!.toString().trim().split('\n');
    expect(sums).toHaveLength(6);
    for (const line of sums) {
      const [sum, name] = line.split('  ') as [string, string];
      expect(createHash('sha256').update(files.get(name)!).digest('hex')).toBe(sum);
    }
    expect((await server.ask.get('/api/packages')).body).toContainEqual(expect.objectContaining({ id: view.id }));
    // Byte for byte the same again.
    const again = await server.ask.get(`/api/packages/${view.id}/file`).responseType('blob').expect(200);
    expect(
      createHash('sha256')
        .update(again.body as Buffer)
        .digest('hex'),
    ).toBe(view.sha256);
  });

  test('of folders has them as folders', async () => {
    const files = await unpack(await build({ format: 'folder', notes: true }));
    expect([...files.keys()]).toEqual(
      expect.arrayContaining([
        'night-tram_page-1_flats/manifest.json',
        'night-tram_page-1_flats/flats.png',
        'night-tram_page-1_flats/coat.png',
      ]),
    );
  });

  test('that was cancelled keeps what is built, and goes on from there', async () => {
    const deliveryId = await keepRule(server, jobId, {});
    const asked = await server.ask
      .post(`/api/jobs/${jobId}/packages`)
      .send({ pageIds: [pageId, second], deliveryId })
      .expect(201);
    const { id } = asked.body as PackageView;
    const stopped = (await server.ask.post(`/api/packages/${id}/cancel`).expect(200)).body as PackageView;
    expect(stopped.state).toBe('cancelled');
    await server.ask.get(`/api/packages/${id}/file`).expect(409);
    await server.ask.post(`/api/packages/${id}/resume`).expect(200);
    expect(await packed(server, id)).toMatchObject({ state: 'ready', files: [{ state: 'ready' }, { state: 'ready' }] });
    await server.ask.post(`/api/packages/${id}/resume`).expect(409);
  });

  test('that waits for another one is cancelled at once, and goes on when its turn comes again', async () => {
    const deliveryId = await keepRule(server, jobId, {});
    const ask = async (): Promise<PackageView> => {
      const body = { pageIds: [pageId, second], deliveryId };
      return (await server.ask.post(`/api/jobs/${jobId}/packages`).send(body).expect(201)).body as PackageView;
    };
    const [first, waits] = [await ask(), await ask()];
    const cancelled = (await server.ask.post(`/api/packages/${waits.id}/cancel`).expect(200)).body as PackageView;
    expect(cancelled).toMatchObject({ state: 'cancelled', files: [{ state: 'waiting' }, { state: 'waiting' }] });
    // The one before it was not waited for.
    expect(((await server.ask.get(`/api/packages/${first.id}`)).body as PackageView).state).toBe('packing');
    await server.ask.post(`/api/packages/${waits.id}/resume`).expect(200);
    expect((await packed(server, first.id)).state).toBe('ready');
    expect((await packed(server, waits.id)).state).toBe('ready');
  });

  test('whose file is not as the page is stops, says where, and offers nothing', async () => {
    const pool = server.app.get(WorkerPool, { strict: false });
    const run = pool.run.bind(pool);
    const spy = jest
      .spyOn(pool, 'run')
      .mockImplementation((task, options) =>
        task.kind === 'handoff'
          ? (Promise.resolve({ difference: 'the layer "coat" differs from the page at 3, 4 px' }) as never)
          : run(task, options),
      );
    const view = await build();
    spy.mockRestore();
    expect(view).toMatchObject({ state: 'failed', sha256: null, problem: expect.stringMatching(/could not be built/) });
    expect(view.files[0]).toMatchObject({
      state: 'failed',
      problem: expect.stringMatching(/"coat" differs .*3, 4 px/),
    });
    await server.ask.get(`/api/handoffs/${view.files[0]!.id}/file`).expect(409);
  });

  test('that a full disk stopped says so, and goes on once there is room', async () => {
    const files: FileStore = server.app.get(FILE_STORE, { strict: false });
    // Pages may still be drawn: their pictures are staged.
    const stage = files.stage.bind(files);
    const full = Object.assign(new Error('ENOSPC: no space left'), { code: 'ENOSPC' });
    const spy = jest
      .spyOn(files, 'stage')
      .mockImplementation((kind, path) => (kind === 'handoff' ? Promise.reject(full) : stage(kind, path)));
    const view = await build();
    spy.mockRestore();
    expect(view).toMatchObject({ state: 'failed', problem: expect.stringMatching(/disk is full/) });
    await server.ask.post(`/api/packages/${view.id}/resume`).expect(200);
    expect((await packed(server, view.id)).state).toBe('ready');
  });

  test('removed from the outbox is gone with its files', async () => {
    const view = await build();
    await server.ask.delete(`/api/packages/${view.id}`).expect(204);
    await server.ask.get(`/api/packages/${view.id}`).expect(404);
    await server.ask.get(`/api/handoffs/${view.files[0]!.id}/file`).expect(404);
  });

  test('that a killed server left goes on at the next start', async () => {
    const view = await handOff(server, jobId, [pageId, second]);
    await server.app.get(WriteQueue, { strict: false }).run(async (rows) => {
      await rows.update(PackageEntity, { id: view.id }, { state: 'packing', fileHash: null });
      await rows.update(HandoffEntity, { id: view.files[1]!.id }, { state: 'building', fileHash: null });
    });
    await server.stop(false);
    server = await startServer({ dataFolder: server.dataFolder });
    const after = await packed(server, view.id);
    expect(after.state).toBe('ready');
    expect(after.files.map((file) => file.sha256)).toEqual(view.files.map((file) => file.sha256));
  });
});

describe('profiles', () => {
  test('are taken when they are those of printers, and say how much ink colours take', async () => {
    const refused = await server.ask
      .post(`/api/jobs/${jobId}/profiles`)
      .attach('file', Buffer.from('nothing of the kind'), 'a.icc')
      .expect(400);
    expect((refused.body as { detail: string }).detail).toMatch(/no ICC profile/);
    const inks = (await server.ask.get(`/api/jobs/${jobId}/cast/inks`).expect(200)).body as Record<string, number[]>;
    expect(inks['#336699']).toHaveLength(4);
    await server.ask.get(`/api/jobs/${jobId}/cast/inks?profile=none`).expect(400);
    const deliveryId = await keepRule(server, jobId, { format: 'tif', colours: 'cmyk', profile: 'none' });
    await server.ask
      .post(`/api/jobs/${jobId}/packages`)
      .send({ pageIds: [pageId], deliveryId })
      .expect(400);
  });

  test('colour the files of rules that name them', async () => {
    const white = sharp({ create: { width: 1, height: 1, channels: 3, background: '#fff' } });
    const printed = await white.withIccProfile('cmyk').toColourspace('cmyk').tiff().toBuffer();
    const { icc } = await sharp(printed).metadata();
    const profile = (await server.ask.post(`/api/jobs/${jobId}/profiles`).attach('file', icc!, 'Press.icc').expect(201))
      .body as { id: string; name: string };
    expect(profile.name).toBe('Press');
    expect((await build({ format: 'tif', colours: 'cmyk', profile: profile.id })).state).toBe('ready');
  });
});
