import { execFileSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as delay } from 'node:timers/promises';
import sharp from 'sharp';
import type { Row } from '../printTable.ts';
import { Acknowledged } from './Acknowledged.ts';
import { ChaosClient, uploadOf, type Upload } from './ChaosClient.ts';
import { ChaosServer } from './ChaosServer.ts';
import { checkData, type Faults } from './checkData.ts';

/** Kills while two clients work; of the other kinds a fifth of it each. */
const KILLS = 200;
const DISK_MB = 40;

interface Tally {
  rounds: number;
  steps: number;
  others: number;
  failures: number;
  odd: number;
  readonly faults: Record<keyof Faults, number>;
}

/** Kills, full disks and failing disks while two clients work: nothing that was acknowledged may be lost. */
export async function measureChaos(): Promise<{ title: string; rows: Row[] }> {
  const kills = Number(process.argv[3] ?? KILLS);
  const few = Math.max(1, Math.round(kills / 5));
  const rows: Row[] = [];
  const report = (what: string, { rounds, steps, others, failures, odd, faults }: Tally): void => {
    const { lost, broken, missing, orphans } = faults;
    const tries = `${rounds} kills; ${steps} steps, ${others} other things acknowledged`;
    rows.push(
      { what: `${what}: acknowledged and lost`, value: lost, unit: '', target: { most: 0 }, note: tries },
      { what: `${what}: faults in the database`, value: broken, unit: '', target: { most: 0 } },
      { what: `${what}: files missing, files left over`, value: missing + orphans, unit: '', target: { most: 0 } },
      {
        what: `${what}: answers that say nothing (500)`,
        value: odd,
        unit: '',
        target: { most: 0 },
        ...(failures > 0 ? { note: `${failures} failures on purpose` } : {}),
      },
    );
  };
  report('killed at work', await inFolder((folder) => chaos(folder, kills, killedAtWork)));
  report('failing disk', await inFolder((folder) => chaos(folder, few, failingDisk)));
  const onSmallDisk = await withSmallDisk((folder) => chaos(folder, few, fullDisk(folder)));
  if (onSmallDisk === null)
    process.stderr.write('bench: a small disk cannot be mounted here; "full disk" was left out.\n');
  else report('full disk', onSmallDisk);
  return { title: 'What is acknowledged is kept', rows };
}

/** What happens to a server while it is worked with, until the moment it is killed. @returns failures on purpose */
type Trouble = (server: ChaosServer, random: () => number) => Promise<number>;

const killedAtWork: Trouble = async (_server, random) => {
  await delay(100 + 3500 * random() ** 2);
  return 0;
};

const failingDisk: Trouble = async (server, random) => {
  await delay(150);
  await server.failBy(0.02 + 0.3 * random());
  await delay(300 + 900 * random());
  const failures = await server.failBy(0);
  // What is acknowledged now is what was lost once.
  await delay(200 + 500 * random());
  return failures;
};

function fullDisk(folder: string): Trouble {
  const ballast = join(folder, '..', 'ballast');
  return async (_server, random) => {
    await delay(200);
    fill(ballast);
    await delay(500 + 900 * random());
    rmSync(ballast);
    await delay(300 + 600 * random());
    return 0;
  };
}

/** Writes a file until the disk takes no more: the server, which writes too, leaves a little or nothing. */
function fill(path: string): void {
  const file = openSync(path, 'w');
  try {
    for (;;) writeSync(file, Buffer.alloc(64 * 1024));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOSPC') throw error;
  } finally {
    closeSync(file);
  }
}

async function chaos(folder: string, rounds: number, trouble: Trouble): Promise<Tally> {
  const random = randomOf(rounds);
  const acknowledged = new Acknowledged();
  const tally: Tally = {
    rounds: 0,
    steps: 0,
    others: 0,
    failures: 0,
    odd: 0,
    faults: { lost: 0, broken: 0, missing: 0, orphans: 0 },
  };
  let server = await ChaosServer.start(folder);
  try {
    const clients = await setUp(server, acknowledged, random);
    for (let round = 0; round < rounds; round++) {
      const working = clients.map((client) => client.work(server.address));
      tally.failures += await trouble(server, random);
      if (!server.isRunning) throw new Error('The server ended by itself.');
      await server.kill();
      clients.forEach((client) => client.stop());
      await Promise.all(working);
      server = await ChaosServer.start(folder);
      const faults = await checkData(server.address, folder, acknowledged);
      for (const kind of ['lost', 'broken', 'missing', 'orphans'] as const) {
        tally.faults[kind] += faults[kind].length;
        const some = faults[kind].slice(0, 5).join('; ');
        if (some !== '') process.stderr.write(`bench: round ${round}, ${kind}: ${some}\n`);
      }
      tally.rounds++;
    }
    const odd = clients.flatMap((client) => client.odd);
    if (odd.length > 0) process.stderr.write(`bench: ${odd.slice(0, 5).join('\n')}\n`);
    return { ...tally, steps: acknowledged.steps, others: acknowledged.others, odd: odd.length };
  } finally {
    await server.kill();
  }
}

async function setUp(server: ChaosServer, acknowledged: Acknowledged, random: () => number): Promise<ChaosClient[]> {
  const uploads = await Promise.all([0, 1, 2, 3, 4].map(drawing));
  const newJob = async (name: string): Promise<string> => {
    const headers = { 'Content-Type': 'application/json' };
    const answer = await fetch(`${server.address}/api/jobs`, {
      method: 'POST',
      headers,
      body: JSON.stringify({ name }),
    });
    return ((await answer.json()) as { id: string }).id;
  };
  const jobs = [await newJob('Night tram'), await newJob('Root tunnels')];
  const form = new FormData();
  form.append('file', new Blob([uploads[0]!.bytes as BlobPart]), 'shared.png');
  const page = await fetch(`${server.address}/api/jobs/${jobs[0]}/pages`, { method: 'POST', body: form });
  const { id } = (await page.json()) as { id: string };
  acknowledged.pages.set(id, uploads[0]!.hash);
  return jobs.map((jobId, k) => new ChaosClient('ab'[k]!, jobId, id, uploads, acknowledged, random));
}

/** All of one size, so that a page takes any of them as a further ink file. */
async function drawing(k: number): Promise<Upload> {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="240" height="160"><rect width="100%" height="100%" fill="#fff"/>
    <g fill="none" stroke="#000" stroke-width="4"><rect x="${10 + 3 * k}" y="10" width="80" height="60"/><circle cx="160" cy="${60 + 5 * k}" r="40"/></g></svg>`;
  return uploadOf(await sharp(Buffer.from(svg)).png().toBuffer());
}

async function inFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = mkdtempSync(join(tmpdir(), 'jumble-chaos-'));
  try {
    return await work(folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Works in a folder on a disk of its own; null where none can be mounted. */
function withSmallDisk<T>(work: (folder: string) => Promise<T>): Promise<T | null> {
  return inFolder(async (disk) => {
    try {
      execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${DISK_MB}m`, 'tmpfs', disk], { stdio: 'ignore' });
    } catch {
      return null;
    }
    try {
      return await work(join(disk, 'data'));
    } finally {
      execFileSync('umount', [disk]);
    }
  });
}

/** The same numbers each time; what happens when is still the machine's. */
function randomOf(seed: number): () => number {
  let state = seed + 1;
  return () => (state = (state * 16_807) % 2_147_483_647) / 2_147_483_647;
}
