import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { MessageChannel } from 'node:worker_threads';
import type { CreateHandoffDto, HandoffView } from '@jumble/contracts';
import {
  hasLayers,
  KIND_WORDS,
  type FindingKind,
  readCastSheet,
  readPageDocument,
  type HandoffContainer,
  type PageDocument,
  type TrapRule,
} from '@jumble/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { CastSheets } from '../cast/CastSheets.ts';
import { HandoffEntity, JobEntity, PageEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { DomainError, notFound } from '../errors/DomainError.ts';
import { PageDocuments } from '../pages/PageDocuments.ts';
import { pageInput } from '../pages/pageInput.ts';
import { FILE_STORE, type FileStore } from '../storage/FileStore.ts';
import { StoredFiles } from '../storage/StoredFiles.ts';
import type { HandoffTask } from '../workers/tasks.ts';
import { WorkerPool } from '../workers/WorkerPool.ts';

const STOPPED = 'Jumble was stopped while this was built. Nothing else was lost; build it again.';

interface Running {
  progress: number;
  readonly abort: AbortController;
  done: Promise<void>;
}

/** Builds hand-offs in a worker thread, one file each, kept until its page is deleted. */
@Injectable()
export class HandoffsService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly logger = new Logger('Handoffs');
  private readonly running = new Map<string, Running>();

  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
    @Inject(PageDocuments) private readonly documents: PageDocuments,
    @Inject(CastSheets) private readonly sheets: CastSheets,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(FILE_STORE) private readonly files: FileStore,
    @Inject(StoredFiles) private readonly stored: StoredFiles,
  ) {}

  /** A build that a stopped server left is told as such, not left turning for ever. */
  async onApplicationBootstrap(): Promise<void> {
    await this.queue
      .run((manager) => manager.update(HandoffEntity, { state: 'building' }, { state: 'failed', problem: STOPPED }))
      // A full disk is no reason not to start: it is said once something is written.
      .catch((error: unknown) => this.logger.error(String(error)));
  }

  async list(pageId: string): Promise<HandoffView[]> {
    const rows = await this.dataSource.manager.find(HandoffEntity, {
      where: { pageId },
      order: { createdAt: 'DESC' },
      take: 50,
    });
    return rows.map((row) => this.view(row));
  }

  async find(id: string): Promise<HandoffEntity> {
    const row = await this.dataSource.manager.findOneBy(HandoffEntity, { id });
    if (row === null) throw notFound('hand-off');
    return row;
  }

  async create(pageId: string, body: CreateHandoffDto): Promise<HandoffView> {
    const { manager } = this.dataSource;
    const page = await manager.findOneBy(PageEntity, { id: pageId });
    if (page === null) throw notFound('page');
    const job = await manager.findOneBy(JobEntity, { id: page.jobId });
    if (job === null) throw notFound('job');
    const document = await this.documents.load(pageId);
    const cast = await this.sheets.load(page.jobId);
    const sheet = readCastSheet(cast.records);
    const { palette } = sheet;
    const trap = readPageDocument(document.records).trap ?? sheet.trap.rule;
    if (sheet.trap.underlapPx > 0 && !mayRunUnder(body)) {
      throw new DomainError(
        400,
        'underlap-needs-layers',
        `The layers of this job run ${sheet.trap.underlapPx} px under each other, and these layers have none in front of them. Choose one layer per part, or set the underlap to 0 on the Trap stage.`,
      );
    }
    const row: HandoffEntity = {
      id: randomUUID(),
      pageId,
      split: body.split,
      container: body.container,
      trap: JSON.stringify(trap),
      palette,
      pageRevision: document.revision,
      state: 'building',
      problem: null,
      fileName: handoffFileName(job.name, page, body.container, palette),
      fileHash: null,
      sizeBytes: null,
      createdAt: new Date().toISOString(),
    };
    const entry: Running = { progress: 0, abort: new AbortController(), done: Promise.resolve() };
    this.running.set(row.id, entry);
    try {
      await this.queue.run(async (transaction) => {
        if (!(await transaction.existsBy(PageEntity, { id: pageId }))) throw notFound('page');
        await transaction.insert(HandoffEntity, row);
      });
    } catch (error) {
      this.running.delete(row.id);
      throw error;
    }
    entry.done = this.build(row.id, entry, {
      kind: 'handoff',
      ...pageInput(page, document.records, cast.records, this.files),
      split: body.split,
      lines: body.lines ?? 'layer',
      container: body.container,
      proof: {
        title: `${job.name}, ${page.name}`,
        lines: proofLines(readPageDocument(document.records), document.revision),
      },
      // What is handed off has the file's own size.
      outDpi: page.dpi === null || page.fullGreyHash === null ? page.dpi : 2 * page.dpi,
      scratch: palette === 'scratch',
      target: this.files.incoming(),
    });
    return this.view(row);
  }

  /** Builds the file and records what came of it. Never throws: nobody waits for it but who cancels it. */
  private async build(id: string, entry: Running, task: Omit<HandoffTask, 'progress'>): Promise<void> {
    const { signal } = entry.abort;
    const { port1, port2 } = new MessageChannel();
    port1.on('message', (share: number) => (entry.progress = share));
    try {
      await this.pool.run({ ...task, progress: port2 }, { signal, transfer: [port2] });
      await this.finish(id, task.target);
    } catch (error) {
      await this.fail(id, task.target, signal.aborted, error).catch((further: unknown) =>
        this.logger.error(`The end of a hand-off could not be recorded: ${String(further)}`),
      );
    } finally {
      port1.close();
      this.running.delete(id);
    }
  }

  async cancel(id: string): Promise<void> {
    await this.find(id);
    const entry = this.running.get(id);
    entry?.abort.abort();
    await entry?.done;
  }

  /** Where the finished file lies. @throws DomainError 409 while it is not ready. */
  async file(id: string): Promise<{ path: string; name: string }> {
    const row = await this.find(id);
    if (row.state !== 'ready' || row.fileHash === null) {
      throw new DomainError(
        409,
        'handoff-not-ready',
        'This hand-off is not ready to be downloaded. Wait until it is built, or build it again.',
      );
    }
    return { path: this.files.pathOf('handoff', row.fileHash), name: row.fileName };
  }

  view(row: HandoffEntity): HandoffView {
    const { id, pageId, split, container, palette, pageRevision, fileName, sizeBytes, createdAt } = row;
    const running = this.running.get(id);
    // How it ended could not be recorded (a full disk, perhaps): nobody builds it any more.
    const lost = row.state === 'building' && running === undefined;
    return {
      id,
      pageId,
      split,
      container,
      palette,
      pageRevision,
      fileName,
      sizeBytes,
      createdAt,
      trap: JSON.parse(row.trap) as TrapRule,
      state: lost ? 'failed' : row.state,
      problem: lost ? STOPPED : row.problem,
      progress: row.state === 'ready' ? 1 : (running?.progress ?? 0),
    };
  }

  async onApplicationShutdown(): Promise<void> {
    for (const { abort } of this.running.values()) abort.abort();
    await Promise.allSettled([...this.running.values()].map(({ done }) => done));
  }

  private async finish(id: string, target: string): Promise<void> {
    const staged = await this.files.stage('handoff', target);
    const { hash, sizeBytes } = staged;
    await this.stored.keep([staged], async (manager) => {
      const { affected } = await manager.update(HandoffEntity, { id }, { state: 'ready', fileHash: hash, sizeBytes });
      if (affected === 0) throw notFound('hand-off');
    });
  }

  private async fail(id: string, target: string, cancelled: boolean, error: unknown): Promise<void> {
    await rm(target, { force: true });
    // Its page was deleted meanwhile: there is nobody to tell.
    if (!(await this.dataSource.manager.existsBy(HandoffEntity, { id }))) return;
    if (!cancelled) this.logger.error(error instanceof Error ? error.stack : String(error));
    const problem = problemOf((error as NodeJS.ErrnoException | null)?.code);
    await this.queue.run((manager) =>
      manager.update(HandoffEntity, { id }, cancelled ? { state: 'cancelled' } : { state: 'failed', problem }),
    );
  }
}

