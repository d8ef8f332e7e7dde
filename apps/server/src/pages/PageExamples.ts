import type { ExamplePage } from '@jumble/core';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { CastSheets } from '../cast/CastSheets.ts';
import { PageEntity } from '../database/entities.ts';
import { notFound } from '../errors/DomainError.ts';
import { FILE_STORE, type FileStore } from '../storage/FileStore.ts';
import { WorkerPool } from '../workers/WorkerPool.ts';
import { PageDocuments } from './PageDocuments.ts';
import { pageInput } from './pageInput.ts';

/** A page is an example for others once so many of its regions have a part. */
const DONE_SHARE = 0.9;
/** The nearest pages say most: more are not asked. */
const MOST_PAGES = 6;

/** Describes the done pages of a job, so that parts can be proposed for another page. */
@Injectable()
export class PageExamples {
  /** What was described before, by page; the key says of which state. */
  private readonly known = new Map<string, { readonly key: string; readonly example: ExamplePage }>();

  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(PageDocuments) private readonly documents: PageDocuments,
    @Inject(CastSheets) private readonly sheets: CastSheets,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(FILE_STORE) private readonly files: FileStore,
  ) {}

  /** The done pages nearest to one in its job, that one left out. */
  async near(pageId: string): Promise<ExamplePage[]> {
    const { manager } = this.dataSource;
    const page = await manager.findOneBy(PageEntity, { id: pageId });
    if (page === null) throw notFound('page');
    const pages = await manager.findBy(PageEntity, { jobId: page.jobId });
    const done = pages
      .filter((one) => one.id !== pageId && one.regionCount > 0 && one.filledCount >= DONE_SHARE * one.regionCount)
      .sort((a, b) => Math.abs(a.position - page.position) - Math.abs(b.position - page.position))
      .slice(0, MOST_PAGES);
    const examples: ExamplePage[] = [];
    for (const one of done) examples.push(await this.describe(one));
    return examples;
  }

  private async describe(page: PageEntity): Promise<ExamplePage> {
    const document = await this.documents.load(page.id);
    const cast = await this.sheets.load(page.jobId);
    const key = `${page.greyHash} ${document.revision} ${cast.revision}`;
    const known = this.known.get(page.id);
    if (known?.key === key) return known.example;
    const input = pageInput(page, document.records, cast.records, this.files);
    const example = await this.pool.run({ kind: 'example', ...input });
    this.known.set(page.id, { key, example });
    return example;
  }
}
