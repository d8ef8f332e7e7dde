import { applyEdits, checkPageEdit, parseRecords, serialiseRecords, type RecordEdit, type Records } from '@jumble/core';
import type { StepView } from '@jumble/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource, type EntityManager } from 'typeorm';
import { PageEntity, PageSnapshotEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { notFound } from '../errors/DomainError.ts';
import { appendStep, staleEdit, stepsSince } from '../history/appendStep.ts';

/** A page document at a revision. */
export interface PageState {
  readonly revision: number;
  readonly records: Records;
}

/** A snapshot is written every so many revisions. */
const SNAPSHOT_EVERY = 40;
/** So many open documents are kept in memory. */
const CACHED = 16;

/** Loads page documents and appends to them. */
@Injectable()
export class PageDocuments {
  private readonly cache = new Map<string, PageState>();

  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
  ) {}

  async load(pageId: string, manager: EntityManager = this.dataSource.manager): Promise<PageState> {
    const page = await manager.findOneBy(PageEntity, { id: pageId });
    if (page === null) throw notFound('page');
    const cached = this.cache.get(pageId);
    if (cached?.revision === page.revision) return cached;
    const snapshot = await manager.findOneBy(PageSnapshotEntity, { pageId });
    let records: Records = snapshot === null ? new Map() : parseRecords(snapshot.records);
    let revision = snapshot?.revision ?? 0;
    for (const step of await stepsSince(manager, 'page', pageId, revision)) {
      records = applyEdits(records, step.edits).records;
      revision = step.revision;
    }
    return this.keep(pageId, { revision, records });
  }

  /**
   * Appends a gesture of the flatter.
   *
   * @throws TypeError or RangeError for an edit that breaks a rule; DomainError 409 when stale.
   */
  append(pageId: string, baseRevision: number, label: string, edits: readonly RecordEdit[]): Promise<StepView> {
    for (const edit of edits) checkPageEdit(edit);
    return this.queue.run((manager) =>
      this.appendIn(manager, pageId, baseRevision, { kind: 'do', ofSeq: null, label, edits }),
    );
  }

  /** The same inside a transaction that is open already. */
  async appendIn(
    manager: EntityManager,
    pageId: string,
    baseRevision: number | null,
    step: { kind: 'do' | 'undo' | 'redo'; ofSeq: number | null; label: string; edits: readonly RecordEdit[] },
  ): Promise<StepView> {
    const state = await this.load(pageId, manager);
    if (baseRevision !== null && baseRevision !== state.revision) {
      throw await staleEdit(manager, 'page', pageId, baseRevision);
    }
    const { records, inverse } = applyEdits(state.records, step.edits);
    const revision = state.revision + 1;
    const view = await appendStep(manager, { scope: 'page', scopeId: pageId, revision, inverse, ...step });
    await manager.update(PageEntity, { id: pageId }, { revision });
    if (revision % SNAPSHOT_EVERY === 0) {
      await manager.save(PageSnapshotEntity, { pageId, revision, records: serialiseRecords(records) });
    }
    return view;
  }

  private keep(pageId: string, state: PageState): PageState {
    this.cache.delete(pageId);
    this.cache.set(pageId, state);
    if (this.cache.size > CACHED) this.cache.delete(this.cache.keys().next().value!);
    return state;
  }
}
