import { MAX_FILE_BYTES } from '@jumble/core';
import { personHeader } from './person.ts';
import type { Problem } from '@jumble/contracts';

/** An answer of the server that is no success; `message` is meant for the user. */
export class ServerProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly body: Readonly<Record<string, unknown>>,
  ) {
    super(message);
    this.name = 'ServerProblem';
  }
}

/** The server did not answer at all. */
export class ConnectionLost extends Error {
  constructor() {
    super('Jumble does not answer. What it acknowledged is stored; check that it still runs.');
    this.name = 'ConnectionLost';
  }
}

export function getJson<T>(url: string): Promise<T> {
  return request<T>('GET', url);
}

/** Sends JSON, or a form, and reads JSON back. @throws ServerProblem or ConnectionLost. */
export async function request<T>(method: string, url: string, body?: unknown, { keepalive = false } = {}): Promise<T> {
  let response: Response;
  try {
    response = await fetch(url, {
      method,
      // It is sent to its end though the page is left.
      ...(keepalive ? { keepalive } : {}),
      ...(method === 'GET' ? {} : { headers: personHeader() }),
      ...(body === undefined
        ? {}
        : body instanceof FormData
          ? { body }
          : { body: JSON.stringify(body), headers: { ...personHeader(), 'Content-Type': 'application/json' } }),
    });
  } catch {
    throw new ConnectionLost();
  }
  if (!response.ok) throw await problemOf(response);
  return (response.status === 204 ? undefined : await response.json()) as T;
}

/** What an answer that is no success says. */
export async function problemOf(response: Response): Promise<ServerProblem> {
  const body = (await response.json().catch(() => ({}))) as Partial<Problem>;
  return new ServerProblem(
    response.status,
    body.code ?? 'unexpected',
    body.detail ?? `The server answered with ${response.status}. Try again.`,
    body as Record<string, unknown>,
  );
}

/** Uploads one file and tells how far it is. Cancelled by the signal. */
export function uploadFile<T>(
  method: 'POST' | 'PUT',
  url: string,
  file: File,
  onShare: (share: number) => void,
  signal: AbortSignal,
): Promise<T> {
  if (file.size > MAX_FILE_BYTES) {
    const size = Math.ceil(file.size / 1024 / 1024);
    const most = MAX_FILE_BYTES / 1024 / 1024;
    return Promise.reject(
      new Error(
        `The file has ${size} MB; at most ${most} MB are read. Save it with compression or at a lower resolution.`,
      ),
    );
  }
  return new Promise((resolve, reject) => {
    const sending = new XMLHttpRequest();
    sending.open(method, url);
    for (const [name, value] of Object.entries(personHeader())) sending.setRequestHeader(name, value);
    sending.responseType = 'json';
    sending.upload.onprogress = (event) => onShare(event.lengthComputable ? event.loaded / event.total : 0);
    sending.onload = () => {
      const body = (sending.response ?? {}) as Partial<Problem>;
      if (sending.status >= 200 && sending.status < 300) resolve(body as T);
      else {
        const detail = body.detail ?? `The server answered with ${sending.status}. Nothing was stored; try again.`;
        reject(new ServerProblem(sending.status, body.code ?? 'unexpected', detail, body as Record<string, unknown>));
      }
    };
    sending.onerror = () =>
      reject(new Error('The connection broke during the upload. Nothing was stored; upload the file again.'));
    sending.onabort = () => reject(new DOMException('Cancelled', 'AbortError'));
    signal.addEventListener('abort', () => sending.abort());
    const form = new FormData();
    form.append('file', file);
    sending.send(form);
  });
}
