import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { cp, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { DataSource } from 'typeorm';
import { jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';
import { JobEntity } from './entities.ts';
import { WriteQueue } from './WriteQueue.ts';

let server: TestServer;
let queue: WriteQueue;
beforeEach(async () => {
  server = await startServer();
  queue = server.app.get(WriteQueue, { strict: false });
});
afterEach(async () => {
  jest.restoreAllMocks();
  await server.stop();
});

const insertJob = (id: string, name = `Job ${id}`): Promise<unknown> =>
  queue.run((manager) =>
    manager.insert(JobEntity, { id, name, dueOn: null, createdAt: new Date().toISOString(), castRevision: 0 }),
  );

/** The ids that a process would find that opens the folder after this one was killed now. */
async function jobsAfterKill(): Promise<string[]> {
  const copy = await mkdtemp(join(tmpdir(), 'jumble-killed-'));
  for (const name of ['jumble.sqlite', 'jumble.sqlite-wal']) {
    await cp(join(server.dataFolder, name), join(copy, name));
  }
  const database = new Database(join(copy, 'jumble.sqlite'));
  try {
    return database.prepare('SELECT id FROM job ORDER BY id').pluck().all() as string[];
  } finally {
    database.close();
    await rm(copy, { recursive: true });
  }
}

/** Statements run on the connections themselves that fail, with how they do. */
function failOn(statement: string, times: number, code: string, ends = false): void {
  const real = Database.prototype.exec;
  let left = times;
  jest.spyOn(Database.prototype, 'exec').mockImplementation(function (this: Database.Database, text: string) {
    if (text !== statement || left === 0) return real.call(this, text);
    left--;
    if (ends) real.call(this, 'ROLLBACK');
    throw Object.assign(new Error(`${statement} fails on purpose`), { code });
  });
}

describe('a write that fails', () => {
  test('takes none of those around it along', async () => {
    const insert = (k: number): Promise<unknown> =>
      queue.run(async (manager) => {
        const id = `job${k}`;
        await manager.insert(JobEntity, { id, name: id, dueOn: null, createdAt: '2026-01-01', castRevision: 0 });
        // Others are asked for while this one is open, the more the later it is.
        for (let turn = 0; turn < k % 4; turn++) await new Promise(setImmediate);
        if (k % 3 === 1) throw new Error(`job ${k} fails on purpose`);
      });
    const outcomes = await Promise.allSettled(Array.from({ length: 60 }, (_, k) => insert(k)));
    const acknowledged = outcomes.flatMap(({ status }, k) => (status === 'fulfilled' ? [`job${k}`] : []));
    expect(acknowledged).toHaveLength(40);
    expect(await jobsAfterKill()).toEqual(acknowledged.sort());
  });

  test('is seen by no reader, neither before nor after', async () => {
    const reader = server.app.get(DataSource, { strict: false }).manager;
    const seen: number[] = [];
    await expect(
      queue.run(async (manager) => {
        await manager.insert(JobEntity, { id: 'a', name: 'a', dueOn: null, createdAt: '2026-01-01', castRevision: 0 });
        seen.push(await manager.count(JobEntity), await reader.count(JobEntity));
        throw new Error('on purpose');
      }),
    ).rejects.toThrow('on purpose');
    seen.push(await reader.count(JobEntity));
    expect(seen).toEqual([1, 0, 0]);
    await expect(reader.delete(JobEntity, { id: 'a' })).rejects.toThrow(/readonly/);
  });

  test('for a full disk, several times in a row, loses nothing that is acknowledged later', async () => {
    await insertJob('a');
    // As large as the file may become: SQLite ends the transaction by itself when a statement meets it.
    const limit = (pages: number) => queue.run((manager) => manager.query(`PRAGMA max_page_count = ${pages}`));
    await limit(1);
    for (let k = 0; k < 3; k++) {
      await expect(insertJob(`full${k}`, 'x'.repeat(2_000_000))).rejects.toMatchObject({ code: 'SQLITE_FULL' });
      // One that SQLite leaves open: it is there already.
      await expect(insertJob('a')).rejects.toMatchObject({ code: 'SQLITE_CONSTRAINT_PRIMARYKEY' });
    }
    await limit(1_000_000);
    for (const id of ['b', 'c', 'd']) await insertJob(id);
    expect(await jobsAfterKill()).toEqual(['a', 'b', 'c', 'd']);
  });

  test.each([
    ['COMMIT', false],
    ['COMMIT', true],
    ['BEGIN IMMEDIATE', false],
  ])('in %s (the transaction ended by itself: %s) twice in a row loses nothing later', async (statement, ends) => {
    await insertJob('a');
    failOn(statement, 2, 'SQLITE_IOERR_FSYNC', ends);
    await expect(insertJob('b')).rejects.toMatchObject({ code: 'SQLITE_IOERR_FSYNC' });
    await expect(insertJob('c')).rejects.toMatchObject({ code: 'SQLITE_IOERR_FSYNC' });
    await insertJob('d');
    await insertJob('e');
    expect(await jobsAfterKill()).toEqual(['a', 'd', 'e']);
  });

  test('and cannot be rolled back gives its connection up, and the next has a fresh one', async () => {
    failOn('ROLLBACK', 2, 'SQLITE_IOERR');
    for (const id of ['a', 'b']) {
      const failing = queue.run(async (manager) => {
        await manager.insert(JobEntity, { id, name: id, dueOn: null, createdAt: '2026-01-01', castRevision: 0 });
        throw new Error('on purpose');
      });
      await expect(failing).rejects.toThrow('on purpose');
    }
    await insertJob('c');
    expect(await jobsAfterKill()).toEqual(['c']);
  });

  test('is refused when what it was written in has ended, even if the work did not notice', async () => {
    await expect(
      queue.run(async (manager) => {
        await manager.query('ROLLBACK');
        await manager.query('SELECT 1');
      }),
    ).rejects.toThrow(/ended before it was committed/);
    await insertJob('a');
    expect(await jobsAfterKill()).toEqual(['a']);
  });
});

test('while another program holds the database writes say so, reads are answered, and later all is well', async () => {
  const { pageId, jobId } = await jobWithPage(server);
  const other = new Database(join(server.dataFolder, 'jumble.sqlite'), { timeout: 5000 });
  other.exec('BEGIN IMMEDIATE');
  const started = performance.now();
  const refused = server.ask.patch(`/api/pages/${pageId}`).send({ name: 'Depot' }).expect(503);
  const [answer] = await Promise.all([refused, server.ask.get(`/api/jobs/${jobId}`).expect(200)]);
  expect(answer.body).toMatchObject({ code: 'database-locked', detail: expect.stringMatching(/close that program/) });
  expect(performance.now() - started).toBeLessThan(4000);
  other.exec('ROLLBACK');
  other.close();
  await server.ask.patch(`/api/pages/${pageId}`).send({ name: 'Depot' }).expect(200);
});
