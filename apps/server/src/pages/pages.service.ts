import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import type { PageView, UpdatePageDto } from '@jumble/contracts';
import { LARGE_PAGE_PX } from '@jumble/core';
import { PageFileError } from '@jumble/raster-io';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { HandoffEntity, JobEntity, PageEntity, PageInkEntity, StepEntity } from '../database/entities.ts';
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
        previousGreyHash: null,
        fullGreyHash: null,
        fullWidth: null,
        fullHeight: null,
      });
    });
    await this.drawQueue.draw(id);
    return pageView(await this.find(id));
  }

  /**
   * Works on a large page at half its size from now on; what is handed off has the whole.
   *
   * @throws DomainError 409 when something was decided on it already, or it is not large.
   */
  async halve(pageId: string): Promise<PageView> {
    const page = await this.find(pageId);
    if (page.fullGreyHash !== null || page.width * page.height <= LARGE_PAGE_PX) {
      throw new DomainError(409, 'not-large', 'This page is worked on at a good size already.');
    }
    if (page.revision > 0 || page.inks.length > 0) {
      throw new DomainError(
        409,
        'page-begun',
        'Something was done on this page already, at its full size. Add the file again to work at half of it.',
      );
    }
    const half = await this.halved(page);
    await this.queue.run(async (manager) => {
      const latest = await manager.findOneByOrFail(PageEntity, { id: pageId });
      if (latest.revision > 0 || latest.greyHash !== page.greyHash) {
        throw new DomainError(409, 'page-begun', 'The page was changed meanwhile. It is as it was.');
      }
      await manager.update(
        PageEntity,
        { id: pageId },
        { ...half, dpi: page.dpi === null ? null : page.dpi / 2, drawnState: '', previousGreyHash: null },
      );
    });
    await this.drawQueue.draw(pageId);
    return pageView(await this.find(pageId));
  }

  /** Puts a raster at half the size into the store. */
  private async halved({ greyHash, width, height }: Pick<StoredFile, 'greyHash' | 'width' | 'height'>): Promise<{
    greyHash: string;
    width: number;
    height: number;
    fullGreyHash: string;
    fullWidth: number;
    fullHeight: number;
  }> {
    const target = this.files.incoming();
    try {
      const size = await this.pool.run({
        kind: 'halve',
        greyPath: this.files.pathOf('grey', greyHash),
        width,
        height,
        target,
      });
      const { hash } = await this.files.adopt('grey', target);
      return { ...size, greyHash: hash, fullGreyHash: greyHash, fullWidth: width, fullHeight: height };
    } catch (error) {
      await rm(target, { force: true });
      throw error;
    }
  }

  /** Puts a revised file under a page; its fills stay, and the raster before it, to show what changed. */
  async replace(pageId: string, file: ArrivedFile): Promise<PageView> {
    const before = await this.find(pageId);
    const whole = await this.store(file);
    // A page that is worked on at half size stays so.
    const stored =
      before.fullGreyHash === null
        ? { ...whole, fullGreyHash: null, fullWidth: null, fullHeight: null }
        : { ...whole, ...(await this.halved(whole)), dpi: whole.dpi === null ? null : whole.dpi / 2 };
    const sameSize = stored.width === before.width && stored.height === before.height;
    if (!sameSize && before.inks.length > 0) {
      await this.removeUnused([{ ...before, ...stored, thumbnailHash: null, previousGreyHash: null, inks: [] }]);
      throw sizeMismatch(before, stored);
    }
    await this.queue.run(async (manager) => {
      await manager.update(
        PageEntity,
        { id: pageId },
        {
          ...stored,
          dpi: stored.dpi ?? before.dpi,
          drawnState: '',
          previousGreyHash: sameSize && stored.greyHash !== before.greyHash ? before.greyHash : null,
        },
      );
    });
    await this.removeUnused([before]);
    await this.drawQueue.draw(pageId);
    return pageView(await this.find(pageId));
  }

  /** The changes of a revision are settled: the raster before it is let go. */
  async settleRevision(pageId: string): Promise<PageView> {
    const before = await this.find(pageId);
    await this.queue.run((manager) => manager.update(PageEntity, { id: pageId }, { previousGreyHash: null }));
    await this.removeUnused([before]);
    return pageView(await this.find(pageId));
  }

  /** Adds a further ink file. @throws DomainError 409 when it has another size than the page. */
  async addInk(pageId: string, file: ArrivedFile): Promise<PageView> {
    const page = await this.find(pageId);
    if (page.inks.length >= MOST_INKS) {
      throw new DomainError(
        409,
        'too-many-inks',
        `A page has at most ${MOST_INKS} further ink files. Remove one first.`,
      );
    }
    const stored = await this.store(file);
    const { fileName, fileHash, format, mode } = stored;
    const { greyHash, width, height, fullGreyHash } =
      page.fullGreyHash === null ? { ...stored, fullGreyHash: null } : await this.halved(stored);
    const ink = { id: randomUUID(), pageId, fileName, fileHash, greyHash, fullGreyHash, format, mode };
    if (width !== page.width || height !== page.height) {
      await this.removeFiles([fileHash], fullGreyHash === null ? [greyHash] : [greyHash, fullGreyHash]);
      throw sizeMismatch(page, { width, height });
    }
    await this.queue.run(async (manager) => {
      await manager.insert(PageInkEntity, { ...ink, createdAt: new Date().toISOString() });
      await manager.update(PageEntity, { id: pageId }, { drawnState: '' });
    });
    this.drawQueue.pageChanged(pageId);
    return pageView(await this.find(pageId));
  }

  async removeInk(pageId: string, inkId: string): Promise<PageView> {
    const page = await this.find(pageId);
    const ink = page.inks.find((one) => one.id === inkId);
    if (ink === undefined) throw notFound('ink file');
    await this.queue.run(async (manager) => {
      await manager.delete(PageInkEntity, { id: inkId });
      await manager.update(PageEntity, { id: pageId }, { drawnState: '' });
    });
    await this.removeFiles(
      [ink.fileHash],
      ink.fullGreyHash === null ? [ink.greyHash] : [ink.greyHash, ink.fullGreyHash],
    );
    this.drawQueue.pageChanged(pageId);
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
    for (const { fileHash, greyHash, fullGreyHash, previousGreyHash, inks, thumbnailHash, cutsHash } of pages) {
      const greys = [greyHash, fullGreyHash, ...inks.flatMap((ink) => [ink.greyHash, ink.fullGreyHash])].filter(
        (hash) => hash !== null,
      );
      await this.removeFiles(
        [fileHash, ...inks.map((ink) => ink.fileHash)],
        previousGreyHash === null ? greys : [...greys, previousGreyHash],
      );
      if (thumbnailHash !== null && !(await manager.existsBy(PageEntity, { thumbnailHash }))) {
        await this.files.remove('thumbnail', thumbnailHash);
      }
      if (cutsHash !== null && !(await manager.existsBy(PageEntity, { cutsHash }))) {
        await this.files.remove('cuts', cutsHash);
      }
    }
  }

  /** Takes files out of the store that nothing refers to. */
  private async removeFiles(fileHashes: readonly string[], greyHashes: readonly string[]): Promise<void> {
    const { manager } = this.dataSource;
    for (const fileHash of fileHashes) {
      if (await manager.existsBy(PageEntity, { fileHash })) continue;
      if (!(await manager.existsBy(PageInkEntity, { fileHash }))) await this.files.remove('original', fileHash);
    }
    for (const greyHash of greyHashes) {
      const inPages = [{ greyHash }, { previousGreyHash: greyHash }, { fullGreyHash: greyHash }];
      if (await manager.existsBy(PageEntity, inPages)) continue;
      if (!(await manager.existsBy(PageInkEntity, [{ greyHash }, { fullGreyHash: greyHash }])))
        await this.files.remove('grey', greyHash);
    }
  }
}

/** Most ink files beside the page's own. */
const MOST_INKS = 12;

function sizeMismatch(page: { width: number; height: number }, file: { width: number; height: number }): DomainError {
  return new DomainError(
    409,
    'other-size',
    `The file has ${file.width} x ${file.height} px, the page and its other ink files ${page.width} x ${page.height} px. Export it at the page's size. Nothing was changed.`,
  );
}
