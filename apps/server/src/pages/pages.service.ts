import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import type { PageView, UpdatePageDto } from '@jumble/contracts';
import { LARGE_PAGE_PX } from '@jumble/core';
import { PageFileError } from '@jumble/raster-io';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource, type EntityManager } from 'typeorm';
import {
  HandoffEntity,
  JobEntity,
  PageEntity,
  PageInkEntity,
  ReturnedFileEntity,
  StepEntity,
} from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { DomainError, notFound } from '../errors/DomainError.ts';
import { logEntry } from '../history/logEntry.ts';
import { FILE_STORE, type FileKind, type FileName, type FileStore, type StagedFile } from '../storage/FileStore.ts';
import { StoredFiles } from '../storage/StoredFiles.ts';
import type { DecodeResult } from '../workers/tasks.ts';
import type { ArrivedFile } from '../uploads/receivePageFile.ts';
import { WorkerPool } from '../workers/WorkerPool.ts';
import { DrawQueue } from './DrawQueue.ts';
import { pageView } from './pageView.ts';

/** What a file says of itself, and what of it is about to be stored. */
interface ReadFile {
  readonly facts: DecodeResult & { readonly fileHash: string; readonly greyHash: string; readonly fileName: string };
  readonly grey: StagedFile;
  readonly original: StagedFile;
}

/** A raster at half its size, and the columns that say so. */
interface HalvedFile {
  readonly half: StagedFile;
  readonly columns: Pick<PageEntity, 'greyHash' | 'width' | 'height' | 'fullGreyHash' | 'fullWidth' | 'fullHeight'>;
}

