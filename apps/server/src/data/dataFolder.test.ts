import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { chmod, mkdtemp, readdir, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { readConfig } from '../config.ts';
import { StartError } from '../errors/StartError.ts';
import { jobWithPage, startServer } from '../tests/startServer.ts';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'jumble-data-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

const at = (...names: string[]): string => join(folder, ...names);
/** What a start is refused with: one line. */
async function refusal(dataFolder: string): Promise<string> {
  const error = await startServer({ dataFolder }).then(
    () => null,
    (reason: unknown) => reason,
  );
  expect(error).toBeInstanceOf(StartError);
  const { message } = error as StartError;
  expect(message).toContain(dataFolder);
  expect(message.split('\n')).toHaveLength(1);
  return message;
}

describe('a data folder', () => {
  test("is one process's alone: a second is refused before it touches anything, and may have it afterwards", async () => {
    const first = await startServer({ dataFolder: at('data') });
    await writeFile(at('data', 'incoming', 'upload'), 'half of a page');
    expect(await refusal(at('data'))).toMatch(/runs on the data folder .* already.*JUMBLE_DATA=/);
    expect(await readdir(at('data', 'incoming'))).toEqual(['upload']);
    await first.ask.get('/api/jobs').expect(200);
    await first.stop(false);
    const second = await startServer({ dataFolder: at('data') });
    expect(await readdir(at('data', 'incoming'))).toEqual([]);
    await second.stop();
  });

  test('that is a file, lies in one, or cannot be made is refused in one line, at once', async () => {
    await writeFile(at('file'), 'x');
    expect(await refusal(at('file'))).toMatch(/is a file, or lies in one/);
    expect(await refusal(at('file', 'data'))).toMatch(/is a file, or lies in one/);
    expect(await refusal('/proc/jumble/data')).toMatch(/cannot be made/);
  });

  test('whose database is damaged is refused, and not written to', async () => {
    const server = await startServer({ dataFolder: folder });
    await jobWithPage(server);
    await server.stop(false);
    const path = at('jumble.sqlite');
    const pages = new Database(path);
    pages.pragma('wal_checkpoint(TRUNCATE)');
    pages.close();
    const { size } = await stat(path);
    for (const [from, bytes] of [
      [8192, size - 8192],
      [0, 4096],
    ] as const) {
      const handle = await (await import('node:fs/promises')).open(path, 'r+');
      await handle.write(Buffer.alloc(bytes, 0x5a), 0, bytes, from);
      await handle.close();
      expect(await refusal(folder)).toMatch(/is damaged .*Put a copy/);
    }
  });

  test('whose database another program holds is refused in words', async () => {
    await (await startServer({ dataFolder: folder })).stop(false);
    const other = new Database(at('jumble.sqlite'));
    other.pragma('locking_mode = EXCLUSIVE');
    other.exec('BEGIN EXCLUSIVE');
    expect(await refusal(folder)).toMatch(/Another program holds the database/);
    other.close();
  });

  test('is readable by its owner alone, what was there before too', async () => {
    await (await startServer({ dataFolder: at('data') })).stop(false);
    await chmod(at('data', 'jumble.sqlite'), 0o644);
    await chmod(at('data', 'incoming'), 0o755);
    const server = await startServer({ dataFolder: at('data') });
    await jobWithPage(server);
    for (const entry of await readdir(at('data'), { recursive: true, withFileTypes: true })) {
      const { mode } = await stat(join(entry.parentPath, entry.name));
      expect([entry.name, (mode & 0o077).toString(8)]).toEqual([entry.name, '0']);
    }
    expect((await stat(at('data'))).mode & 0o077).toBe(0);
    await server.stop();
  });
});

test.each(['abc', '-1', '70000', '1.5', ' '])('the port %j is refused in one line', (port) => {
  expect(() => readConfig({ PORT: port }, 'worker.js')).toThrow(StartError);
});
