import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { NestExpressApplication } from '@nestjs/platform-express';
import sharp from 'sharp';
import request from 'supertest';
import { createApp } from '../createApp.ts';

/** A real server on a port of its own, with real SQLite and real files. For tests. */
export interface TestServer {
  readonly app: NestExpressApplication;
  readonly dataFolder: string;
  readonly ask: ReturnType<typeof request>;
  /** Stops it; the data stays unless `clear`. */
  stop(clear?: boolean): Promise<void>;
}

export interface TestServerOptions {
  /** @default a fresh one */
  readonly dataFolder?: string;
  /** @default none */
  readonly scannerTray?: string;
  /** Folder of the interface. @default none: the server alone */
  readonly webFolder?: string;
}

export async function startServer(options: TestServerOptions = {}): Promise<TestServer> {
  const { scannerTray = null, webFolder = null } = options;
  const folder = options.dataFolder ?? (await mkdtemp(join(tmpdir(), 'jumble-server-')));
  const workerFile = join(import.meta.dirname, '..', 'workers', 'pageWorker.ts');
  const app = await createApp({ port: 0, dataFolder: folder, webFolder, scannerTray, workerFile });
  await app.listen(0, '127.0.0.1');
  return {
    app,
    dataFolder: folder,
    ask: request(await app.getUrl()),
    async stop(clear = true) {
      await app.close();
      if (clear) await rm(folder, { recursive: true, force: true });
    },
  };
}

/** A page of two boxes side by side in a frame: four regions, in reading order outside, left, right, below. */
export async function boxesPng(width = 120, height = 90): Promise<Buffer> {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><rect width="100%" height="100%" fill="#fff"/>
    <g fill="none" stroke="#000" stroke-width="4"><rect x="10" y="10" width="40" height="40"/><rect x="70" y="10" width="40" height="40"/><rect x="10" y="60" width="100" height="20"/></g></svg>`;
  return sharp(Buffer.from(svg)).png().withMetadata({ density: 300 }).toBuffer();
}

/** A job with one page of {@link boxesPng}. */
export async function jobWithPage({ ask }: TestServer): Promise<{ jobId: string; pageId: string }> {
  const job = await ask.post('/api/jobs').send({ name: 'Night tram' }).expect(201);
  const jobId = (job.body as { id: string }).id;
  const page = await ask
    .post(`/api/jobs/${jobId}/pages`)
    .attach('file', await boxesPng(), 'page 1.png')
    .expect(201);
  return { jobId, pageId: (page.body as { id: string }).id };
}
