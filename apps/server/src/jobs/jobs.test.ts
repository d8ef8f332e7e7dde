import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { boxesPng, jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());

describe('a job', () => {
  test('is made, listed, renamed, given a day and deleted with all its files', async () => {
    const { ask, dataFolder } = server;
    const { jobId } = await jobWithPage(server);
    await ask.patch(`/api/jobs/${jobId}`).send({ name: '  Root line ', dueOn: '2027-01-31' }).expect(200);
    const listed = await ask.get('/api/jobs').expect(200);
    expect(listed.body).toMatchObject([
      { id: jobId, name: 'Root line', dueOn: '2027-01-31', pages: [{ name: 'page 1', regionCount: 4 }] },
    ]);
    await ask.delete(`/api/jobs/${jobId}`).expect(204);
    expect((await ask.get('/api/jobs')).body).toEqual([]);
    for (const kind of ['original', 'grey', 'thumbnail']) {
      const left = await readdir(join(dataFolder, kind), { recursive: true, withFileTypes: true });
      expect(left.filter((entry) => entry.isFile())).toEqual([]);
    }
  });

  test.each([
    [{}, /name/],
    [{ name: '' }, /name/],
    [{ name: '   ' }, /blank/],
    [{ name: 'x'.repeat(121) }, /name/],
    [{ name: 'Tram', dueOn: '2027-13-01' }, /dueOn/],
    [{ name: 'Tram', paid: true }, /paid/],
    [{ name: ['Tram'] }, /name/],
  ])('is refused when it says %j, naming what is wrong', async (body, words) => {
    const answer = await server.ask.post('/api/jobs').send(body).expect(400);
    expect(answer.headers['content-type']).toMatch('application/problem+json');
    expect((answer.body as { detail: string }).detail).toMatch(words);
  });

  test('puts its pages in a new order, but not one made before a page was added', async () => {
    const { ask } = server;
    const { jobId, pageId } = await jobWithPage(server);
    const second = await ask
      .post(`/api/jobs/${jobId}/pages`)
      .attach('file', await boxesPng(140), 'two.png')
      .expect(201);
    const secondId = (second.body as { id: string }).id;
    const order = `/api/jobs/${jobId}/pages/order`;
    const names = async (): Promise<string[]> =>
      ((await ask.get(`/api/jobs/${jobId}`)).body as { pages: { name: string }[] }).pages.map((page) => page.name);
    await ask
      .put(order)
      .send({ pageIds: [secondId, pageId] })
      .expect(204);
    expect(await names()).toEqual(['two', 'page 1']);
    const stale = await ask
      .put(order)
      .send({ pageIds: [pageId] })
      .expect(409);
    expect((stale.body as { code: string }).code).toBe('stale-order');
    await ask
      .put(order)
      .send({ pageIds: [pageId, pageId] })
      .expect(400);
    expect(await names()).toEqual(['two', 'page 1']);
  });

  test('that does not exist is said not to exist', async () => {
    const answer = await server.ask.get('/api/jobs/none').expect(404);
    expect((answer.body as { detail: string }).detail).toMatch(/go back to the desk/);
  });
});
