import { randomUUID } from 'node:crypto';
import type { ReferencePictureView } from '@jumble/contracts';
import { decodeReference } from '@jumble/raster-io';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource, type EntityManager } from 'typeorm';
import { JobEntity, ReferencePictureEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { DomainError, notFound } from '../errors/DomainError.ts';
import type { ArrivedFile } from '../uploads/receivePageFile.ts';
import { FILE_STORE, type FileStore } from '../storage/FileStore.ts';
import { StoredFiles } from '../storage/StoredFiles.ts';

/** A job keeps so many pictures beside its cast sheet. */
const MOST_PICTURES = 60;

/** Pictures beside the cast sheet: model sheets, photographs, the colourist's sketches. */
@Injectable()
export class ReferencePictures {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
    @Inject(FILE_STORE) private readonly files: FileStore,
    @Inject(StoredFiles) private readonly stored: StoredFiles,
  ) {}

  async list(jobId: string): Promise<ReferencePictureView[]> {
    const rows = await this.dataSource.manager.find(ReferencePictureEntity, {
      where: { jobId },
      order: { createdAt: 'ASC', id: 'ASC' },
    });
    return rows.map(({ id, name, width, height }) => ({ id, name, width, height }));
  }

  /** Takes a picture in. @throws PageFileError for a file that is none, DomainError 422 when there are too many. */
  async add(jobId: string, { path, name }: ArrivedFile): Promise<ReferencePictureView> {
    await mustHaveJob(this.dataSource.manager, jobId);
    const { png, width, height } = await decodeReference(path);
    const staged = await this.files.stageBytes('reference', png);
    const row = {
      id: randomUUID(),
      jobId,
      name: name.replace(/\.[a-z]{3,4}$/i, ''),
      fileHash: staged.hash,
      width,
      height,
      createdAt: new Date().toISOString(),
    };
    let kept: Pick<ReferencePictureEntity, 'id' | 'name'> = row;
    await this.stored.keep([staged], async (transaction) => {
      await mustHaveJob(transaction, jobId);
      // The same picture stands once among the references, under the name it came with first.
      const same = await transaction.findOneBy(ReferencePictureEntity, { jobId, fileHash: staged.hash });
      if (same !== null) {
        kept = same;
        return;
      }
      if ((await transaction.countBy(ReferencePictureEntity, { jobId })) >= MOST_PICTURES) {
        throw new DomainError(
          422,
          'too-many-pictures',
          `A job keeps at most ${MOST_PICTURES} reference pictures. Take one away first.`,
        );
      }
      await transaction.insert(ReferencePictureEntity, row);
    });
    return { id: kept.id, name: kept.name, width, height };
  }

  /** Where a picture lies. */
  async file(id: string): Promise<string> {
    return this.files.pathOf('reference', (await this.find(id)).fileHash);
  }

  async remove(id: string): Promise<void> {
    const { fileHash } = await this.find(id);
    await this.queue.run((transaction) => transaction.delete(ReferencePictureEntity, { id }));
    // Two jobs may keep the same picture: the file goes with the last that has it.
    await this.stored.release([{ kind: 'reference', hash: fileHash }]);
  }

  private async find(id: string): Promise<ReferencePictureEntity> {
    const row = await this.dataSource.manager.findOneBy(ReferencePictureEntity, { id });
    if (row === null) throw notFound('picture');
    return row;
  }
}

async function mustHaveJob(manager: EntityManager, jobId: string): Promise<void> {
  if (!(await manager.existsBy(JobEntity, { id: jobId }))) throw notFound('job');
}
