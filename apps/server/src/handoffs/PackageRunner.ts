import { rm } from 'node:fs/promises';
import { MessageChannel } from 'node:worker_threads';
import { readPageDocument, type DeliveryRule } from '@jumble/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { CastSheets, type CastState } from '../cast/CastSheets.ts';
import { HandoffEntity, JobEntity, PackageEntity, PageEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { notFound } from '../errors/DomainError.ts';
import { PageDocuments } from '../pages/PageDocuments.ts';
import { pageInput } from '../pages/pageInput.ts';
import { FILE_STORE, type FileName, type FileStore } from '../storage/FileStore.ts';
import { StoredFiles } from '../storage/StoredFiles.ts';
import type { HandoffTask } from '../workers/tasks.ts';
import { WorkerPool } from '../workers/WorkerPool.ts';
import { deliveredBox, fileDpi } from './deliveredBox.ts';
import { describePage } from './describePage.ts';
import { packedFiles } from './packedFiles.ts';
import { Profiles } from './Profiles.ts';

interface Running {
  readonly abort: AbortController;
  /** Its turn has come. */
  hasBegun: boolean;
  /** Pages that are built, of all. */
  built: number;
  all: number;
  /** Of the page that is built now. */
  share: number;
  done: Promise<void>;
}

/** Why a package stopped. */
class Stopped extends Error {}

/**
 * Builds packages one after the other, page by page, each in a worker thread; one thread stays free for who works on a page.
 * What is built is kept: a package that was stopped, by whatever, goes on from there.
 */
@Injectable()
export class PackageRunner implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly logger = new Logger('Packages');
  private readonly running = new Map<string, Running>();
  private tail: Promise<void> = Promise.resolve();
  private isClosing = false;

  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
    @Inject(PageDocuments) private readonly documents: PageDocuments,
    @Inject(CastSheets) private readonly sheets: CastSheets,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(FILE_STORE) private readonly files: FileStore,
    @Inject(StoredFiles) private readonly stored: StoredFiles,
    @Inject(Profiles) private readonly profiles: Profiles,
  ) {}

  /** Packages that a stopped server left go on. */
  async onApplicationBootstrap(): Promise<void> {
    const left = await this.dataSource.manager.findBy(PackageEntity, { state: 'packing' });
    for (const { id } of left.sort((a, b) => (a.createdAt < b.createdAt ? -1 : 1))) this.start(id);
  }

  async onApplicationShutdown(): Promise<void> {
    this.isClosing = true;
    for (const { abort } of this.running.values()) abort.abort();
    await Promise.allSettled([...this.running.values()].map(({ done }) => done));
  }

  /** Packs it, after those before it. */
  start(id: string): void {
    if (this.running.has(id)) return;
    const entry: Running = { abort: new AbortController(), hasBegun: false, built: 0, all: 1, share: 0, done: Promise.resolve() }; // prettier-ignore
    this.running.set(id, entry);
    entry.done = this.tail = this.tail.then(async () => {
      // It was cancelled before its turn, and may wait for another one.
      if (this.running.get(id) !== entry) return;
      entry.hasBegun = true;
      await this.run(id, entry);
      this.running.delete(id);
    });
  }

  /** Stops one that is packed, or takes one that waits out of the row: that one does not wait for those before it. */
  async cancel(id: string): Promise<void> {
    const entry = this.running.get(id);
    if (entry === undefined) return;
    entry.abort.abort();
    if (entry.hasBegun) return entry.done;
    this.running.delete(id);
    await this.recordEnd(id, { state: 'cancelled', problem: null });
  }

  isRunning(id: string): boolean {
    return this.running.has(id);
  }

  /** 0..1: the archive counts as half a page. */
  progressOf(id: string): number {
    const entry = this.running.get(id);
    return entry === undefined ? 0 : Math.min(0.99, (entry.built + entry.share) / (entry.all + 0.5));
  }

  /** Never throws: nobody waits for it but who cancels it. */
  private async run(id: string, entry: Running): Promise<void> {
    try {
      const pack = await this.dataSource.manager.findOneBy(PackageEntity, { id });
      if (pack?.state !== 'packing') return;
      if (entry.abort.signal.aborted) throw new Stopped();
      await this.buildPages(pack, entry);
      await this.makeArchive(pack, entry);
    } catch (error) {
      // Its job was deleted meanwhile: there is nobody to tell.
      if (this.isClosing || !(await this.dataSource.manager.existsBy(PackageEntity, { id }))) return;
      const isCancelled = entry.abort.signal.aborted;
      if (!isCancelled && !(error instanceof Stopped))
        this.logger.error(error instanceof Error ? error.stack : String(error));
      await this.recordEnd(
        id,
        isCancelled ? { state: 'cancelled', problem: null } : { state: 'failed', problem: problemOf(error) },
      ).catch(
        // prettier-ignore
        (further: unknown) => this.logger.error(`The end of a hand-off could not be recorded: ${String(further)}`),
      );
    }
  }

  private recordEnd(id: string, end: Pick<PackageEntity, 'state' | 'problem'>): Promise<void> {
    return this.queue.run(async (manager) => {
      await manager.update(PackageEntity, { id }, end);
      await manager.update(HandoffEntity, { packageId: id, state: 'building' }, { state: 'waiting' });
    });
  }

  private async buildPages(pack: PackageEntity, entry: Running): Promise<void> {
    const { manager } = this.dataSource;
    const rows = await manager.find(HandoffEntity, { where: { packageId: pack.id }, order: { place: 'ASC' } });
    entry.all = rows.length;
    let failed = 0;
    for (const row of rows) {
      if (entry.abort.signal.aborted) throw new Stopped();
      entry.share = 0;
      if (!(await this.buildPage(pack, row, entry))) failed++;
      entry.built++;
    }
    entry.share = 0;
    if (failed > 0)
      throw new Stopped(
        `${failed === 1 ? 'One page' : `${failed} pages`} of ${rows.length} could not be built; it says why below. The others are kept. Build the rest again.`,
      );
  }

  /** @returns whether the page is there. @throws where no other page can be built either. */
  private async buildPage(pack: PackageEntity, row: HandoffEntity, entry: Running): Promise<boolean> {
    const { manager } = this.dataSource;
    const page = await manager.findOneBy(PageEntity, { id: row.pageId });
    if (page === null) return true;
    const job = await manager.findOneByOrFail(JobEntity, { id: pack.jobId });
    const document = await this.documents.load(page.id);
    const cast = await this.sheets.load(pack.jobId);
    const madeFrom = `${page.greyHash}/${document.revision}/${cast.revision}`;
    if (row.state === 'ready' && row.madeFrom === madeFrom) return true;
    const rule = JSON.parse(pack.rule) as DeliveryRule;
    const typed = readPageDocument(document.records);
    const target = this.files.incoming();
    const { port1, port2 } = new MessageChannel();
    port1.on('message', (share: number) => (entry.share = share));
    await this.queue.run((queued) =>
      queued.update(HandoffEntity, { id: row.id }, { state: 'building', problem: null }),
    );
    try {
      const answer = await this.pool.run(
        {
          kind: 'handoff',
          ...pageInput(page, document.records, cast.records, this.files, rule),
          rule,
          profilePath: await this.profiles.pathOf(rule.profile),
          box: deliveredBox(rule.area, job, page),
          fileDpi: fileDpi(page),
          notes: rule.notes && typed.notes !== '' ? typed.notes : null,
          proof: { title: `${job.name}, ${page.name}`, lines: describePage(typed, document.revision, rule) },
          scratch: pack.palette === 'scratch',
          target,
          progress: port2,
        } satisfies HandoffTask,
        { signal: entry.abort.signal, transfer: [port2] },
      );
      if ('difference' in answer) {
        this.logger.error(`A hand-off was not as it should be: ${answer.difference}`);
        await rm(target, { force: true });
        return await this.failPage(
          row,
          `Read again, ${answer.difference}. The file was not kept. Build it again; if that helps nothing, choose another format.`,
        );
      }
      const staged = await this.files.stage('handoff', target);
      const old: FileName[] = row.fileHash === null ? [] : [{ kind: 'handoff', hash: row.fileHash }];
      await this.stored.keep([staged], async (queued) => {
        const { affected } = await queued.update(
          HandoffEntity,
          { id: row.id },
          {
            state: 'ready',
            problem: null,
            fileHash: staged.hash,
            sizeBytes: staged.sizeBytes,
            readBack: JSON.stringify(answer.readBack),
            pageRevision: document.revision,
            madeFrom,
          },
        );
        if (affected === 0) throw notFound('hand-off');
      });
      await this.stored.release(old);
      return true;
    } catch (error) {
      await rm(target, { force: true });
      if (entry.abort.signal.aborted || isOfTheDisk(error)) throw error;
      this.logger.error(error instanceof Error ? error.stack : String(error));
      return await this.failPage(row, problemOf(error));
    } finally {
      port1.close();
    }
  }

  private async failPage({ id }: HandoffEntity, problem: string): Promise<false> {
    await this.queue.run((manager) => manager.update(HandoffEntity, { id }, { state: 'failed', problem }));
    return false;
  }

  private async makeArchive(pack: PackageEntity, entry: Running): Promise<void> {
    const { manager } = this.dataSource;
    const rows = await manager.find(HandoffEntity, { where: { packageId: pack.id }, order: { place: 'ASC' } });
    const job = await manager.findOneByOrFail(JobEntity, { id: pack.jobId });
    const cast: CastState = await this.sheets.load(pack.jobId);
    const target = this.files.incoming();
    try {
      const texts: string[] = [];
      const rule = JSON.parse(pack.rule) as DeliveryRule;
      for (const row of rows) {
        const { records, revision } = await this.documents.load(row.pageId);
        texts.push([row.fileName, ...describePage(readPageDocument(records), revision, rule)].join('\n  '));
      }
      const files = await packedFiles({ pack, job, rows, cast, rule, texts, files: this.files, pool: this.pool });
      await this.pool.run({ kind: 'pack', files, target }, { signal: entry.abort.signal });
      const staged = await this.files.stage('package', target);
      await this.stored.keep([staged], async (queued) => {
        const end = { state: 'ready' as const, problem: null, fileHash: staged.hash, sizeBytes: staged.sizeBytes };
        const { affected } = await queued.update(PackageEntity, { id: pack.id }, end);
        if (affected === 0) throw notFound('hand-off');
      });
    } catch (error) {
      await rm(target, { force: true });
      throw error;
    }
  }
}

const codeOf = (error: unknown): string | undefined => (error as NodeJS.ErrnoException | null)?.code;
const isOfTheDisk = (error: unknown): boolean => ['ENOSPC', 'SQLITE_FULL', 'EROFS'].includes(codeOf(error) ?? '');

/** What is said of a build that failed. */
function problemOf(error: unknown): string {
  if (error instanceof Stopped) return error.message;
  if (isOfTheDisk(error))
    return 'The disk is full. The pages and all fills are kept, and the files that are built; free some space and go on.';
  if (codeOf(error) === 'ENOENT')
    return 'A file of this page is missing from the data folder. All fills are kept; put the folder back from a copy, or upload the page as a revised file, then go on.';
  return 'The file could not be built. The page and all fills are kept; build it again.';
}
