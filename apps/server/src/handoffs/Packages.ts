import { randomUUID } from 'node:crypto';
import type { CreatePackageDto, HandoffView, PackageView } from '@jumble/contracts';
import {
  canRunUnder,
  FILE_ENDINGS,
  nameApart,
  pageFileName,
  plainFileName,
  readCastSheet,
  readPageDocument,
  type DeliveryRule,
} from '@jumble/core';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource, In } from 'typeorm';
import { CastSheets } from '../cast/CastSheets.ts';
import { HandoffEntity, JobEntity, PackageEntity, PageEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { DomainError, notFound } from '../errors/DomainError.ts';
import { logEntry } from '../history/logEntry.ts';
import { PageDocuments } from '../pages/PageDocuments.ts';
import { FILE_STORE, type FileName, type FileStore } from '../storage/FileStore.ts';
import type { NamedFile } from '../storage/sendFile.ts';
import { StoredFiles } from '../storage/StoredFiles.ts';
import { deliveredBox } from './deliveredBox.ts';
import { PackageRunner } from './PackageRunner.ts';
import { Profiles } from './Profiles.ts';

/** Most packages that are listed. */
const MOST_LISTED = 200;
/** Hand-offs of the pages of a job; the finished ones lie in the outbox until they are removed. */
@Injectable()
export class Packages {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
    @Inject(PageDocuments) private readonly documents: PageDocuments,
    @Inject(CastSheets) private readonly sheets: CastSheets,
    @Inject(FILE_STORE) private readonly files: FileStore,
    @Inject(StoredFiles) private readonly stored: StoredFiles,
    @Inject(PackageRunner) private readonly runner: PackageRunner,
    @Inject(Profiles) private readonly profiles: Profiles,
  ) {}

  /** The newest first. @param jobId null is all jobs. */
  async list(jobId: string | null): Promise<PackageView[]> {
    const { manager } = this.dataSource;
    const rows = await manager.find(PackageEntity, {
      where: jobId === null ? {} : { jobId },
      order: { createdAt: 'DESC' },
      take: MOST_LISTED,
    });
    const jobs = await manager.findBy(JobEntity, { id: In([...new Set(rows.map((row) => row.jobId))]) });
    const files = await manager.find(HandoffEntity, {
      where: { packageId: In(rows.map(({ id }) => id)) },
      order: { place: 'ASC' },
    });
    const nameOf = new Map(jobs.map(({ id, name }) => [id, name]));
    const ofPackage = new Map<string, HandoffEntity[]>();
    for (const file of files) ofPackage.set(file.packageId, [...(ofPackage.get(file.packageId) ?? []), file]);
    return rows.map((row) => this.view(row, nameOf.get(row.jobId) ?? '', ofPackage.get(row.id) ?? []));
  }

  async get(id: string): Promise<PackageView> {
    const row = await this.find(id);
    const { manager } = this.dataSource;
    const job = await manager.findOneByOrFail(JobEntity, { id: row.jobId });
    const files = await manager.find(HandoffEntity, { where: { packageId: id }, order: { place: 'ASC' } });
    return this.view(row, job.name, files);
  }

  /** @throws DomainError 400 for a rule these pages cannot be delivered by. */
  async create(jobId: string, { pageIds, deliveryId }: CreatePackageDto): Promise<PackageView> {
    const { manager } = this.dataSource;
    const job = await manager.findOneBy(JobEntity, { id: jobId });
    if (job === null) throw notFound('job');
    const sheet = readCastSheet((await this.sheets.load(jobId)).records);
    const rule = sheet.deliveries.find(({ id }) => id === deliveryId);
    if (rule === undefined) throw notFound('delivery rule');
    const inJob = await manager.find(PageEntity, { where: { jobId }, order: { position: 'ASC' } });
    const wanted = new Set(pageIds);
    const pages = inJob.filter(({ id }) => wanted.has(id));
    if (pages.length !== wanted.size) throw notFound('page');
    await this.mustFit(rule, rule.underlapPx ?? sheet.trap.underlapPx, job, pages);

    const { palette } = sheet;
    const createdAt = new Date().toISOString();
    const id = randomUUID();
    const taken = new Set<string>();
    const rows: HandoffEntity[] = [];
    for (const [place, page] of pages.entries()) {
      const { records, revision } = await this.documents.load(page.id);
      const scene = sheet.scenes.find((one) => one.id === (rule.scene ?? readPageDocument(records).scene)) ?? sheet.scenes[0]; // prettier-ignore
      const name = pageFileName(rule, {
        job: job.name,
        page: page.name,
        number: inJob.indexOf(page) + 1,
        scene: scene?.name ?? '',
        revision,
        palette,
        date: createdAt.slice(0, 10),
      });
      rows.push({
        id: randomUUID(),
        packageId: id,
        pageId: page.id,
        place,
        madeFrom: '',
        pageRevision: revision,
        state: 'waiting',
        problem: null,
        fileName: nameApart(name, taken) + FILE_ENDINGS[rule.format],
        fileHash: null,
        sizeBytes: null,
        readBack: null,
      });
    }
    await this.queue.run(async (transaction) => {
      for (const page of pages) if (!(await transaction.existsBy(PageEntity, { id: page.id }))) throw notFound('page');
      const known = await transaction.find(PackageEntity, { where: { jobId }, select: { fileName: true } });
      const names = new Set(known.map(({ fileName }) => fileName.replace(/\.zip$/, '')));
      const name = plainFileName(`${plainFileName(job.name)}_${plainFileName(rule.name)}_${createdAt.slice(0, 10)}`);
      await transaction.insert(PackageEntity, {
        id,
        jobId,
        rule: JSON.stringify(rule),
        palette,
        state: 'packing',
        problem: null,
        fileName: `${nameApart(name, names)}.zip`,
        fileHash: null,
        sizeBytes: null,
        createdAt,
      });
      for (const row of rows) await transaction.insert(HandoffEntity, row);
      const what = `Handed off ${pages.length === 1 ? pages[0]!.name : `${pages.length} pages`} by the rule ${rule.name}`;
      await logEntry(transaction, { jobId, pageId: pages.length === 1 ? pages[0]!.id : null, kind: 'handoff', what });
    });
    this.runner.start(id);
    return this.get(id);
  }

  private async mustFit(
    rule: DeliveryRule,
    underlapPx: number,
    job: JobEntity,
    pages: readonly PageEntity[],
  ): Promise<void> {
    await this.profiles.pathOf(rule.profile);
    for (const page of pages) {
      deliveredBox(rule.area, job, page);
      if (rule.dpi !== null && page.dpi === null)
        throw new DomainError(
          400,
          'resolution-unknown',
          `This rule delivers at ${rule.dpi} dpi, and "${page.name}" states no resolution. Set it in the page's menu, or deliver pages as they are.`,
        );
    }
    if (
      underlapPx > 0 &&
      (rule.format === 'ora' || rule.format === 'tif' || rule.format === 'folder') &&
      !canRunUnder(rule)
    )
      throw new DomainError(
        400,
        'underlap-needs-layers',
        `Layers run ${underlapPx} px under each other, and these layers have none in front of them. Choose one layer per part as they are stacked, or set the underlap of the rule to 0.`,
      );
  }

  /** Stops one that is packed. */
  async cancel(id: string): Promise<PackageView> {
    await this.find(id);
    await this.runner.cancel(id);
    return this.get(id);
  }

  /** Goes on with one that stopped: files that are built and whose pages did not change are kept. */
  async resume(id: string): Promise<PackageView> {
    const row = await this.find(id);
    if (row.state === 'ready')
      throw new DomainError(409, 'package-ready', 'This hand-off is finished. Hand the pages off again for a new one.');
    await this.queue.run(async (manager) => {
      await manager.update(PackageEntity, { id }, { state: 'packing', problem: null });
      await manager.update(HandoffEntity, { packageId: id, state: 'failed' }, { state: 'waiting', problem: null });
    });
    this.runner.start(id);
    return this.get(id);
  }

  /** Takes it out of the outbox, with its files. */
  async remove(id: string): Promise<void> {
    await this.runner.cancel(id);
    const files = await this.queue.run(async (manager) => {
      const row = await manager.findOneBy(PackageEntity, { id });
      if (row === null) throw notFound('hand-off');
      const own = await manager.findBy(HandoffEntity, { packageId: id });
      await manager.delete(PackageEntity, { id });
      return [
        ...own.flatMap(({ fileHash }): FileName[] => (fileHash === null ? [] : [{ kind: 'handoff', hash: fileHash }])),
        ...(row.fileHash === null ? [] : [{ kind: 'package' as const, hash: row.fileHash }]),
      ];
    });
    await this.stored.release(files);
  }

  /** Where the archive lies. @throws DomainError 409 while it is not ready. */
  async archive(id: string): Promise<NamedFile> {
    const row = await this.find(id);
    if (row.state !== 'ready' || row.fileHash === null) throw notReady();
    return { path: this.files.pathOf('package', row.fileHash), name: row.fileName };
  }

  /** Where the file of a page lies. @throws DomainError 409 while it is not ready. */
  async file(id: string): Promise<NamedFile> {
    const row = await this.dataSource.manager.findOneBy(HandoffEntity, { id });
    if (row === null) throw notFound('hand-off');
    if (row.state !== 'ready' || row.fileHash === null) throw notReady();
    return { path: this.files.pathOf('handoff', row.fileHash), name: row.fileName };
  }

  private async find(id: string): Promise<PackageEntity> {
    const row = await this.dataSource.manager.findOneBy(PackageEntity, { id });
    if (row === null) throw notFound('hand-off');
    return row;
  }

  private view(row: PackageEntity, jobName: string, files: readonly HandoffEntity[]): PackageView {
    const { id, jobId, palette, problem, createdAt, fileName, sizeBytes, fileHash } = row;
    return {
      id,
      jobId,
      jobName,
      rule: JSON.parse(row.rule) as DeliveryRule,
      palette,
      // How it ended could not be recorded (a full disk, perhaps): nobody packs it any more.
      state: row.state === 'packing' && !this.runner.isRunning(id) ? 'failed' : row.state,
      progress: row.state === 'ready' ? 1 : this.runner.progressOf(id),
      problem,
      createdAt,
      fileName,
      sizeBytes,
      sha256: fileHash,
      files: files.map(fileView),
    };
  }
}

function fileView(row: HandoffEntity): HandoffView {
  const { id, pageId, pageRevision, state, problem, fileName, sizeBytes, fileHash, readBack } = row;
  return {
    id,
    pageId,
    pageRevision,
    state,
    problem,
    fileName,
    sizeBytes,
    sha256: fileHash,
    readBack: readBack === null ? null : (JSON.parse(readBack) as HandoffView['readBack']),
  };
}

function notReady(): DomainError {
  return new DomainError(
    409,
    'handoff-not-ready',
    'This hand-off is not ready to be downloaded. Wait until it is built, or build it again.',
  );
}
