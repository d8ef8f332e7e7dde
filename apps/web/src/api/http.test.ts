import { describe, expect, test } from '@jest/globals';
import { ConnectionLost, getJson, request, ServerProblem, uploadFile } from './http.ts';

function answer(status: number, body: unknown, ok = status < 300): void {
  globalThis.fetch = (() =>
    Promise.resolve({
      ok,
      status,
      json: () => (body === undefined ? Promise.reject(new Error('no JSON')) : Promise.resolve(body)),
    })) as unknown as typeof fetch;
}

describe('requests', () => {
  test('send JSON and read JSON back', async () => {
    const sent: unknown[] = [];
    globalThis.fetch = ((url: string, init: unknown) => {
      sent.push([url, init]);
      return Promise.resolve({ ok: true, status: 200, json: () => Promise.resolve({ id: 'j' }) });
    }) as unknown as typeof fetch;
    expect(await request('POST', '/api/jobs', { name: 'Tram' })).toEqual({ id: 'j' });
    expect(await getJson('/api/jobs')).toEqual({ id: 'j' });
    expect(sent).toEqual([
      [
        '/api/jobs',
        {
          method: 'POST',
          body: '{"name":"Tram"}',
          headers: { 'X-Jumble-Person': 'Me', 'Content-Type': 'application/json' },
        },
      ],
      ['/api/jobs', { method: 'GET' }],
    ]);
  });

  test('without content answer nothing', async () => {
    answer(204, undefined);
    expect(await request('DELETE', '/api/jobs/j')).toBeUndefined();
  });

  test('refused carry the server’s words and code', async () => {
    answer(409, { code: 'stale-edit', detail: 'Someone else changed this.', missed: [1] });
    const error = await request('POST', '/x').catch((reason: unknown) => reason as ServerProblem);
    expect(error).toBeInstanceOf(ServerProblem);
    expect(error).toMatchObject({
      status: 409,
      code: 'stale-edit',
      message: 'Someone else changed this.',
      body: { missed: [1] },
    });
  });

  test('refused without words say at least the status', async () => {
    answer(502, undefined);
    await expect(request('GET', '/x')).rejects.toThrow('The server answered with 502. Try again.');
  });

  test('that never arrive say that what was acknowledged is stored', async () => {
    globalThis.fetch = (() => Promise.reject(new TypeError('failed'))) as unknown as typeof fetch;
    const error = await request('GET', '/x').catch((reason: unknown) => reason as Error);
    expect(error).toBeInstanceOf(ConnectionLost);
    expect((error as Error).message).toMatch(/What it acknowledged is stored/);
  });
});

describe('an upload', () => {
  /** The browser's upload, driven by the test. */
  class FakeRequest {
    static last: FakeRequest;
    upload: { onprogress?: (event: { lengthComputable: boolean; loaded: number; total: number }) => void } = {};
    status = 0;
    response: unknown = null;
    responseType = '';
    onload?: () => void;
    onerror?: () => void;
    onabort?: () => void;
    opened: string[] = [];
    constructor() {
      FakeRequest.last = this;
    }
    open(...args: string[]): void {
      this.opened = args;
    }
    setRequestHeader(name: string, value: string): void {
      this.opened.push(`${name}: ${value}`);
    }
    send(): void {
      // The test answers.
    }
    abort(): void {
      this.onabort?.();
    }
  }
  const start = (
    signal = new AbortController().signal,
  ): { done: Promise<unknown>; shares: number[]; sending: FakeRequest } => {
    globalThis.XMLHttpRequest = FakeRequest as unknown as typeof XMLHttpRequest;
    const shares: number[] = [];
    const done = uploadFile(
      'POST',
      '/api/jobs/j/pages',
      new File(['x'], 'a.png'),
      (share) => shares.push(share),
      signal,
    );
    return { done, shares, sending: FakeRequest.last };
  };

  test('refuses a file above the limit before it is sent', async () => {
    const file = new File(['x'], 'a.tif');
    Object.defineProperty(file, 'size', { value: 301 * 1024 * 1024 });
    const sending = uploadFile('POST', '/api/jobs/j/pages', file, () => undefined, new AbortController().signal);
    await expect(sending).rejects.toThrow(/301 MB; at most 300 MB/);
  });

  test('tells how far it is and gives the page', async () => {
    const { done, shares, sending } = start();
    expect(sending.opened).toEqual(['POST', '/api/jobs/j/pages', 'X-Jumble-Person: Me']);
    sending.upload.onprogress!({ lengthComputable: true, loaded: 3, total: 4 });
    sending.upload.onprogress!({ lengthComputable: false, loaded: 3, total: 0 });
    Object.assign(sending, { status: 201, response: { id: 'p' } });
    sending.onload!();
    expect(await done).toEqual({ id: 'p' });
    expect(shares).toEqual([0.75, 0]);
  });

  test.each<[string, (sending: FakeRequest) => void, RegExp]>([
    [
      'refused',
      (sending) => (
        Object.assign(sending, { status: 422, response: { detail: 'The file is empty. Nothing was stored.' } }),
        sending.onload!()
      ),
      /file is empty/,
    ],
    [
      'refused without words',
      (sending) => (Object.assign(sending, { status: 500, response: null }), sending.onload!()),
      /answered with 500. Nothing was stored/,
    ],
    ['broken off', (sending) => sending.onerror!(), /connection broke.*Nothing was stored/],
  ])('%s says what to do', async (_what, end, words) => {
    const { done, sending } = start();
    end(sending);
    await expect(done).rejects.toThrow(words);
  });

  test('cancelled is no error of ours', async () => {
    const abort = new AbortController();
    const { done } = start(abort.signal);
    abort.abort();
    await expect(done).rejects.toMatchObject({ name: 'AbortError' });
  });
});
