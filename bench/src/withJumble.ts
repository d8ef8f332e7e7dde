import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Browser, type Page } from '@playwright/test';

const root = join(import.meta.dirname, '..', '..');

export interface RunningJumble {
  readonly address: string;
  readonly serverPid: number;
  readonly dataFolder: string;
  /** Queries of the reading connection until now; none are counted unless that was asked for. */
  queries(): number;
  /** A fresh page of 1280 x 800 px at an address, once its bench is ready. */
  open(url: string): Promise<Page>;
}

/** Runs the built server on data of its own and a browser, does some work, and takes both away again. */
export async function withJumble<T>(
  work: (jumble: RunningJumble) => Promise<T>,
  { countQueries = false } = {},
): Promise<T> {
  const dataFolder = mkdtempSync(join(tmpdir(), 'jumble-bench-'));
  const server = spawn(process.execPath, [join(root, 'apps', 'server', 'dist', 'main.js')], {
    env: {
      ...process.env,
      ...(countQueries ? { JUMBLE_LOG_QUERIES: '1' } : {}),
      PORT: '0',
      JUMBLE_DATA: dataFolder,
      JUMBLE_WEB: join(root, 'apps', 'web', 'dist'),
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let queries = 0;
  server.stdout.on('data', (chunk: Buffer) => (queries += chunk.toString().match(/^query: /gm)?.length ?? 0));
  let browser: Browser | null = null;
  try {
    browser = await chromium.launch({
      executablePath: process.env.JUMBLE_CHROMIUM ?? '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-dev-shm-usage'],
    });
    const started = browser;
    const address = await new Promise<string>((resolve) => {
      server.stdout.on('data', (chunk: Buffer) => {
        const match = /open at (http:\S+)/.exec(chunk.toString());
        if (match !== null) resolve(match[1]!);
      });
    });
    return await work({
      address,
      dataFolder,
      queries: () => queries,
      serverPid: server.pid!,
      async open(url) {
        const page = await (await started.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
        // The loader that runs these files wraps functions in a call that a page does not know.
        await page.addInitScript('globalThis.__name = (one) => one');
        await page.goto(url);
        await page.waitForFunction(() => window.jumbleBench?.state.phase === 'ready', undefined, { timeout: 120_000 });
        return page;
      },
    });
  } finally {
    await browser?.close();
    server.kill();
    rmSync(dataFolder, { recursive: true, force: true });
  }
}
