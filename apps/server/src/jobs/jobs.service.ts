import { randomUUID } from 'node:crypto';
import type { CreateJobDto, JobView, UpdateJobDto } from '@jumble/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { CastSheets } from '../cast/CastSheets.ts';
import { starterSheet } from '../cast/starterSheet.ts';
import {
  ForeignCheckEntity,
  JobEntity,
  PackageEntity,
  PageEntity,
  ProfileEntity,
  ReferencePictureEntity,
  StepEntity,
} from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { notFound } from '../errors/DomainError.ts';
import { pageView } from '../pages/pageView.ts';
import { PagesService } from '../pages/pages.service.ts';
import type { FileName } from '../storage/FileStore.ts';
import { filesOfForeign } from '../exchange/ForeignChecks.ts';
import { StoredFiles } from '../storage/StoredFiles.ts';

@Injectable()
export class JobsService {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
    @Inject(CastSheets) private readonly sheets: CastSheets,
    @Inject(PagesService) private readonly pages: PagesService,
    @Inject(StoredFiles) private readonly stored: StoredFiles,
  ) {}

  async list(): Promise<JobView[]> {
    const jobs = await this.dataSource.manager.find(JobEntity, {
      relations: { pages: true },
      order: { createdAt: 'DESC' },
    });
    return jobs.map(jobView);
  }

  async find(id: string): Promise<JobView> {
    const job = await this.dataSource.manager.findOne(JobEntity, { where: { id }, relations: { pages: true } });
    if (job === null) throw notFound('job');
    return jobView(job);
  }

  async create(body: CreateJobDto): Promise<JobView> {
    const id = randomUUID();
    await this.queue.run(async (manager) => {
      await manager.insert(JobEntity, {
        id,
        name: body.name.trim(),
        dueOn: body.dueOn ?? null,
        createdAt: new Date().toISOString(),
      });
      await this.sheets.begin(manager, id, starterSheet());
    });
    return this.find(id);
  }

  async update(id: string, body: UpdateJobDto): Promise<JobView> {
    await this.queue.run(async (manager) => {
      const job = await manager.findOneBy(JobEntity, { id });
      if (job === null) throw notFound('job');
      await manager.update(
        JobEntity,
        { id },
        {
          name: body.name === undefined ? job.name : body.name.trim(),
          dueOn: body.dueOn === undefined ? job.dueOn : body.dueOn,
          ...(body.trim === undefined ? {} : { trim: body.trim === null ? null : JSON.stringify(body.trim) }),
        },
      );
    });
    return this.find(id);
  }

  async remove(id: string): Promise<void> {
    const files = await this.queue.run(async (manager) => {
      if (!(await manager.existsBy(JobEntity, { id }))) throw notFound('job');
      const pictures = await manager.findBy(ReferencePictureEntity, { jobId: id });
      const profiles = await manager.findBy(ProfileEntity, { jobId: id });
      const foreign = await manager.findBy(ForeignCheckEntity, { jobId: id });
      const packages = await manager.findBy(PackageEntity, { jobId: id });
      const ofPages = await this.pages.removePages(manager, await manager.findBy(PageEntity, { jobId: id }));
      await manager.delete(StepEntity, { scope: 'cast', scopeId: id });
      await manager.delete(JobEntity, { id });
      return [
        ...ofPages,
        ...pictures.map(({ fileHash }): FileName => ({ kind: 'reference', hash: fileHash })),
        ...profiles.map(({ fileHash }): FileName => ({ kind: 'profile', hash: fileHash })),
        ...foreign.flatMap(filesOfForeign),
        ...packages.flatMap(({ fileHash }): FileName[] =>
          fileHash === null ? [] : [{ kind: 'package', hash: fileHash }],
        ),
      ];
    });
    await this.stored.release(files);
  }
}

function jobView(job: JobEntity): JobView {
  return {
    id: job.id,
    name: job.name,
    dueOn: job.dueOn,
    createdAt: job.createdAt,
    trim: job.trim === null ? null : (JSON.parse(job.trim) as JobView['trim']),
    pages: [...job.pages].sort((a, b) => a.position - b.position).map(pageView),
  };
}
