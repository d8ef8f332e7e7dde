import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import type { PageView, UpdatePageDto } from '@jumble/contracts';
import { PageFileError } from '@jumble/raster-io';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { HandoffEntity, JobEntity, PageEntity, StepEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { DomainError, notFound } from '../errors/DomainError.ts';
import { FILE_STORE, type FileStore } from '../storage/FileStore.ts';
import type { DecodeResult } from '../workers/tasks.ts';
import { WorkerPool } from '../workers/WorkerPool.ts';
import { DrawQueue } from './DrawQueue.ts';
import { pageView } from './pageView.ts';

/** A file that has arrived whole, outside the store. */
export interface ArrivedFile {
  readonly path: string;
  readonly name: string;
}

/** What a file says of itself, once it is in the store. */
type StoredFile = DecodeResult & { fileHash: string; greyHash: string; fileName: string };

@Injectable()
export class PagesService {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(DrawQueue) private readonly drawQueue: DrawQueue,
    @Inject(FILE_STORE) private readonly files: FileStore,
  ) {}

  async find(id: string): Promise<PageEntity> {
    const page = await this.dataSource.manager.findOneBy(PageEntity, { id });
    if (page === null) throw notFound('page');
    return page;
  }

  /** Adds a page at the end of a job. @throws PageFileError when the file is no page. */
  async add(jobId: string, file: ArrivedFile, dpi: number | null): Promise<PageView> {
    if (!(await this.dataSource.manager.existsBy(JobEntity, { id: jobId }))) throw notFound('job');
    const stored = await this.store(file);
    const id = randomUUID();
    await this.queue.run(async (manager) => {
      const { last } = (await manager
        .createQueryBuilder(PageEntity, 'page')
        .select('MAX(page.position)', 'last')
        .where('page.job_id = :jobId', { jobId })
        .getRawOne<{ last: number | null }>()) ?? { last: null };
      await manager.insert(PageEntity, {
        id,
        jobId,
        name: stored.fileName.replace(/\.[^.]*$/, '').slice(0, 120) || 'Page',
        position: (last ?? -1) + 1,
        ...stored,
        dpi: stored.dpi ?? dpi,
        revision: 0,
        drawnState: '',
        regionCount: 0,
        filledCount: 0,
        thumbnailHash: null,
      });
    });
    await this.drawQueue.draw(id);
    return pageView(await this.find(id));
  }

  /** Puts a revised file under a page; its fills stay. */
  async replace(pageId: string, file: ArrivedFile): Promise<PageView> {
    const before = await this.find(pageId);
    const stored = await this.store(file);
    await this.queue.run(async (manager) => {
      await manager.update(PageEntity, { id: pageId }, { ...stored, dpi: stored.dpi ?? before.dpi, drawnState: '' });
    });
    await this.removeUnused([before]);
    await this.drawQueue.draw(pageId);
    return pageView(await this.find(pageId));
  }

  async update(pageId: string, change: UpdatePageDto): Promise<PageView> {
    const page = await this.find(pageId);
    await this.queue.run((manager) =>
      manager.update(
        PageEntity,
        { id: pageId },
        { name: change.name === undefined ? page.name : change.name.trim(), dpi: change.dpi ?? page.dpi },
      ),
    );
    return pageView(await this.find(pageId));
  }

  async remove(pageId: string): Promise<void> {
    const page = await this.find(pageId);
    await this.removePages([page]);
  }

  /** Deletes pages with their logs; files go once nothing refers to them. */
  async removePages(pages: readonly PageEntity[]): Promise<void> {
    const handoffs: HandoffEntity[] = [];
    await this.queue.run(async (manager) => {
      for (const page of pages) {
        handoffs.push(...(await manager.findBy(HandoffEntity, { pageId: page.id })));
        await manager.delete(StepEntity, { scope: 'page', scopeId: page.id });
        await manager.delete(PageEntity, { id: page.id });
      }
    });
    await this.removeUnused(pages);
    for (const { fileHash } of handoffs) {
      if (fileHash !== null && !(await this.dataSource.manager.existsBy(HandoffEntity, { fileHash }))) {
        await this.files.remove('handoff', fileHash);
      }
    }
  }

  /** Puts the pages of a job in a new order. */
  async order(jobId: string, pageIds: readonly string[]): Promise<void> {
    await this.queue.run(async (manager) => {
      const pages = await manager.findBy(PageEntity, { jobId });
      const known = new Set(pages.map((page) => page.id));
      if (pageIds.length !== pages.length || pageIds.some((id) => !known.has(id))) {
        throw new DomainError(
          409,
          'stale-order',
          'Pages were added or deleted meanwhile. The order is as it was; reload and move the page again.',
        );
      }
      for (const [position, id] of pageIds.entries()) await manager.update(PageEntity, { id }, { position });
    });
  }

  /** Original byte for byte and grey raster into the store; a file that is no page leaves nothing behind. */
  private async store(file: ArrivedFile): Promise<StoredFile> {
    const greyTarget = this.files.incoming();
    try {
      const answer = await this.pool.run({ kind: 'decode', path: file.path, greyTarget });
      if ('fault' in answer) throw new PageFileError(answer.fault, answer.message);
      const facts = answer.page;
      const grey = await this.files.adopt('grey', greyTarget);
      const original = await this.files.adopt('original', file.path);
      return { ...facts, greyHash: grey.hash, fileHash: original.hash, fileName: file.name };
    } catch (error) {
      await rm(greyTarget, { force: true });
      throw error;
    }
  }

  private async removeUnused(pages: readonly PageEntity[]): Promise<void> {
    const { manager } = this.dataSource;
    for (const { fileHash, greyHash, thumbnailHash } of pages) {
      if (!(await manager.existsBy(PageEntity, { fileHash }))) await this.files.remove('original', fileHash);
      if (!(await manager.existsBy(PageEntity, { greyHash }))) await this.files.remove('grey', greyHash);
      if (thumbnailHash !== null && !(await manager.existsBy(PageEntity, { thumbnailHash }))) {
        await this.files.remove('thumbnail', thumbnailHash);
      }
    }
  }
}
