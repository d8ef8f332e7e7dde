import { rm } from 'node:fs/promises';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import type { EntityManager, EntityTarget, ObjectLiteral } from 'typeorm';
import {
  ForeignCheckEntity,
  HandoffEntity,
  PackageEntity,
  PageEntity,
  PageInkEntity,
  ProfileEntity,
  ReferencePictureEntity,
  ReturnedFileEntity,
} from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { FILE_KINDS, FILE_STORE, type FileKind, type FileName, type FileStore, type StagedFile } from './FileStore.ts';

/** Every column that refers to a stored file: a file that none of them names is nobody's. */
const REFERENCES: Readonly<Record<FileKind, readonly (readonly [EntityTarget<ObjectLiteral>, string])[]>> = {
  original: [
    [PageEntity, 'fileHash'],
    [PageInkEntity, 'fileHash'],
  ],
  grey: [
    [PageEntity, 'greyHash'],
    [PageEntity, 'previousGreyHash'],
    [PageEntity, 'fullGreyHash'],
    [PageInkEntity, 'greyHash'],
    [PageInkEntity, 'fullGreyHash'],
  ],
  thumbnail: [[PageEntity, 'thumbnailHash']],
  cuts: [[PageEntity, 'cutsHash']],
  handoff: [[HandoffEntity, 'fileHash']],
  package: [[PackageEntity, 'fileHash']],
  profile: [[ProfileEntity, 'fileHash']],
  returned: [[ReturnedFileEntity, 'fileHash']],
  foreign: [
    [ForeignCheckEntity, 'inkHash'],
    [ForeignCheckEntity, 'flatsHash'],
    [ForeignCheckEntity, 'pictureHash'],
  ],
  reference: [[ReferencePictureEntity, 'fileHash']],
};

/**
 * Keeps files and the rows that refer to them together. Two pages may have the same bytes, so a file is moved
 * into place in the same turn of the write queue as its row, and looked after and removed in one turn, too:
 * between the two nothing else is written.
 */
@Injectable()
export class StoredFiles implements OnApplicationBootstrap {
  private readonly logger = new Logger('Files');

  constructor(
    @Inject(WriteQueue) private readonly queue: WriteQueue,
    @Inject(FILE_STORE) private readonly files: FileStore,
  ) {}

  /** What a server that was killed placed or left without a row goes before anything else happens. */
  async onApplicationBootstrap(): Promise<void> {
    await this.sweep();
  }

  /** Writes rows together with the staged files they refer to: both are there afterwards, or neither. */
  async keep<T>(staged: readonly StagedFile[], write: (manager: EntityManager) => Promise<T>): Promise<T> {
    try {
      return await this.queue.run(async (manager) => {
        const result = await write(manager);
        for (const file of staged) await this.files.place(file);
        return result;
      });
    } catch (error) {
      for (const { path } of staged) await rm(path, { force: true }).catch(() => undefined);
      // They may lie in their place although their rows were not stored.
      await this.release(staged);
      throw error;
    }
  }

  /** Removes those of the files that nothing refers to any more. What fails here goes at the next start. */
  async release(names: readonly FileName[]): Promise<void> {
    if (names.length === 0) return;
    try {
      await this.queue.run(async (manager) => {
        for (const { kind, hash } of names) {
          if (!(await isReferenced(manager, kind, hash))) await this.files.remove(kind, hash);
        }
      });
    } catch (error) {
      this.logger.warn(`Files nobody needs were left until the next start: ${String(error)}`);
    }
  }

  /** Removes every file that no row refers to. @returns how many. */
  sweep(): Promise<number> {
    return this.queue.run(async (manager) => {
      let removed = 0;
      for (const kind of FILE_KINDS) {
        const used = await referencedHashes(manager, kind);
        for (const hash of await this.files.list(kind)) {
          if (used.has(hash)) continue;
          await this.files.remove(kind, hash);
          removed++;
        }
      }
      return removed;
    });
  }
}

async function isReferenced(manager: EntityManager, kind: FileKind, hash: string): Promise<boolean> {
  for (const [entity, column] of REFERENCES[kind]) {
    if (await manager.existsBy(entity, { [column]: hash })) return true;
  }
  return false;
}

/** The hashes of all files of a kind that rows refer to. */
export async function referencedHashes(manager: EntityManager, kind: FileKind): Promise<Set<string>> {
  const used = new Set<string>();
  for (const [entity, column] of REFERENCES[kind]) {
    const rows = await manager
      .createQueryBuilder(entity, 'row')
      .select(`DISTINCT row.${column}`, 'hash')
      .where(`row.${column} IS NOT NULL`)
      .getRawMany<{ hash: string }>();
    for (const { hash } of rows) used.add(hash);
  }
  return used;
}
