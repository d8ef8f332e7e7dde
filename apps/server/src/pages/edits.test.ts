import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';

type Record_ = [string, unknown];
interface Document {
  revision: number;
  records: Record_[];
}

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());

const fill = (x: number, y: number, part: string | null, stamp = 0) => ({
  key: `fill/${x},${y}`,
  value: part === null ? null : { part, anchors: [[x, y]], stamp },
});
const edit = (pageId: string, baseRevision: number, edits: object[], label = 'Give 1 region') =>
  server.ask.post(`/api/pages/${pageId}/edits`).send({ baseRevision, label, edits });
const documentOf = async (pageId: string): Promise<Document> =>
  (await server.ask.get(`/api/pages/${pageId}/document`).expect(200)).body as Document;
const step = (pageId: string, direction: string) => server.ask.post(`/api/pages/${pageId}/history`).send({ direction });

describe('edits of a page', () => {
  test('are appended with a revision and come back as the document', async () => {
    const { pageId } = await jobWithPage(server);
    const first = await edit(pageId, 0, [
      fill(20, 20, 'coat'),
      { key: 'trap', value: { rule: 'depth', depthPx: 3 } },
    ]).expect(201);
    expect(first.body).toMatchObject({ step: { scope: 'page', revision: 1, kind: 'do', label: 'Give 1 region' } });
    await edit(pageId, 1, [fill(20, 20, null), fill(80, 20, 'sky')]).expect(201);
    expect(await documentOf(pageId)).toEqual({
      revision: 2,
      records: expect.arrayContaining([
        ['trap', { rule: 'depth', depthPx: 3 }],
        ['fill/80,20', { part: 'sky', anchors: [[80, 20]], stamp: 0 }],
      ]) as unknown,
    });
  });

  test('on an old revision get 409 with what was missed, and are not stored', async () => {
    const { pageId } = await jobWithPage(server);
    await edit(pageId, 0, [fill(20, 20, 'coat')]).expect(201);
    const stale = await edit(pageId, 0, [fill(80, 20, 'sky')]).expect(409);
    expect(stale.body).toMatchObject({ code: 'stale-edit', missed: [{ revision: 1, edits: [fill(20, 20, 'coat')] }] });
    expect((await documentOf(pageId)).records).toHaveLength(1);
    await edit(pageId, 7, [fill(80, 20, 'sky')]).expect(409);
  });

  test.each<[string, object[]]>([
    ['a key of nothing', [{ key: 'weather', value: 1 }]],
    ['a fill without anchors', [{ key: 'fill/1,1', value: { part: 'a', anchors: [], stamp: 0 } }]],
    ['a fill under another point', [{ key: 'fill/1,1', value: { part: 'a', anchors: [[2, 2]], stamp: 0 } }]],
    ['a trap that is no number', [{ key: 'trap', value: { rule: 'depth', depthPx: 'deep' } }]],
    ['a negative trap', [{ key: 'trap', value: { rule: 'depth', depthPx: -1 } }]],
    ['no edits', []],
    ['a foreign field', [{ key: 'scene', value: 'night', by: 'me' }]],
  ])('with %s are refused whole', async (_what, edits) => {
    const { pageId } = await jobWithPage(server);
    const refused = await edit(pageId, 0, edits.length === 0 ? [] : [fill(20, 20, 'coat'), ...edits]).expect(400);
    expect((refused.body as { detail: string }).detail.length).toBeGreaterThan(10);
    expect(await documentOf(pageId)).toEqual({ revision: 0, records: [] });
  });

  test('survive a restart, beyond a snapshot, with undo and redo byte for byte', async () => {
    const first = await startServer();
    const { pageId } = await jobWithPage(first);
    const states: string[] = [];
    const read = async (from: TestServer): Promise<string> =>
      JSON.stringify(((await from.ask.get(`/api/pages/${pageId}/document`)).body as Document).records.sort());
    for (let k = 0; k < 45; k++) {
      states.push(await read(first));
      const edits = [fill(20 + (k % 7), 20, k % 5 === 4 ? null : `part${k}`, k)];
      await first.ask
        .post(`/api/pages/${pageId}/edits`)
        .send({ baseRevision: k, label: `step ${k}`, edits })
        .expect(201);
    }
    states.push(await read(first));
    await first.stop(false);
    const again = await startServer({ dataFolder: first.dataFolder });
    try {
      expect(await read(again)).toBe(states[45]);
      for (let k = 44; k >= 30; k--) {
        await again.ask.post(`/api/pages/${pageId}/history`).send({ direction: 'undo' }).expect(201);
        expect(await read(again)).toBe(states[k]);
      }
      for (let k = 31; k <= 45; k++) {
        await again.ask.post(`/api/pages/${pageId}/history`).send({ direction: 'redo' }).expect(201);
        expect(await read(again)).toBe(states[k]);
      }
      await again.ask.post(`/api/pages/${pageId}/history`).send({ direction: 'redo' }).expect(409);
    } finally {
      await again.stop();
    }
  });
});

