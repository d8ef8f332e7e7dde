import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ReferencePictureView } from '@jumble/contracts';
import { existsSync } from 'node:fs';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { boxesPng, jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';

let server: TestServer;
let jobId: string;
beforeAll(async () => {
  server = await startServer();
  ({ jobId } = await jobWithPage(server));
});
afterAll(() => server.stop());
const list = async (): Promise<ReferencePictureView[]> =>
  (await server.ask.get(`/api/jobs/${jobId}/references`).expect(200)).body as ReferencePictureView[];
const add = (bytes: Buffer, name: string, job = jobId) =>
  server.ask.post(`/api/jobs/${job}/references`).attach('file', bytes, name);
const stored = async (): Promise<string[]> => {
  const folder = join(server.dataFolder, 'reference');
  return existsSync(folder) ? (await readdir(folder, { recursive: true })).filter((name) => name.length > 60) : [];
};

describe('reference pictures', () => {
  test('are kept as PNG of a readable size without what else was in the file', async () => {
    const jpeg = await sharp({ create: { width: 2400, height: 1200, channels: 3, background: '#336699' } })
      .withExif({ IFD0: { Artist: 'somebody' } })
      .jpeg()
      .toBuffer();
    const view = (await add(jpeg, 'Wren turnaround.jpg').expect(201)).body as ReferencePictureView;
    expect(view).toMatchObject({ name: 'Wren turnaround', width: 1600, height: 800 });
    const answer = await server.ask.get(`/api/references/${view.id}/picture`).responseType('blob').expect(200);
    expect(answer.headers['content-type']).toBe('image/png');
    const { format, exif } = await sharp(answer.body as Buffer).metadata();
    expect([format, exif]).toEqual(['png', undefined]);
    expect((await list()).map((one) => one.id)).toEqual([view.id]);
  });

  test('stand once, however often they are loaded', async () => {
    const picture = await boxesPng();
    const first = (await add(picture, 'Boxes.png').expect(201)).body as ReferencePictureView;
    const again = (await add(picture, 'Boxes, once more.png').expect(201)).body as ReferencePictureView;
    expect(again).toEqual(first);
    expect((await list()).filter(({ id }) => id === first.id)).toHaveLength(1);
    expect((await list()).map(({ name }) => name)).not.toContain('Boxes, once more');
    await server.ask.delete(`/api/references/${first.id}`).expect(204);
  });

  test('that are none are refused with what to do, and nothing is kept', async () => {
    const before = await stored();
    const answer = await add(Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'), 'x.svg').expect(422);
    expect((answer.body as { detail: string }).detail).toMatch(/Choose a PNG/);
    await server.ask.post(`/api/jobs/${jobId}/references`).expect(400);
    await add(await boxesPng(), 'x.png', 'none').expect(404);
    expect(await stored()).toEqual(before);
  });

  test('go when they are taken away, and with their job; one that two jobs keep stays for the other', async () => {
    for (const one of await list()) await server.ask.delete(`/api/references/${one.id}`).expect(204);
    expect(await stored()).toEqual([]);
    const { jobId: other } = await jobWithPage(server);
    await add(await boxesPng(), 'boxes.png').expect(201);
    await add(await boxesPng(), 'boxes.png', other).expect(201);
    expect(await stored()).toHaveLength(1);
    await server.ask.delete(`/api/jobs/${other}`).expect(204);
    expect(await stored()).toHaveLength(1);
    await server.ask.delete(`/api/jobs/${jobId}`).expect(204);
    expect(await stored()).toEqual([]);
    await server.ask.get('/api/references/none/picture').expect(404);
  });
});

test('stacking and markings are kept; a marking on nothing is refused', async () => {
  const { jobId: job } = await jobWithPage(server);
  const part = (value: object) => ({ groupId: 'wren', name: 'coat', order: 0, slot: null, empty: false, ...value });
  const send = (baseRevision: number, edits: unknown[]) =>
    server.ask.post(`/api/jobs/${job}/cast/edits`).send({ baseRevision, label: 'Change', edits });
  await send(0, [
    { key: 'group/wren', value: { name: 'Wren', order: 5, stack: 2.5 } },
    { key: 'part/coat', value: part({ stack: 1 }) },
    { key: 'part/dots', value: part({ name: 'dots', on: 'coat' }) },
  ]).expect(201);
  const records = new Map(
    ((await server.ask.get(`/api/jobs/${job}/cast`)).body as { records: [string, unknown][] }).records,
  );
  expect(records.get('group/wren')).toMatchObject({ stack: 2.5 });
  expect(records.get('part/coat')).toMatchObject({ stack: 1 });
  expect(records.get('part/dots')).toMatchObject({ on: 'coat' });
  await send(1, [{ key: 'part/dots', value: part({ name: 'dots', on: 'gone' }) }]).expect(422);
  await send(1, [{ key: 'part/dots', value: part({ name: 'dots', on: 'dots' }) }]).expect(422);
  await send(1, [{ key: 'part/coat', value: null }]).expect(422);
});
