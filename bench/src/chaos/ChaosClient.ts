import { createHash } from 'node:crypto';
import type { Acknowledged } from './Acknowledged.ts';

interface Answer {
  readonly status: number;
  readonly body: Record<string, unknown>;
}

/** A picture that is uploaded, several times and by everyone: the same bytes are wanted and unwanted all the time. */
export interface Upload {
  readonly bytes: Uint8Array;
  readonly hash: string;
}

export function uploadOf(bytes: Uint8Array): Upload {
  return { bytes, hash: createHash('sha256').update(bytes).digest('hex') };
}

/** The server went away in the middle. */
class Away extends Error {}

const MOST_PAGES = 6;

/** Somebody who works on pages of their own and on a shared one, without a pause, until the server is gone. */
export class ChaosClient {
  private readonly pageIds: string[] = [];
  private readonly revisions = new Map<string, number>();
  private readonly building = new Map<string, string>();
  private count = 0;
  private stopped = false;
  /** Answers that no user could make sense of. */
  readonly odd: string[] = [];

  constructor(
    private readonly name: string,
    private readonly jobId: string,
    private readonly sharedPageId: string,
    private readonly uploads: readonly Upload[],
    private readonly acknowledged: Acknowledged,
    private readonly random: () => number,
  ) {}

  stop(): void {
    this.stopped = true;
  }

  /** Works until it is stopped or the server does not answer. */
  async work(address: string): Promise<void> {
    this.stopped = false;
    this.revisions.clear();
    this.building.clear();
    const actions: readonly (readonly [number, () => Promise<void>])[] = [
      [5, () => this.editPage(this.sharedPageId)],
      [4, () => this.editPage(this.pageIds[this.below(this.pageIds.length)])],
      [3, () => this.editCast()],
      [2, () => this.upload()],
      [1, () => this.replace()],
      [1, () => this.addInk()],
      [1, () => this.remove()],
      [1, () => this.handOff()],
      [1, () => this.importCast()],
      [1, () => this.lookAtHandoffs()],
    ];
    const total = actions.reduce((sum, [weight]) => sum + weight, 0);
    this.address = address;
    try {
      while (!this.stopped) {
        let at = this.random() * total;
        const [, act] = actions.find(([weight]) => (at -= weight) < 0)!;
        await act();
      }
    } catch (error) {
      if (!(error instanceof Away)) throw error;
    }
  }

  private address = '';

  private below(count: number): number {
    return Math.floor(this.random() * count);
  }