@Injectable()
export class PagesService {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(DrawQueue) private readonly drawQueue: DrawQueue,
    @Inject(FILE_STORE) private readonly files: FileStore,
    @Inject(StoredFiles) private readonly stored: StoredFiles,
  ) {}

  async find(id: string, manager: EntityManager = this.dataSource.manager): Promise<PageEntity> {
    const page = await manager.findOneBy(PageEntity, { id });
    if (page === null) throw notFound('page');
    return page;
  }

  /** Adds a page at the end of a job. @throws PageFileError when the file is no page. */
  async add(jobId: string, file: ArrivedFile, dpi: number | null): Promise<PageView> {
    await this.mustHaveJob(jobId, this.dataSource.manager);
    const { facts, grey, original } = await this.read(file);
    const id = randomUUID();
    await this.stored.keep([grey, original], async (manager) => {
      await this.mustHaveJob(jobId, manager);
      const { last } = (await manager
        .createQueryBuilder(PageEntity, 'page')
        .select('MAX(page.position)', 'last')
        .where('page.job_id = :jobId', { jobId })
        .getRawOne<{ last: number | null }>()) ?? { last: null };
      await manager.insert(PageEntity, {
        id,
        jobId,
        name: facts.fileName.replace(/\.[^.]*$/, '').slice(0, 120) || 'Page',
        position: (last ?? -1) + 1,
        ...facts,
        dpi: facts.dpi ?? dpi,
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
      await logEntry(manager, { jobId, pageId: id, kind: 'page', what: `Added ${facts.fileName}` });
    });
    await this.drawQueue.drawNow(id);
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
    const { half, columns } = await this.halved(page, this.files.pathOf('grey', page.greyHash));
    await this.stored.keep([half], async (manager) => {
      const latest = await this.find(pageId, manager);
      if (latest.revision > 0 || latest.greyHash !== page.greyHash) {
        throw new DomainError(409, 'page-begun', 'The page was changed meanwhile. It is as it was.');
      }
      await manager.update(
        PageEntity,
        { id: pageId },
        { ...columns, dpi: page.dpi === null ? null : page.dpi / 2, drawnState: '', previousGreyHash: null },
      );
    });
    await this.drawQueue.drawNow(pageId);
    return pageView(await this.find(pageId));
  }

  /** Makes a raster at half the size of the one at `greyPath`. */
  private async halved(
    { greyHash, width, height }: Pick<PageEntity, 'greyHash' | 'width' | 'height'>,
    greyPath: string,
  ): Promise<HalvedFile> {
    const target = this.files.incoming();
    try {
      const size = await this.pool.run({ kind: 'halve', greyPath, width, height, target });
      const half = await this.files.stage('grey', target);
      return {
        half,
        columns: { ...size, greyHash: half.hash, fullGreyHash: greyHash, fullWidth: width, fullHeight: height },
      };
    } catch (error) {
      await rm(target, { force: true });
      throw error;
    }
  }

  /** Puts a revised file under a page; its fills stay, and the raster before it, to show what changed. */
  async replace(pageId: string, file: ArrivedFile): Promise<PageView> {
    const atHalf = (await this.find(pageId)).fullGreyHash !== null;
    const { facts, grey, original } = await this.read(file);
    // A page that is worked on at half size stays so.
    const halved = atHalf ? await this.halved(facts, grey.path) : null;
    const stored =
      halved === null
        ? { ...facts, fullGreyHash: null, fullWidth: null, fullHeight: null }
        : { ...facts, ...halved.columns, dpi: facts.dpi === null ? null : facts.dpi / 2 };
    const staged = halved === null ? [grey, original] : [grey, original, halved.half];
    const before = await this.stored.keep(staged, async (manager) => {
      const latest = await this.find(pageId, manager);
      if ((latest.fullGreyHash !== null) !== atHalf) {
        throw new DomainError(409, 'page-changed', 'The page was changed meanwhile. Upload the revised file again.');
      }
      const sameSize = stored.width === latest.width && stored.height === latest.height;
      if (!sameSize && latest.inks.length > 0) throw sizeMismatch(latest, stored);
      await manager.update(
        PageEntity,
        { id: pageId },
        {
          ...stored,
          dpi: stored.dpi ?? latest.dpi,
          drawnState: '',
          previousGreyHash: sameSize && stored.greyHash !== latest.greyHash ? latest.greyHash : null,
        },
      );
      const what = `Replaced its line art by ${facts.fileName}`;
      await logEntry(manager, { jobId: latest.jobId, pageId, kind: 'revised', what });
      return latest;
    });
    await this.stored.release(filesOf(before));
    await this.drawQueue.drawNow(pageId);
    return pageView(await this.find(pageId));
  }

  /** The changes of a revision are settled: the raster before it is let go. */
  async settleRevision(pageId: string): Promise<PageView> {
    const before = await this.queue.run(async (manager) => {
      const latest = await this.find(pageId, manager);
      await manager.update(PageEntity, { id: pageId }, { previousGreyHash: null });
      return latest;
    });
    await this.stored.release(filesOf(before));
    return pageView(await this.find(pageId));
  }

  /** Adds a further ink file. @throws DomainError 409 when it has another size than the page, or there are too many. */
  async addInk(pageId: string, file: ArrivedFile): Promise<PageView> {
    const page = await this.find(pageId);
    checkInkCount(page);
    const { facts, grey, original } = await this.read(file);
    const halved = page.fullGreyHash === null ? null : await this.halved(facts, grey.path);
    const { fileName, fileHash, format, mode } = facts;
    const { greyHash, width, height, fullGreyHash } = halved?.columns ?? { ...facts, fullGreyHash: null };
    const staged = halved === null ? [grey, original] : [grey, original, halved.half];
    await this.stored.keep(staged, async (manager) => {
      const latest = await this.find(pageId, manager);
      checkInkCount(latest);
      if (width !== latest.width || height !== latest.height) throw sizeMismatch(latest, { width, height });
      const createdAt = new Date().toISOString();
      const ink = { id: randomUUID(), pageId, fileName, fileHash, greyHash, fullGreyHash, format, mode, createdAt };
      await manager.insert(PageInkEntity, ink);
      await manager.update(PageEntity, { id: pageId }, { drawnState: '' });
    });
    this.drawQueue.pageChanged(pageId);
    return pageView(await this.find(pageId));
  }

  async removeInk(pageId: string, inkId: string): Promise<PageView> {
    const ink = await this.queue.run(async (manager) => {
      const page = await this.find(pageId, manager);
      const found = page.inks.find((one) => one.id === inkId);
      if (found === undefined) throw notFound('ink file');
      await manager.delete(PageInkEntity, { id: inkId });
      await manager.update(PageEntity, { id: pageId }, { drawnState: '' });
      return found;
    });
    await this.stored.release(filesOfInk(ink));
    this.drawQueue.pageChanged(pageId);
    return pageView(await this.find(pageId));
  }

  async update(pageId: string, change: UpdatePageDto): Promise<PageView> {
    await this.queue.run(async (manager) => {
      const page = await this.find(pageId, manager);
      await manager.update(
        PageEntity,
        { id: pageId },
        { name: change.name === undefined ? page.name : change.name.trim(), dpi: change.dpi ?? page.dpi },
      );
    });
    return pageView(await this.find(pageId));
  }

  async remove(pageId: string): Promise<void> {
    const files = await this.queue.run(async (manager) =>
      this.removePages(manager, [await this.find(pageId, manager)]),
    );
    await this.stored.release(files);
  }

  /**
   * Deletes pages with their logs, inside the caller's transaction.
   *
   * @returns the files they had, to be released once that is committed.
   */
  async removePages(manager: EntityManager, pages: readonly PageEntity[]): Promise<FileName[]> {
    const files = pages.flatMap(filesOf);
    for (const page of pages) {
      for (const { fileHash } of await manager.findBy(HandoffEntity, { pageId: page.id })) {
        if (fileHash !== null) files.push({ kind: 'handoff', hash: fileHash });
      }
      for (const { fileHash } of await manager.findBy(ReturnedFileEntity, { pageId: page.id }))
        files.push({ kind: 'returned', hash: fileHash });
      await manager.delete(StepEntity, { scope: 'page', scopeId: page.id });
      await manager.delete(PageEntity, { id: page.id });
    }
    return files;
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

  /** Decodes a file; its original, byte for byte, and its grey raster are staged. One that is no page leaves nothing. */
  private async read(file: ArrivedFile): Promise<ReadFile> {
    const greyTarget = this.files.incoming();
    try {
      const answer = await this.pool.run({ kind: 'decode', path: file.path, greyTarget });
      if ('fault' in answer) throw new PageFileError(answer.fault, answer.message);
      const grey = await this.files.stage('grey', greyTarget);
      const original = await this.files.stage('original', file.path);
      const facts = { ...answer.page, greyHash: grey.hash, fileHash: original.hash, fileName: file.name };
      return { facts, grey, original };
    } catch (error) {
      await rm(greyTarget, { force: true });
      throw error;
    }
  }

  private async mustHaveJob(jobId: string, manager: EntityManager): Promise<void> {
    if (!(await manager.existsBy(JobEntity, { id: jobId }))) throw notFound('job');
  }
}

function filesOf({
  fileHash,
  greyHash,
  previousGreyHash,
  fullGreyHash,
  thumbnailHash,
  cutsHash,
  inks,
}: PageEntity): FileName[] {
  return [
    ...named('original', fileHash),
    ...named('grey', greyHash, previousGreyHash, fullGreyHash),
    ...named('thumbnail', thumbnailHash),
    ...named('cuts', cutsHash),
    ...inks.flatMap(filesOfInk),
  ];
}

function filesOfInk({ fileHash, greyHash, fullGreyHash }: PageInkEntity): FileName[] {
  return [...named('original', fileHash), ...named('grey', greyHash, fullGreyHash)];
}

function named(kind: FileKind, ...hashes: readonly (string | null)[]): FileName[] {
  return hashes.flatMap((hash) => (hash === null ? [] : [{ kind, hash }]));
}

function checkInkCount({ inks }: PageEntity): void {
  if (inks.length < MOST_INKS) return;
  throw new DomainError(409, 'too-many-inks', `A page has at most ${MOST_INKS} further ink files. Remove one first.`);
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
