import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { PageView } from '@jumble/contracts';
import sharp from 'sharp';
import { boxesPng, jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';
import { handOff } from '../tests/handOff.ts';

let server: TestServer;
beforeAll(async () => void (server = await startServer()));
afterAll(() => server.stop());

/** Boxes on a sheet of 61 megapixels. */
const SIDE = [9001, 6801] as const;

test('a page above 60 megapixels is worked on at half size and handed off whole', async () => {
  const { jobId, pageId: small } = await jobWithPage(server);
  await server.ask.post(`/api/pages/${small}/half`).expect(409);
  const large = await sharp(await boxesPng())
    .resize(...SIDE, { fit: 'fill', kernel: 'nearest' })
    .png()
    .withMetadata({ density: 1200 })
    .toBuffer();
  const page = (await server.ask.post(`/api/jobs/${jobId}/pages`).attach('file', large, 'large.png').expect(201))
    .body as PageView;
  expect(page).toMatchObject({ width: SIDE[0], height: SIDE[1], full: null, dpi: 1200 });
  const half = (await server.ask.post(`/api/pages/${page.id}/half`).expect(201)).body as PageView;
  expect(half).toMatchObject({
    width: 4501,
    height: 3401,
    dpi: 600,
    full: { width: SIDE[0], height: SIDE[1] },
    regionCount: page.regionCount,
  });
  await server.ask.post(`/api/pages/${page.id}/half`).expect(409);

  await server.ask
    .post(`/api/jobs/${jobId}/cast/edits`)
    .send({
      baseRevision: 0,
      label: 'Add Wren',
      edits: [
        { key: 'group/wren', value: { name: 'Wren', order: 5 } },
        { key: 'part/coat', value: { groupId: 'wren', name: 'coat', order: 0, slot: null, empty: false } },
      ],
    })
    .expect(201);
  // Inside the left box, in px of the half.
  const fill = { key: 'fill/1125,1133', value: { part: 'coat', anchors: [[1125, 1133]], stamp: 0 } };
  await server.ask
    .post(`/api/pages/${page.id}/edits`)
    .send({ baseRevision: 0, label: 'Give 1 region', edits: [fill] })
    .expect(201);
  const view = await handOff(server, page.jobId, [page.id], { format: 'png' });
  expect(view.state).toBe('ready');
  const { id } = view.files[0]!;
  const png = (await server.ask.get(`/api/handoffs/${id}/file`).responseType('blob')).body as Buffer;
  const { width, height, density } = await sharp(png).metadata();
  expect([width, height, density]).toEqual([SIDE[0], SIDE[1], 1200]);
  const alphaAt = async (left: number, top: number): Promise<number> =>
    (await sharp(png).extract({ left, top, width: 1, height: 1 }).ensureAlpha().raw().toBuffer())[3]!;
  // In the box, and above it.
  expect([await alphaAt(2250, 2266), await alphaAt(2250, 200)]).toEqual([255, 0]);
}, 300_000);
