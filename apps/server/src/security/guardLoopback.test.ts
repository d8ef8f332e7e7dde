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

  test('what is no JSON, and what is too large, is refused in words', async () => {
    const broken = await server.ask.post('/api/jobs').type('json').send('{"name": ').expect(400);
    expect(broken.body).toMatchObject({ code: 'bad-request' });
    const large = await server.ask
      .post('/api/jobs')
      .type('json')
      .send(`{"name": "${'x'.repeat(26 * 1024 * 1024)}"}`)
      .expect(413);
    expect(large.body).toMatchObject({ code: 'too-large' });
  });
});
