import { applyEdits, checkPageEdit, parseRecords, serialiseRecords, type RecordEdit, type Records } from '@jumble/core';
import type { StepView } from '@jumble/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource, type EntityManager } from 'typeorm';
import { PageEntity, PageSnapshotEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { notFound } from '../errors/DomainError.ts';
import { appendStep, staleEdit, stepsSince } from '../history/stepLog.ts';

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

  async load(pageId: string, manager?: EntityManager): Promise<PageState> {
    const from = manager ?? this.dataSource.manager;
    const page = await from.findOneBy(PageEntity, { id: pageId });
    if (page === null) throw notFound('page');
    const start = this.cache.get(pageId) ?? (await this.snapshot(from, pageId));
    let { records, revision } = start;
    if (revision === page.revision) return start;
    for (const step of await stepsSince(from, 'page', pageId, revision)) {
      records = applyEdits(records, step.edits).records;
      revision = step.revision;
    }
    const state = { revision, records };
    // What a transaction sees may be rolled back: only what is committed is kept.
    if (manager === undefined) this.keep(pageId, state);
    return state;
  }

  private async snapshot(manager: EntityManager, pageId: string): Promise<PageState> {
    const snapshot = await manager.findOneBy(PageSnapshotEntity, { pageId });
    if (snapshot === null) return { revision: 0, records: new Map() };
    return { revision: snapshot.revision, records: parseRecords(snapshot.records) };
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
      await manager.upsert(PageSnapshotEntity, { pageId, revision, records: serialiseRecords(records) }, ['pageId']);
    }
    return view;
  }

  private keep(pageId: string, state: PageState): void {
    this.cache.delete(pageId);
    this.cache.set(pageId, state);
    if (this.cache.size > CACHED) this.cache.delete(this.cache.keys().next().value!);
  }
}
