import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const root = join(import.meta.dirname, '..', '..', '..');

/** The program that a user starts. */
export const SERVER_FILE = join(root, 'apps', 'server', 'dist', 'main.js');

/** The built server as a process of its own, as a user runs it. */
export interface RunningServer {
  readonly address: string;
  readonly dataFolder: string;
  readonly process: ChildProcess;
  /** Ends it: politely, or as a crash would. */
  end(signal?: 'SIGTERM' | 'SIGKILL'): Promise<void>;
  /** Ends it and deletes its data. */
  clear(): Promise<void>;
}

export async function runServer(
  options: { dataFolder?: string; port?: number; env?: Record<string, string> } = {},
): Promise<RunningServer> {
  const dataFolder = options.dataFolder ?? (await mkdtemp(join(tmpdir(), 'jumble-e2e-')));
  const child = spawn(process.execPath, [SERVER_FILE], {
    env: {
      ...process.env,
      PORT: String(options.port ?? 0),
      JUMBLE_DATA: dataFolder,
      JUMBLE_WEB: join(root, 'apps', 'web', 'dist'),
      ...options.env,
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  const address = await new Promise<string>((resolve, reject) => {
    let said = '';
    child.stdout!.on('data', (chunk: Buffer) => {
      said += chunk.toString();
      const match = /open at (http:\S+)/.exec(said);
      if (match !== null) resolve(match[1]!);
    });
    void ended.then(() => reject(new Error(`The server ended before it was open: ${said}`)));
  });
  const end = async (signal: 'SIGTERM' | 'SIGKILL' = 'SIGTERM'): Promise<void> => {
    child.kill(signal);
    await ended;
  };
  return {
    address,
    dataFolder,
    process: child,
    end,
    clear: async () => {
      await end();
      await rm(dataFolder, { recursive: true, force: true });
    },
  };
}

/** Sends JSON and reads JSON. @throws with the server's words when it refuses. */
export async function ask<T>(server: RunningServer, method: string, path: string, body?: unknown): Promise<T> {
  const response = await fetch(server.address + path, {
    method,
    ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
  });
  const text = await response.text();
  if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${text}`);
  return (text === '' ? undefined : JSON.parse(text)) as T;
}

export async function uploadPage(
  server: RunningServer,
  jobId: string,
  name: string,
  bytes: Uint8Array,
): Promise<{ id: string; greyHash: string; width: number; height: number }> {
  const form = new FormData();
  form.append('file', new Blob([bytes as BlobPart]), name);
  const response = await fetch(`${server.address}/api/jobs/${jobId}/pages`, { method: 'POST', body: form });
  if (!response.ok) throw new Error(`upload: ${response.status} ${await response.text()}`);
  return (await response.json()) as { id: string; greyHash: string; width: number; height: number };
}
