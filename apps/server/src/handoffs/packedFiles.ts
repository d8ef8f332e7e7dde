import { readCastSheet, type DeliveryRule } from '@jumble/core';
import type { CastState } from '../cast/CastSheets.ts';
import type { HandoffEntity, JobEntity, PackageEntity } from '../database/entities.ts';
import type { FileStore } from '../storage/FileStore.ts';
import type { PackedFile } from '../workers/tasks.ts';
import type { WorkerPool } from '../workers/WorkerPool.ts';

interface Packing {
  readonly pack: PackageEntity;
  readonly job: JobEntity;
  readonly rows: readonly HandoffEntity[];
  readonly cast: CastState;
  readonly rule: DeliveryRule;
  /** What is said of each page. */
  readonly texts: readonly string[];
  readonly files: FileStore;
  readonly pool: WorkerPool;
}

const PALETTES = [
  ['csv', 'palette.csv'],
  ['json', 'palette.json'],
  ['tokens', 'palette.tokens.json'],
] as const;

/** What goes into the archive of a package: its pages, what is said of them, and the palette. */
export async function packedFiles({ pack, job, rows, cast, rule, texts, files, pool }: Packing): Promise<PackedFile[]> {
  const pages = rows.flatMap(({ fileHash, fileName }): PackedFile[] => {
    if (fileHash === null) return [];
    const isFolder = rule.format === 'folder';
    return [{ name: isFolder ? fileName.replace(/\.zip$/, '') : fileName, path: files.pathOf('handoff', fileHash), isFolder }]; // prettier-ignore
  });
  const text = [
    `${job.name}: ${rule.name}`,
    `Packed ${pack.createdAt.slice(0, 16).replace('T', ' ')} UTC`,
    pack.palette === 'scratch' ? 'Scratch colours' : 'Real colours',
    '',
    ...texts,
    '',
  ].join('\n');
  const sheet = readCastSheet(cast.records);
  const palettes: PackedFile[] = [];
  for (const [format, name] of PALETTES)
    palettes.push({ name, bytes: await pool.run({ kind: 'castFile', format, title: job.name, sheet }) });
  return [...pages, { name: 'contents.txt', bytes: new TextEncoder().encode(text) }, ...palettes];
}
