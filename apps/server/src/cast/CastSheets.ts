import { applyEdits, checkCastEdit, type Json, type RecordEdit, type Records } from '@jumble/core';
import type { StepView } from '@jumble/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource, type EntityManager } from 'typeorm';
import {
  CastGroupEntity,
  CastPartEntity,
  DeliveryRuleEntity,
  JobEntity,
  PartAliasEntity,
  PartColourEntity,
  SceneEntity,
} from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { notFound } from '../errors/DomainError.ts';
import { appendStep, staleEdit } from '../history/stepLog.ts';
import { checkWhole } from './checkWhole.ts';
import { writeCastRecords } from './writeCastRecords.ts';

/** A cast sheet at a revision. */
export interface CastState {
  readonly revision: number;
  readonly records: Records;
}

/** Keeps cast sheets in their tables, with a log of their own. */
@Injectable()
export class CastSheets {
  private readonly listeners: ((jobId: string) => void)[] = [];

  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
  ) {}

  async load(jobId: string, manager?: EntityManager): Promise<CastState> {
    if (manager !== undefined) return readState(jobId, manager);
    // The tables are read one after the other: what was committed in between would give half of two revisions.
    for (;;) {
      const state = await readState(jobId, this.dataSource.manager);
      const job = await this.dataSource.manager.findOneBy(JobEntity, { id: jobId });
      if (job === null) throw notFound('job');
      if (job.castRevision === state.revision) return state;
    }
  }

  async nameOf(jobId: string): Promise<string> {
    const job = await this.dataSource.manager.findOneBy(JobEntity, { id: jobId });
    if (job === null) throw notFound('job');
    return job.name;
  }

  /**
   * Appends a change of the sheet.
   *
   * @throws TypeError or RangeError for an edit that breaks a rule; DomainError 409 when stale,
   *   422 when it would leave a part without its group or a colour without its part.
   */
  async append(jobId: string, baseRevision: number, label: string, edits: readonly RecordEdit[]): Promise<StepView> {
    for (const edit of edits) checkCastEdit(edit);
    const step = await this.queue.run((manager) =>
      this.appendIn(manager, jobId, baseRevision, { kind: 'do', ofSeq: null, label, edits }),
    );
    // How flats go out changes nothing about them.
    if (edits.some(({ key }) => !key.startsWith('delivery/'))) for (const listener of this.listeners) listener(jobId);
    return step;
  }

  /** Is told of every sheet that was changed by an edit, once that is stored. */
  onChanged(listener: (jobId: string) => void): void {
    this.listeners.push(listener);
  }

  /** Writes what a new job begins with. It is no step: nobody undoes it. */
  begin(manager: EntityManager, jobId: string, edits: readonly RecordEdit[]): Promise<void> {
    const { records } = applyEdits(new Map(), edits);
    return writeCastRecords(
      manager,
      jobId,
      records,
      edits.map((edit) => edit.key),
    );
  }

  async appendIn(
    manager: EntityManager,
    jobId: string,
    baseRevision: number | null,
    step: { kind: 'do' | 'undo' | 'redo'; ofSeq: number | null; label: string; edits: readonly RecordEdit[] },
  ): Promise<StepView> {
    const state = await this.load(jobId, manager);
    if (baseRevision !== null && baseRevision !== state.revision) {
      throw await staleEdit(manager, 'cast', jobId, baseRevision);
    }
    const { records, inverse } = applyEdits(state.records, step.edits);
    checkWhole(records);
    const revision = state.revision + 1;
    const view = await appendStep(manager, { scope: 'cast', scopeId: jobId, revision, inverse, ...step });
    await manager.update(JobEntity, { id: jobId }, { castRevision: revision });
    await writeCastRecords(
      manager,
      jobId,
      records,
      step.edits.map((edit) => edit.key),
    );
    return view;
  }
}

async function readState(jobId: string, manager: EntityManager): Promise<CastState> {
  const job = await manager.findOneBy(JobEntity, { id: jobId });
  if (job === null) throw notFound('job');
  const records = new Map<string, Json>();
  for (const { id, name, order, stack, kind } of await manager.findBy(CastGroupEntity, { jobId })) {
    records.set(`group/${id}`, {
      name,
      order,
      ...(stack === null ? {} : { stack }),
      ...(kind === null ? {} : { kind }),
    });
  }
  for (const { id, name, order } of await manager.findBy(SceneEntity, { jobId })) {
    records.set(`scene/${id}`, { name, order });
  }
  for (const one of await manager.findBy(CastPartEntity, { jobId })) {
    const { id, groupId, name, order, slot, empty, scratch, notes, stack, onPart, trap } = one;
    records.set(`part/${id}`, {
      groupId,
      name,
      order,
      slot,
      empty: empty === 1,
      ...(notes === null ? {} : { notes }),
      ...(stack === null ? {} : { stack }),
      ...(onPart === null ? {} : { on: onPart }),
      ...(trap === null ? {} : { trap: JSON.parse(trap) as Json }),
    });
    if (scratch !== null) records.set(`scratch/${id}`, scratch);
  }
  for (const { id, partId } of await manager.findBy(PartAliasEntity, { jobId })) records.set(`alias/${id}`, partId);
  for (const { id, rule } of await manager.findBy(DeliveryRuleEntity, { jobId }))
    records.set(`delivery/${id}`, JSON.parse(rule) as Json);
  // As plain rows: there may be tens of thousands, and an object of the mapper takes long to make.
  const colours = await manager
    .createQueryBuilder(PartColourEntity, 'colour')
    .select(['colour.sceneId AS scene', 'colour.partId AS part', 'colour.colour AS colour'])
    .where('colour.jobId = :jobId', { jobId })
    .getRawMany<{ scene: string; part: string; colour: string }>();
  for (const { scene, part, colour } of colours) records.set(`colour/${scene}/${part}`, colour);
  if (job.checks !== null) records.set('checks', JSON.parse(job.checks) as Json);
  if (job.holds !== null) records.set('holds', JSON.parse(job.holds) as Json);
  if (job.trap !== null) records.set('trap', JSON.parse(job.trap) as Json);
  if (job.palette === 'scratch') records.set('palette', 'scratch');
  return { revision: job.castRevision, records };
}