/** What is said of a build that failed, by the code of its error. */
function problemOf(code: string | undefined): string {
  if (code === 'ENOSPC' || code === 'SQLITE_FULL')
    return 'The disk is full. The page and all fills are kept; free some space and build it again.';
  if (code === 'ENOENT')
    return 'A file of this page is missing from the data folder. All fills are kept; put the folder back from a copy, or upload the page as a revised file, then build it again.';
  return 'The file could not be built. The page and all fills are kept; build it again.';
}

/** Whether layers may lie in front of each other; outlines and proofs have none that could. */
function mayRunUnder({ container, split }: CreateHandoffDto): boolean {
  return hasLayers(container) ? split !== 'single' && split !== 'panel' : container !== 'png';
}

/** What a proof says beside the page: which state it is, whether it was certified, and what was let stay for what reason. */
function proofLines({ certificate, waivers }: PageDocument, revision: number): string[] {
  return [
    `Revision ${revision}, ${new Date().toISOString().slice(0, 10)}`,
    certificate === null
      ? 'Not certified'
      : `Certified ${certificate.at.slice(0, 16).replace('T', ' ')} UTC for content ${certificate.content.slice(0, 12)}`,
    ...[...waivers].map(([key, { reason }]) => {
      const [kind, at] = key.split('/');
      return `${KIND_WORDS[kind as FindingKind]} at ${at!.replace(',', ', ')} px may stay: ${reason}`;
    }),
  ];
}

function handoffFileName(jobName: string, page: PageEntity, container: HandoffContainer, palette: string): string {
  const plain = (text: string): string =>
    text
      .normalize('NFKD')
      .replace(/[^\w -]+/g, '')
      .trim()
      .replace(/[\s_]+/g, '-')
      .toLowerCase();
  const pieces = [plain(jobName), plain(page.name), palette === 'scratch' ? 'scratch-flats' : 'flats'];
  const [ending, colours] = container.split('-') as [string, string?];
  return `${[...pieces, colours ?? ''].filter(Boolean).join('_')}.${ending}`;
}
