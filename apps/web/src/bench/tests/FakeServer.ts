import type { DocumentView, PageView, StepScope, StepView } from '@jumble/contracts';
import { applyEdits, readHistory, type RecordEdit, type Records } from '@jumble/core';

/** What the bench asked for. */
export interface FakeRequest {
  readonly method: string;
  readonly url: string;
  readonly body: unknown;
}

type Answer = { readonly ok: boolean; readonly status: number } & Record<
  'json' | 'arrayBuffer' | 'blob',
  () => Promise<unknown>
>;

const documentUrl = (scope: StepScope): string => (scope === 'page' ? '/api/pages/p' : '/api/jobs/j/cast');

/** One page and its job's cast sheet behind `fetch`: steps are appended, taken back and done again. For tests. */
export class FakeServer {
  readonly requests: FakeRequest[] = [];
  /** What is answered beside the page's own addresses, by method and address. */
  readonly routes = new Map<string, () => unknown>();
  readonly files = new Map<string, Uint8Array>();
  private readonly steps: StepView[] = [];
  private readonly inverses = new Map<number, readonly RecordEdit[]>();
  private readonly records: Record<StepScope, Records>;

  constructor(
    public page: PageView,
    documents: Readonly<Record<StepScope, Records>>,
  ) {
    this.records = { ...documents };
    globalThis.fetch = ((url: string, options?: RequestInit) => this.fetch(url, options)) as typeof fetch;
  }

  /** A step that did not come from the bench of the test: of another tab. */
  append(scope: StepScope, label: string, edits: readonly RecordEdit[]): StepView {
    return this.log(scope, 'do', null, label, edits);
  }

  private log(
    scope: StepScope,
    kind: StepView['kind'],
    of: number | null,
    label: string,
    edits: readonly RecordEdit[],
  ): StepView {
    const { records, inverse } = applyEdits(this.records[scope], edits);
    this.records[scope] = records;
    const seq = this.steps.length + 1;
    this.inverses.set(seq, inverse);
    const revision = this.revisionOf(scope) + 1;
    const step: StepView = { seq, scope, revision, kind, of, label, edits, at: '2026-11-25T08:00:00Z' };
    this.steps.push(step);
    return step;
  }

  private revisionOf(scope: StepScope): number {
    return this.steps.filter((step) => step.scope === scope).length;
  }

  private async fetch(url: string, { method = 'GET', body }: RequestInit = {}): Promise<Answer> {
    const said: unknown = typeof body === 'string' ? JSON.parse(body) : body;
    this.requests.push({ method, url, body: said });
    const route = this.routes.get(`${method} ${url}`);
    if (route !== undefined) return answer(200, route());
    for (const scope of ['page', 'cast'] as const) {
      if (method === 'POST' && url === `${documentUrl(scope)}/edits`) {
        const { label, edits } = said as { label: string; edits: RecordEdit[] };
        return answer(201, { step: this.append(scope, label, edits) });
      }
    }
    if (method === 'POST' && url === '/api/pages/p/history')
      return this.stepBack((said as { direction: 'undo' | 'redo' }).direction);
    if (url === '/api/pages/p') return answer(200, this.page);
    if (url === '/api/pages/p/document') return answer(200, this.documentOf('page'));
    if (url === '/api/jobs/j/cast') return answer(200, this.documentOf('cast'));
    if (url === '/api/pages/p/history') return answer(200, [...this.steps]);
    if (method === 'DELETE' && url === '/api/pages/p/revision')
      return answer(200, (this.page = { ...this.page, previousGreyHash: null }));
    const file = this.files.get(url);
    return file === undefined ? answer(404, { detail: `${url} is not there.` }) : answer(200, file);
  }

  private documentOf(scope: StepScope): DocumentView {
    return { revision: this.revisionOf(scope), records: [...this.records[scope]] } as unknown as DocumentView;
  }

  private stepBack(direction: 'undo' | 'redo'): Answer {
    const seq = readHistory(this.steps)[direction].at(-1);
    if (seq === undefined) return answer(409, { code: 'nothing', detail: `Nothing to ${direction}.` });
    const of = this.steps[seq - 1]!;
    const edits = direction === 'undo' ? this.inverses.get(seq)! : of.edits;
    return answer(201, { step: this.log(of.scope, direction, seq, direction, edits) });
  }
}

function answer(status: number, body: unknown): Answer {
  return {
    ok: status < 300,
    status,
    json: () => Promise.resolve(body),
    arrayBuffer: () => Promise.resolve((body as Uint8Array).slice().buffer),
    blob: () => Promise.resolve(body),
  };
}
