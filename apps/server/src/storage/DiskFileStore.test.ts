import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { createHash } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { text } from 'node:stream/consumers';
import { readConfig } from '../config.ts';
import { DomainError, notFound } from '../errors/DomainError.ts';
import { DiskFileStore } from './DiskFileStore.ts';

let root: string;
let store: DiskFileStore;
beforeEach(async () => {
  root = await mkdtemp(join(tmpdir(), 'jumble-store-'));
  store = new DiskFileStore(root);
});
afterEach(() => rm(root, { recursive: true, force: true }));

describe('the file store', () => {
  test('keeps bytes under their hash and gives them back', async () => {
    const bytes = Buffer.from('the last tram');
    const hash = createHash('sha256').update(bytes).digest('hex');
    const staged = await store.stageBytes('original', bytes);
    expect(staged).toMatchObject({ kind: 'original', hash, sizeBytes: 13 });
    await expect(readFile(store.pathOf('original', hash))).rejects.toThrow(/ENOENT/);
    await store.place(staged);
    expect(await readFile(store.pathOf('original', hash), 'utf8')).toBe('the last tram');
    expect(await text(store.read('original', hash))).toBe('the last tram');
  });

  test('takes over a finished file, and the same bytes only once', async () => {
    const [one, two] = [store.incoming(), store.incoming()];
    await writeFile(one, 'twice');
    await writeFile(two, 'twice');
    const [first, second] = [await store.stage('grey', one), await store.stage('grey', two)];
    expect(second.hash).toBe(first.hash);
    await store.place(first);
    await store.place(second);
    expect(await readdir(join(root, 'incoming'))).toEqual([]);
    expect(await readdir(join(root, 'grey', first.hash.slice(0, 2)))).toEqual([first.hash]);
  });

  test('removes, and does not mind what is gone already', async () => {
    const staged = await store.stageBytes('handoff', Buffer.from('x'));
    const { hash } = staged;
    await store.place(staged);
    expect(await store.list('handoff')).toEqual([hash]);
    await store.remove('handoff', hash);
    await store.remove('handoff', hash);
    expect(await store.list('handoff')).toEqual([]);
    await expect(text(store.read('handoff', hash))).rejects.toThrow(/ENOENT/);
  });

  test('makes no path of anything but a hash', () => {
    for (const bad of ['../../etc/passwd', '', 'a'.repeat(63), `${'a'.repeat(63)}/`, 'G'.repeat(64)]) {
      expect(() => store.pathOf('original', bad)).toThrow(RangeError);
    }
  });

  test('clears what a killed server left behind when it begins', async () => {
    await writeFile(store.incoming(), 'half');
    expect(new DiskFileStore(root).incoming()).toContain('incoming');
    expect(await readdir(join(root, 'incoming'))).toEqual([]);
  });
});

describe('the configuration', () => {
  test('has defaults, and takes port, data folder and interface from the environment', () => {
    expect(readConfig({}, '/w.js')).toMatchObject({ port: 4317, webFolder: null, workerFile: '/w.js' });
    expect(readConfig({ PORT: '0', JUMBLE_DATA: '/d', JUMBLE_WEB: '/w' }, '/w.js')).toMatchObject({
      port: 0,
      dataFolder: '/d',
      webFolder: '/w',
    });
  });

  test.each(['tram', '-1', '65536', '80.5', 'NaN'])('refuses the port %s in words', (port) => {
    expect(() => readConfig({ PORT: port }, '/w.js')).toThrow(/PORT must be a whole number from 0 to 65535/);
  });
});

test('domain errors carry a status, a stable code and what to do', () => {
  const error = notFound('page');
  expect(error).toBeInstanceOf(DomainError);
  expect(error).toMatchObject({ status: 404, code: 'not-found', name: 'DomainError' });
  expect(error.message).toMatch(/go back to the desk/);
});
