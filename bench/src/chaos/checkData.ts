import { createHash } from 'node:crypto';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import type { Acknowledged } from './Acknowledged.ts';

export interface Faults {
  /** Acknowledged and not there. */
  readonly lost: string[];
  /** Found by the database's own check, or steps that do not add up to their document's revision. */
  readonly broken: string[];
  /** Rows whose file is not there. */
  readonly missing: string[];
  /** Files that no row refers to. */
  readonly orphans: string[];
}

/** Every column that names a file, by the folder it lies in. */
const FILES: Readonly<Record<string, string>> = {
  original: 'SELECT file_hash FROM page UNION SELECT file_hash FROM page_ink',
  grey: `SELECT grey_hash FROM page UNION SELECT previous_grey_hash FROM page UNION SELECT full_grey_hash FROM page
    UNION SELECT grey_hash FROM page_ink UNION SELECT full_grey_hash FROM page_ink`,
  thumbnail: 'SELECT thumbnail_hash FROM page',
  cuts: 'SELECT cuts_hash FROM page',
  handoff: 'SELECT file_hash FROM handoff',
  package: 'SELECT file_hash FROM package',
  profile: 'SELECT file_hash FROM profile',
  reference: 'SELECT file_hash FROM reference_picture',
};

/** Looks for all that was acknowledged in a server that has just started, and at its folder. */
export async function checkData(address: string, dataFolder: string, acknowledged: Acknowledged): Promise<Faults> {
  const lost = await findLost(address, acknowledged);
  const database = new Database(join(dataFolder, 'jumble.sqlite'), { readonly: true, timeout: 5000 });
  try {
    const broken = checkDatabase(database);
    // The server draws pages meanwhile: files come and go with their rows, one moment after the other.
    let files = await compareFiles(database, dataFolder);
    for (let k = 0; k < 40 && files.missing.length + files.orphans.length > 0; k++) {
      await new Promise((resolve) => setTimeout(resolve, 250));
      files = await compareFiles(database, dataFolder);
    }
    return { lost, broken, ...files };
  } finally {
    database.close();
  }
}

async function findLost(address: string, acknowledged: Acknowledged): Promise<string[]> {
  const lost: string[] = [];
  const get = (path: string): Promise<Response> => fetch(`${address}/api/${path}`);
  for (const [pageId, hash] of acknowledged.pages) {
    const response = await get(`pages/${pageId}/file`);
    const found = createHash('sha256')
      .update(Buffer.from(await response.arrayBuffer()))
      .digest('hex');
    if (response.status !== 200 || found !== hash) lost.push(`original of page ${pageId} (${response.status})`);
  }
  for (const pageId of acknowledged.deletedPages) {
    const { status, body } = await get(`pages/${pageId}`);
    await body?.cancel();
    if (status !== 404) lost.push(`deletion of page ${pageId}`);
  }
  for (const [document, keys] of acknowledged.keys) {
    const response = await get(document.startsWith('pages/') ? `${document}/document` : document);
    const { records = [] } = (await response.json()) as { records?: [string, unknown][] };
    const there = new Set(records.map(([key]) => key));
    for (const key of keys) if (!there.has(key)) lost.push(`${key} of ${document}`);
  }
  for (const [jobId, parts] of acknowledged.parts) {
    const { records } = (await (await get(`jobs/${jobId}/cast`)).json()) as { records: [string, { name?: string }][] };
    const there = new Set(records.map(([, value]) => value?.name));
    for (const part of parts) if (!there.has(part)) lost.push(`${part} of job ${jobId}`);
  }
  for (const id of acknowledged.handoffs.keys()) {
    const response = await get(`packages/${id}/file`);
    if (response.status !== 200) lost.push(`hand-off ${id} (${response.status})`);
    await response.body?.cancel();
  }
  return lost;
}

function checkDatabase(database: Database.Database): string[] {
  const found = (database.pragma('integrity_check') as { integrity_check: string }[]).map((row) => row.integrity_check);
  const uneven = database
    .prepare(
      `SELECT page.id FROM page LEFT JOIN step ON step.scope = 'page' AND step.scope_id = page.id
        GROUP BY page.id HAVING COUNT(step.seq) <> page.revision OR COALESCE(MAX(step.revision), 0) <> page.revision`,
    )
    .pluck()
    .all() as string[];
  return [...found.filter((text) => text !== 'ok'), ...uneven.map((id) => `steps of page ${id}`)];
}

async function compareFiles(
  database: Database.Database,
  dataFolder: string,
): Promise<Pick<Faults, 'missing' | 'orphans'>> {
  const [missing, orphans]: [string[], string[]] = [[], []];
  for (const [kind, query] of Object.entries(FILES)) {
    const used = new Set((database.prepare(query).pluck().all() as (string | null)[]).filter((hash) => hash !== null));
    const entries = await readdir(join(dataFolder, kind), { recursive: true, withFileTypes: true }).catch(() => []);
    const there = new Set(entries.filter((entry) => entry.isFile()).map((entry) => entry.name));
    missing.push(...[...used].filter((hash) => !there.has(hash)).map((hash) => `${kind}/${hash}`));
    orphans.push(...[...there].filter((hash) => !used.has(hash)).map((hash) => `${kind}/${hash}`));
  }
  return { missing, orphans };
}
