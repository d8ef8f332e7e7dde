import { randomUUID } from 'node:crypto';
import { basename, extname } from 'node:path';
import type { ProfileView } from '@jumble/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { JobEntity, ProfileEntity } from '../database/entities.ts';
import { DomainError, notFound } from '../errors/DomainError.ts';
import { FILE_STORE, type FileStore } from '../storage/FileStore.ts';
import { StoredFiles } from '../storage/StoredFiles.ts';
import type { ArrivedFile } from '../uploads/receivePageFile.ts';
import { WorkerPool } from '../workers/WorkerPool.ts';

/** Most profiles of a job. */
const MOST_PROFILES = 20;

/** The ICC profiles of printers that a job is delivered for. */
@Injectable()
export class Profiles {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(FILE_STORE) private readonly files: FileStore,
    @Inject(StoredFiles) private readonly stored: StoredFiles,
  ) {}

  async list(jobId: string): Promise<ProfileView[]> {
    const rows = await this.dataSource.manager.find(ProfileEntity, { where: { jobId }, order: { createdAt: 'ASC' } });
    return rows.map(({ id, name }) => ({ id, name }));
  }

  /** @throws DomainError 400 for a file that is no profile of a printer. */
  async add(jobId: string, file: ArrivedFile): Promise<ProfileView> {
    const answer = await this.pool.run({ kind: 'inks', rgb: [0], profilePath: file.path });
    if ('fault' in answer) throw new DomainError(400, 'no-profile', `${answer.fault} Nothing was stored.`);
    const staged = await this.files.stage('profile', file.path);
    const row: ProfileEntity = {
      id: randomUUID(),
      jobId,
      name: basename(file.name, extname(file.name)).slice(0, 80) || 'Profile',
      fileHash: staged.hash,
      createdAt: new Date().toISOString(),
    };
    await this.stored.keep([staged], async (manager) => {
      if (!(await manager.existsBy(JobEntity, { id: jobId }))) throw notFound('job');
      if ((await manager.countBy(ProfileEntity, { jobId })) >= MOST_PROFILES)
        throw new DomainError(409, 'too-many-profiles', `A job has at most ${MOST_PROFILES} profiles.`);
      await manager.insert(ProfileEntity, row);
    });
    return { id: row.id, name: row.name };
  }

  /** Where the file of a profile lies; null for the generic one. @throws DomainError 400 for one that is gone. */
  async pathOf(id: string | null): Promise<string | null> {
    if (id === null) return null;
    const row = await this.dataSource.manager.findOneBy(ProfileEntity, { id });
    if (row === null)
      throw new DomainError(400, 'no-profile', 'The profile of this rule is not there any more. Choose another.');
    return this.files.pathOf('profile', row.fileHash);
  }

  /** How much ink colours take, in percent each of cyan, magenta, yellow and black. */
  async inks(rgb: readonly number[], id: string | null): Promise<readonly (readonly number[])[]> {
    const answer = await this.pool.run({ kind: 'inks', rgb, profilePath: await this.pathOf(id) });
    if ('fault' in answer) throw new DomainError(400, 'no-profile', answer.fault);
    return answer.inks;
  }
}
