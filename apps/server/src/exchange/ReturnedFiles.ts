import { randomUUID } from 'node:crypto';
import type { ReturnedReport, ReturnedView } from '@jumble/contracts';
import { FIRST_DELIVERIES, hasLayers, type DeliveryRule, type RecordEdit } from '@jumble/core';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource, In } from 'typeorm';
import { CastSheets } from '../cast/CastSheets.ts';
import { HandoffEntity, PackageEntity, PageEntity, ReturnedFileEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { DomainError, notFound } from '../errors/DomainError.ts';
import { logEntry } from '../history/logEntry.ts';
import { PageDocuments } from '../pages/PageDocuments.ts';
import { pageInput } from '../pages/pageInput.ts';
import { FILE_STORE, type FileStore } from '../storage/FileStore.ts';
import type { NamedFile } from '../storage/sendFile.ts';
import { StoredFiles } from '../storage/StoredFiles.ts';
import type { ArrivedFile } from '../uploads/receivePageFile.ts';
import { WorkerPool } from '../workers/WorkerPool.ts';

interface Compared {
  readonly report: ReturnedReport;
  readonly edits: readonly RecordEdit[];
}

/** Files that came back: each is kept as it is, with what became of the flats in it. */
@Injectable()
export class ReturnedFiles {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
    @Inject(PageDocuments) private readonly documents: PageDocuments,
    @Inject(CastSheets) private readonly sheets: CastSheets,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(FILE_STORE) private readonly files: FileStore,
    @Inject(StoredFiles) private readonly stored: StoredFiles,
  ) {}

  /** The newest first. */
  async list(pageId: string): Promise<ReturnedView[]> {
    const rows = await this.dataSource.manager.find(ReturnedFileEntity, {
      where: { pageId },
      order: { createdAt: 'DESC' },
      take: 50,
    });
    return rows.map(view);
  }

  /** @throws DomainError 400 for a file that cannot be compared with the page. */
  async add(pageId: string, file: ArrivedFile): Promise<ReturnedView> {
    const { report } = await this.compare(pageId, file.path);
    const staged = await this.files.stage('returned', file.path);
    const row: ReturnedFileEntity = {
      id: randomUUID(),
      pageId,
      fileName: file.name,
      fileHash: staged.hash,
      sizeBytes: staged.sizeBytes,
      report: JSON.stringify(report),
      createdAt: new Date().toISOString(),
    };
    await this.stored.keep([staged], async (manager) => {
      const page = await manager.findOneBy(PageEntity, { id: pageId });
      if (page === null) throw notFound('page');
      await manager.insert(ReturnedFileEntity, row);
      await logEntry(manager, { jobId: page.jobId, pageId, kind: 'returned', what: `${file.name} came back` });
    });
    return view(row);
  }

  /** The edits that make moved places corrections of the page as it is now. */
  async corrections(id: string): Promise<readonly RecordEdit[]> {
    const { pageId, fileHash } = await this.find(id);
    return (await this.compare(pageId, this.files.pathOf('returned', fileHash))).edits;
  }

  async file(id: string): Promise<NamedFile> {
    const { fileHash, fileName } = await this.find(id);
    return { path: this.files.pathOf('returned', fileHash), name: fileName };
  }

  async remove(id: string): Promise<void> {
    const { fileHash } = await this.find(id);
    await this.queue.run((manager) => manager.delete(ReturnedFileEntity, { id }));
    await this.stored.release([{ kind: 'returned', hash: fileHash }]);
  }

  private async compare(pageId: string, path: string): Promise<Compared> {
    const page = await this.dataSource.manager.findOneBy(PageEntity, { id: pageId });
    if (page === null) throw notFound('page');
    const { records } = await this.documents.load(pageId);
    const cast = await this.sheets.load(page.jobId);
    const { rule, sentPath } = await this.lastSent(pageId);
    const answer = await this.pool.run({
      kind: 'returned',
      ...pageInput(page, records, cast.records, this.files, rule),
      path,
      rule,
      sentPath,
    });
    if ('fault' in answer) throw new DomainError(400, 'not-comparable', `${answer.fault} Nothing was changed.`);
    return answer;
  }

  /** The file in which the page went out in layers last, and its rule; else the usual one. */
  private async lastSent(pageId: string): Promise<{ readonly rule: DeliveryRule; readonly sentPath: string | null }> {
    const { manager } = this.dataSource;
    const rows = await manager.findBy(HandoffEntity, { pageId, state: 'ready' });
    const packages = await manager.find(PackageEntity, {
      where: { id: In(rows.map(({ packageId }) => packageId)) },
      order: { createdAt: 'DESC' },
    });
    for (const { id, rule: text } of packages) {
      const rule = JSON.parse(text) as DeliveryRule;
      const fileHash = rows.find(({ packageId }) => packageId === id)?.fileHash ?? null;
      // Colours for print cannot be compared with those of the page.
      if (hasLayers(rule.format) && rule.colours === 'rgb')
        return { rule, sentPath: fileHash === null ? null : this.files.pathOf('handoff', fileHash) };
    }
    return { rule: FIRST_DELIVERIES[0]!, sentPath: null };
  }

  private async find(id: string): Promise<ReturnedFileEntity> {
    const row = await this.dataSource.manager.findOneBy(ReturnedFileEntity, { id });
    if (row === null) throw notFound('returned file');
    return row;
  }
}

function view({ id, pageId, fileName, sizeBytes, report, createdAt }: ReturnedFileEntity): ReturnedView {
  return { id, pageId, fileName, sizeBytes, createdAt, report: JSON.parse(report) as ReturnedReport };
}