  private async ask(method: string, path: string, body?: object | FormData): Promise<Answer> {
    let text: string;
    let response: Response;
    try {
      response = await fetch(`${this.address}/api/${path}`, {
        method,
        ...(body === undefined
          ? {}
          : body instanceof FormData
            ? { body }
            : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
      });
      text = await response.text();
    } catch {
      throw new Away();
    }
    const parsed = (text === '' ? {} : JSON.parse(text)) as Record<string, unknown>;
    if (response.status === 500) this.odd.push(`${method} ${path}: ${text}`);
    return { status: response.status, body: parsed };
  }

  private async send(method: string, path: string): Promise<Answer & { upload: Upload }> {
    const upload = this.uploads[this.below(this.uploads.length)]!;
    const form = new FormData();
    form.append('file', new Blob([upload.bytes as BlobPart]), 'page.png');
    return { ...(await this.ask(method, path, form)), upload };
  }

  private async editPage(pageId: string | undefined): Promise<void> {
    if (pageId === undefined) return;
    const x = this.count++;
    const y = this.name.charCodeAt(0);
    const value = { part: 'coat', anchors: [[x, y]], stamp: x };
    await this.append(`pages/${pageId}`, 'document', { key: `fill/${x},${y}`, value });
  }

  private async editCast(): Promise<void> {
    const key = `group/${this.name}${this.count++}`;
    await this.append(`jobs/${this.jobId}/cast`, '', { key, value: { name: key, order: this.count } });
  }

  /** Appends one edit as the web application does: what is stale goes on top of what others did. */
  private async append(document: string, reading: string, edit: { key: string; value: unknown }): Promise<void> {
    for (;;) {
      if (!this.revisions.has(document)) {
        const { status, body } = await this.ask('GET', `${document}${reading && `/${reading}`}`);
        if (status !== 200) return;
        this.revisions.set(document, body.revision as number);
      }
      const baseRevision = this.revisions.get(document)!;
      const { status, body } = await this.ask('POST', `${document}/edits`, {
        baseRevision,
        label: edit.key,
        edits: [edit],
      });
      if (status === 201) {
        this.revisions.set(document, (body.step as { revision: number }).revision);
        this.acknowledged.keep(document, edit.key);
        return;
      }
      if (status !== 409) return;
      const missed = body.missed as { revision: number; label: string }[];
      this.revisions.set(document, missed.at(-1)?.revision ?? baseRevision);
      if (missed.some(({ label }) => label === edit.key)) return;
    }
  }

  private async upload(): Promise<void> {
    if (this.pageIds.length >= MOST_PAGES) return this.remove();
    const { status, body, upload } = await this.send('POST', `jobs/${this.jobId}/pages`);
    if (status !== 201) return;
    this.pageIds.push(body.id as string);
    this.acknowledged.pages.set(body.id as string, upload.hash);
    this.acknowledged.others++;
  }

  private async replace(): Promise<void> {
    const pageId = this.pageIds[this.below(this.pageIds.length)];
    if (pageId === undefined) return;
    const before = this.acknowledged.pages.get(pageId);
    this.acknowledged.pages.delete(pageId);
    const { status, upload } = await this.send('PUT', `pages/${pageId}/file`);
    if (status === 200) this.acknowledged.others++;
    if (status === 200) this.acknowledged.pages.set(pageId, upload.hash);
    else if (status < 500 && before !== undefined) this.acknowledged.pages.set(pageId, before);
  }

  private async addInk(): Promise<void> {
    const pageId = this.pageIds[this.below(this.pageIds.length)];
    if (pageId !== undefined) await this.send('POST', `pages/${pageId}/inks`);
  }

  private async remove(): Promise<void> {
    if (this.pageIds.length < 2) return;
    const [pageId] = this.pageIds.splice(this.below(this.pageIds.length), 1) as [string];
    this.acknowledged.forget(pageId);
    const { status } = await this.ask('DELETE', `pages/${pageId}`);
    if (status !== 204) return;
    this.acknowledged.deletedPages.add(pageId);
    this.acknowledged.others++;
  }

  private async handOff(): Promise<void> {
    const pageId = this.pageIds[this.below(this.pageIds.length)];
    if (pageId === undefined) return;
    const { status, body } = await this.ask('POST', `jobs/${this.jobId}/packages`, {
      pageIds: [pageId],
      deliveryId: 'colourist',
    });
    if (status === 201) this.building.set(body.id as string, pageId);
  }

  private async lookAtHandoffs(): Promise<void> {
    for (const [id, pageId] of this.building) {
      const { status, body } = await this.ask('GET', `packages/${id}`);
      if (status === 200 && body.state === 'packing') continue;
      this.building.delete(id);
      if (status === 200 && body.state === 'ready' && this.pageIds.includes(pageId)) {
        this.acknowledged.handoffs.set(id, { pageId });
        this.acknowledged.others++;
      }
    }
  }

  private async importCast(): Promise<void> {
    const part = `part ${this.name}${this.count++}`;
    const text = `scene,group,part,key,colour\nDay,Imported,${part},,#224466\n`;
    const { status } = await this.ask('POST', `jobs/${this.jobId}/cast/import`, { text });
    if (status !== 201) return;
    const parts = this.acknowledged.parts.get(this.jobId) ?? new Set();
    this.acknowledged.parts.set(this.jobId, parts.add(part));
    this.acknowledged.others++;
  }
}
