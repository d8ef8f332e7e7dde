import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ExamplePage } from '@jumble/core';
import { boxesPng, jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';
import { waitUntil } from '../tests/waitUntil.ts';

let server: TestServer;
beforeAll(async () => void (server = await startServer()));
afterAll(() => server.stop());

test('the done pages of a job are examples for the others, with their parts as they are now', async () => {
  const { jobId, pageId } = await jobWithPage(server);
  const second = (
    await server.ask
      .post(`/api/jobs/${jobId}/pages`)
      .attach('file', await boxesPng(), 'page 2.png')
      .expect(201)
  ).body as { id: string };
  const examples = async (): Promise<ExamplePage[]> =>
    (await server.ask.get(`/api/pages/${second.id}/examples`).expect(200)).body as ExamplePage[];
  expect(await examples()).toEqual([]);
  await server.ask.get('/api/pages/none/examples').expect(404);

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
  const fills = [
    [3, 3],
    [30, 30],
    [90, 30],
    [60, 70],
  ].map(([x, y]) => ({ key: `fill/${x},${y}`, value: { part: 'coat', anchors: [[x, y]], stamp: 0 } }));
  await server.ask
    .post(`/api/pages/${pageId}/edits`)
    .send({ baseRevision: 0, label: 'Give 4 regions', edits: fills })
    .expect(201);
  // The page counts as done once its regions were counted, which follows an edit a moment later.
  await waitUntil(async () => (await examples()).length > 0);
  const found = await examples();
  expect(found).toHaveLength(1);
  expect(found[0]!.parts).toEqual(['coat', 'coat', 'coat', 'coat']);
  expect(found[0]!.traits.count).toBe(4);
  // Asked again it is the same, and follows what is decided.
  expect(await examples()).toEqual(found);
  await server.ask
    .post(`/api/pages/${pageId}/edits`)
    .send({ baseRevision: 1, label: 'Take', edits: [{ key: 'fill/30,30', value: null }] })
    .expect(201);
  const later = await examples();
  expect(later.length === 0 || later[0]!.parts.includes(null)).toBe(true);
});
