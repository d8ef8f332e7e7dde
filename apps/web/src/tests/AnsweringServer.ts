/** A request that was to change something. */
export interface Asked {
  readonly method: string;
  readonly url: string;
  /** Null where none was sent. */
  readonly body: unknown;
}

interface Answer {
  /** 200 by default. */
  readonly status?: number;
  readonly body: unknown;
}

/** Stands behind `fetch` in tests of views: answers by method and address, and keeps what was asked to change. */
export class AnsweringServer {
  readonly asked: Asked[] = [];
  /** By method and address, as in `GET /api/jobs`. */
  readonly answers = new Map<string, Answer>();
  /** Who asked, of the last request that was to change something. */
  who: string | undefined;

  /**
   * @param otherwise the answer to all that has none of its own
   * @param passesOn what goes to who answered before
   */
  constructor(
    public otherwise: Answer = { body: [] },
    passesOn?: RegExp,
  ) {
    const before = globalThis.fetch;
    globalThis.fetch = ((url: string, init?: RequestInit) =>
      passesOn?.test(url) === true ? before(url, init) : this.answer(url, init)) as typeof fetch;
  }

  private answer(url: string, { method = 'GET', body, headers }: RequestInit = {}): Promise<unknown> {
    if (method !== 'GET') {
      this.asked.push({ method, url, body: JSON.parse((body as string | undefined) ?? 'null') as unknown });
      this.who = (headers as Record<string, string> | undefined)?.['X-Jumble-Person'];
    }
    const { status = 200, body: answer } = this.answers.get(`${method} ${url}`) ?? this.otherwise;
    return Promise.resolve({ ok: status < 400, status, json: () => Promise.resolve(answer) });
  }
}
