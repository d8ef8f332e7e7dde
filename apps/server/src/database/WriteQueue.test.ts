import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { DataSource } from 'typeorm';
import { startServer, type TestServer } from '../tests/startServer.ts';
import { JobEntity } from './entities.ts';
import { WriteQueue } from './WriteQueue.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());

test('a write that fails takes none of those around it along', async () => {
  const queue = server.app.get(WriteQueue, { strict: false });
  const dataSource = server.app.get(DataSource, { strict: false });
  const insert = (k: number): Promise<unknown> =>
    queue.run(async (manager) => {
      const createdAt = new Date(2026, 0, 1, 0, 0, k).toISOString();
      await manager.insert(JobEntity, {
        id: `job${k}`,
        name: `Job ${k}`,
        dueOn: null,
        createdAt,
        castRevision: 0,
        palette: 'scene',
      });
      await new Promise((resolve) => setTimeout(resolve, k % 4));
      if (k % 3 === 1) throw new Error(`job ${k} fails on purpose`);
    });
  const outcomes = await Promise.allSettled(Array.from({ length: 60 }, (_, k) => insert(k)));
  const acknowledged = outcomes.flatMap(({ status }, k) => (status === 'fulfilled' ? [`job${k}`] : []));
  expect(acknowledged).toHaveLength(40);
  const stored = (await dataSource.manager.find(JobEntity)).map((job) => job.id);
  expect(stored.sort()).toEqual(acknowledged.sort());
});
