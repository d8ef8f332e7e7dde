import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { startServer, type TestServer } from '../tests/startServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());

describe('only this machine', () => {
  test.each(['comics.example', 'localhost.example:4317', '10.0.0.7', '127.0.0.1.example', ''])(
    'a request to host %j is refused',
    async (host) => {
      const answer = await server.ask.get('/api/jobs').set('Host', host);
      expect([400, 403]).toContain(answer.status);
      if (host !== '') expect(answer.body).toMatchObject({ code: 'foreign-host' });
    },
  );

  test.each(['http://comics.example', 'null', 'https://127.0.0.1', 'http://127.0.0.1:1'])(
    'a request from origin %j is refused',
    async (origin) => {
      const answer = await server.ask.post('/api/jobs').set('Origin', origin).send({ name: 'Theirs' }).expect(403);
      expect(answer.body).toMatchObject({ code: 'foreign-origin' });
      expect((await server.ask.get('/api/jobs')).body).toEqual([]);
    },
  );

  test('its own pages are let through, isolated and with a strict policy', async () => {
    const { host, origin } = new URL(await server.app.getUrl());
    const answer = await server.ask.get('/api/jobs').set('Host', host).set('Origin', origin).expect(200);
    expect(answer.headers['content-security-policy']).toMatch("default-src 'self'");
    expect(answer.headers['cross-origin-embedder-policy']).toBe('require-corp');
    expect(answer.headers['cross-origin-opener-policy']).toBe('same-origin');
    expect(answer.headers['x-content-type-options']).toBe('nosniff');
    expect(answer.headers['x-powered-by']).toBeUndefined();
  });

  test.each<[string, Record<string, string>]>([
    ['a form of another site, without an origin', { 'Sec-Fetch-Site': 'cross-site' }],
    ['a form of another program on this machine', { 'Sec-Fetch-Site': 'same-site' }],
    ['a link that changes something', { 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'navigate' }],
  ])('%s is refused, with the headers of any answer', async (_, headers) => {
    const answer = await server.ask.post('/api/jobs').set(headers).send({ name: 'Theirs' }).expect(403);
    expect(answer.body).toMatchObject({ code: 'foreign-origin' });
    expect(answer.headers['content-security-policy']).toMatch("default-src 'self'");
    expect(answer.headers['x-content-type-options']).toBe('nosniff');
    expect(answer.headers['x-powered-by']).toBeUndefined();
    expect((await server.ask.get('/api/jobs')).body).toEqual([]);
  });

  test('of other sites only a link to one of its pages is followed', async () => {
    const headers = { 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'navigate', 'Sec-Fetch-Dest': 'document' };
    await server.ask.get('/jobs').set(headers).expect(404);
    await server.ask.get('/api/jobs').set(headers).expect(403);
    await server.ask
      .get('/jobs')
      .set({ ...headers, 'Sec-Fetch-Dest': 'iframe' })
      .expect(403);
    await server.ask.get('/api/jobs').set({ 'Sec-Fetch-Site': 'same-origin' }).expect(200);
  });
});