describe('undo', () => {
  test('goes back over the page and the cast sheet in the order things were done', async () => {
    const { jobId, pageId } = await jobWithPage(server);
    const sheet = async (): Promise<Document> =>
      (await server.ask.get(`/api/jobs/${jobId}/cast`).expect(200)).body as Document;
    const before = (await sheet()).records.length;
    const group = { key: 'group/wren', value: { name: 'Wren', order: 50 } };
    await edit(pageId, 0, [fill(20, 20, 'coat')]).expect(201);
    await server.ask
      .post(`/api/jobs/${jobId}/cast/edits`)
      .send({ baseRevision: (await sheet()).revision, label: 'Add Wren', edits: [group] })
      .expect(201);
    expect((await step(pageId, 'undo').expect(201)).body).toMatchObject({
      step: { scope: 'cast', kind: 'undo', label: 'Add Wren' },
    });
    expect((await sheet()).records).toHaveLength(before);
    expect((await step(pageId, 'undo').expect(201)).body).toMatchObject({ step: { scope: 'page', kind: 'undo' } });
    expect((await step(pageId, 'undo').expect(409)).body).toMatchObject({ code: 'nothing-to-undo' });
    await step(pageId, 'redo').expect(201);
    await step(pageId, 'redo').expect(201);
    expect((await sheet()).records).toHaveLength(before + 1);
    const log = (await server.ask.get(`/api/pages/${pageId}/history`)).body as { kind: string }[];
    expect(log.map((entry) => entry.kind)).toEqual(['do', 'do', 'undo', 'undo', 'redo', 'redo']);
    await step(pageId, 'sideways').expect(400);
  });
});

describe('parts that are merged', () => {
  test('are the other part on every page, in usage and after a restart; undo parts them again', async () => {
    const { jobId, pageId } = await jobWithPage(server);
    const load = async (): Promise<Document> =>
      (await server.ask.get(`/api/jobs/${jobId}/cast`).expect(200)).body as Document;
    const { revision, records } = await load();
    const group = records.find(([key]) => key.startsWith('group/'))![0].slice(6);
    const part = (name: string): object => ({ groupId: group, name, order: 50, slot: null, empty: false });
    await server.ask
      .post(`/api/jobs/${jobId}/cast/edits`)
      .send({
        baseRevision: revision,
        label: 'Add two parts',
        edits: [
          { key: 'part/coat', value: { ...part('Coat'), notes: 'buttoned' } },
          { key: 'part/cape', value: part('Cape') },
        ],
      })
      .expect(201);
    await server.ask
      .post(`/api/pages/${pageId}/edits`)
      .send({
        baseRevision: 0,
        label: 'Give 1 region to Cape',
        edits: [{ key: 'fill/30,30', value: { part: 'cape', anchors: [[30, 30]], stamp: 0 } }],
      })
      .expect(201);
    const merge = [
      { key: 'part/cape', value: null },
      { key: 'alias/cape', value: 'coat' },
    ];
    await server.ask
      .post(`/api/jobs/${jobId}/cast/edits`)
      .send({ baseRevision: revision + 1, label: 'Merge Cape into Coat', edits: merge })
      .expect(201);
    const after = await load();
    expect(after.records).toContainEqual(['alias/cape', 'coat']);
    expect(after.records.find(([key]) => key === 'part/coat')![1]).toMatchObject({ notes: 'buttoned' });
    const usage = (await server.ask.get(`/api/jobs/${jobId}/cast/usage`).expect(200)).body as {
      partId: string;
      pages: { places: number }[];
    }[];
    expect(usage.find((one) => one.partId === 'coat')!.pages.map((page) => page.places)).toEqual([1]);
    // The part that others were merged into cannot go while they mean it.
    await server.ask
      .post(`/api/jobs/${jobId}/cast/edits`)
      .send({ baseRevision: revision + 2, label: 'Delete Coat', edits: [{ key: 'part/coat', value: null }] })
      .expect(422);
    await server.ask.post(`/api/pages/${pageId}/history`).send({ direction: 'undo' }).expect(201);
    expect((await load()).records.map(([key]) => key)).toContain('part/cape');
  });

  test('of a file come in as one step, or not at all', async () => {
    const { jobId } = await jobWithPage(server);
    const text = 'scene,group,part,key,colour\nDay,Tram,Body,,#aa4400\nDay,Tram,Roof,,#553300\n';
    const { body } = await server.ask.post(`/api/jobs/${jobId}/cast/import`).send({ text }).expect(201);
    expect((body as { step: { label: string } }).step.label).toBe('Import a cast file');
    const before = (await server.ask.get(`/api/jobs/${jobId}/cast`)).body as Document;
    const bad = await server.ask
      .post(`/api/jobs/${jobId}/cast/import`)
      .send({ text: `${text}Day,Tram,Body,,#zzzzzz\n` })
      .expect(422);
    expect((bad.body as { detail: string }).detail).toContain('Line 4');
    expect(((await server.ask.get(`/api/jobs/${jobId}/cast`)).body as Document).revision).toBe(before.revision);
    const pdf = await server.ask.get(`/api/jobs/${jobId}/cast/sheet.pdf`).expect(200);
    expect(pdf.headers['content-type']).toBe('application/pdf');
  });
});
