import { createHash } from 'node:crypto';
import type { PageFacts } from '@jumble/contracts';
import { contentOfPage, readPageDocument, type Records } from '@jumble/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { CastSheets } from '../cast/CastSheets.ts';
import { PageEntity } from '../database/entities.ts';
import { DomainError, notFound } from '../errors/DomainError.ts';
import { FILE_STORE, type FileName, type FileStore } from '../storage/FileStore.ts';
import { StoredFiles } from '../storage/StoredFiles.ts';
import { WorkerPool } from '../workers/WorkerPool.ts';
import { PageDocuments } from './PageDocuments.ts';
import { pageInput, pageCacheKey } from './pageInput.ts';

/** Edits come in bursts: a page is drawn anew when none came for this long. */
const QUIET_MS = 1200;

/** Keeps each page's thumbnail and counts in step with its document, behind the flatter's back. */
@Injectable()
export class DrawQueue implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly logger = new Logger('DrawQueue');
  private readonly timers = new Map<string, NodeJS.Timeout>();
  private running: Promise<void> = Promise.resolve();
  private closed = false;

  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(PageDocuments) private readonly documents: PageDocuments,
    @Inject(CastSheets) private readonly sheets: CastSheets,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(FILE_STORE) private readonly files: FileStore,
    @Inject(StoredFiles) private readonly stored: StoredFiles,
  ) {
    sheets.onChanged((jobId) => this.castChanged(jobId));
  }

  /** A server that was stopped in between catches up. */
  async onApplicationBootstrap(): Promise<void> {
    for (const page of await this.dataSource.manager.find(PageEntity, { relations: { job: true } })) {
      if (page.drawnState !== stateOf(page.revision, page.job.castRevision)) this.pageChanged(page.id);
    }
  }

  pageChanged(pageId: string, delayMs = QUIET_MS): void {
    if (this.closed) return;
    clearTimeout(this.timers.get(pageId));
    const timer = setTimeout(() => {
      this.timers.delete(pageId);
      this.running = this.running.then(() => this.drawNow(pageId));
    }, delayMs);
    this.timers.set(pageId, timer);
  }

  castChanged(jobId: string): void {
    void this.dataSource.manager
      .findBy(PageEntity, { jobId })
      .then((pages) => pages.forEach((page) => this.pageChanged(page.id)))
      .catch((error: unknown) => this.logger.error(String(error)));
  }

  /**
   * Draws a page now; callers that import a page wait for it. The page itself is stored: what goes wrong here is
   * logged, and made good after its next edit or at the next start.
   */
  async drawNow(pageId: string): Promise<void> {
    try {
      await this.draw(pageId);
    } catch (error) {
      // Deleted or revised meanwhile: another drawing follows, or none is wanted.
      const overtaken = error instanceof DomainError && error.status === 404;
      if (this.closed || overtaken || !(await this.isThere(pageId))) return;
      this.logger.error(error instanceof Error ? error.stack : String(error));
    }
  }

  private async isThere(pageId: string): Promise<boolean> {
    return this.dataSource.manager.existsBy(PageEntity, { id: pageId }).catch(() => true);
  }

  private async draw(pageId: string): Promise<void> {
    const page = await this.dataSource.manager.findOneBy(PageEntity, { id: pageId });
    if (page === null || this.closed) return;
    const [document, cast] = [await this.documents.load(pageId), await this.sheets.load(page.jobId)];
    const result = await this.pool.run({
      kind: 'draw',
      ...pageInput(page, document.records, cast.records, this.files),
    });
    const thumbnail = await this.files.stageBytes('thumbnail', result.thumbnail);
    const cuts = result.cuts === null ? null : await this.files.stageBytes('cuts', result.cuts);
    const cutsCacheKey = pageCacheKey(page, readPageDocument(document.records));
    const before = await this.stored.keep(cuts === null ? [thumbnail] : [thumbnail, cuts], async (manager) => {
      const latest = await manager.findOneBy(PageEntity, { id: pageId, greyHash: page.greyHash });
      if (latest === null) throw notFound('page');
      await manager.update(
        PageEntity,
        { id: pageId },
        {
          ...(cuts === null ? {} : { cutsHash: cuts.hash, cutsCacheKey }),
          regionCount: result.regionCount,
          filledCount: result.filledCount,
          measures: JSON.stringify({
            ...result.measures,
            ...result.open,
            isCertified: isCertified(page.greyHash, document.records, cast.records),
          } satisfies PageFacts),
          thumbnailHash: thumbnail.hash,
          drawnState: stateOf(document.revision, cast.revision),
        },
      );
      return latest;
    });
    const old: FileName[] = [];
    if (before.thumbnailHash !== null) old.push({ kind: 'thumbnail', hash: before.thumbnailHash });
    if (cuts !== null && before.cutsHash !== null) old.push({ kind: 'cuts', hash: before.cutsHash });
    await this.stored.release(old);
  }

  async onApplicationShutdown(): Promise<void> {
    this.closed = true;
    for (const timer of this.timers.values()) clearTimeout(timer);
    await this.running;
  }
}

/** Whether the page's certificate holds for what it is now. */
function isCertified(greyHash: string, page: Records, cast: Records): boolean {
  const { certificate } = readPageDocument(page);
  if (certificate === null) return false;
  return (
    createHash('sha256')
      .update(contentOfPage(greyHash, page, cast))
      .digest('hex') === certificate.content
  );
}

function stateOf(pageRevision: number, castRevision: number): string {
  return `${pageRevision}/${castRevision}`;
}
